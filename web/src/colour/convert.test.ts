import { describe, expect, it } from "vitest";
import { hexOfHsb, hexOfLch, hsbOf, lchOf, lightnessOf, readColour } from "./convert";

const HEXES = Array.from({ length: 343 },
  (_, k) => {
    const levels = [k % 7, Math.floor(k / 7) % 7, Math.floor(k / 49)].map((v) => Math.round(v * 42.5));
    return `#${levels.map((level) => level.toString(16).padStart(2, "0")).join("")}`;
  });

describe("colours typed in", () => {
  it.each([
    ["#a5262f", "#a5262f"],
    ["A5262F", "#a5262f"],
    ["fa0", "#ffaa00"],
    // CSS Color Module Level 4, section 6.1: named colours.
    ["rebeccapurple", "#663399"],
    ["  DarkSlateGrey ", "#2f4f4f"],
    // CSS Color Module Level 4, example 17: hsl().
    ["hsl(120 100% 25%)", "#008000"],
    ["hsl(120deg, 75%, 75%)", "#8fef8f"],
    // CSS Color Module Level 4, section 8: hwb().
    ["hwb(150 20% 10%)", "#33e68c"],
    ["hsb(280 40% 45%)", "#634573"],
    ["hsv(0, 100, 100)", "#ff0000"],
    ["HSB(210° 50% 80%)", "#6699cc"],
    ["hsb(30 150% 100%)", "#ff8000"],
  ])("%s is %s", (text, hex) => expect(readColour(text)).toBe(hex));

  it.each(["", "no colour", "#12345", "hsb(10)", "rgb(", "12"])("“%s” is none",
    (text) => expect(readColour(text)).toBeNull());

  it("outside of sRGB are brought in without a turn of hue", () => {
    // CSS Color Module Level 4, section 13.2: gamut mapping keeps hue and lightness, and takes chroma away.
    for (let h = 0; h < 360; h += 15) {
      const wished = { l: 0.7, c: 0.4, h };
      const got = lchOf(hexOfLch(wished));
      expect(Math.abs(got.l - wished.l)).toBeLessThan(0.03);
      expect(got.c).toBeLessThan(0.4);
      const turn = Math.abs(((got.h - h + 540) % 360) - 180);
      expect(turn * got.c).toBeLessThan(2);
    }
  });
});

describe("the same colour told in another way", () => {
  it("comes back as it was", () => {
    for (const hex of HEXES) {
      expect(hexOfLch(lchOf(hex))).toBe(hex);
      expect(hexOfHsb(hsbOf(hex))).toBe(hex);
    }
  });

  it("has the hue, saturation and brightness of A. R. Smith, Color Gamut Transform Pairs, 1978", () => {
    for (const hex of HEXES) {
      const rgb = [1, 3, 5].map((at) => parseInt(hex.slice(at, at + 2), 16) / 255) as [number, number, number];
      const [most, least] = [Math.max(...rgb), Math.min(...rgb)];
      const { h, s, b } = hsbOf(hex);
      expect(b).toBeCloseTo(most, 9);
      expect(s).toBeCloseTo(most === 0 ? 0 : (most - least) / most, 9);
      if (most === least) continue;
      const [r, g, bl] = rgb;
      const sextant = most === r ? ((g - bl) / (most - least) + 6) % 6 : most === g ? (bl - r) / (most - least) + 2
        : (r - g) / (most - least) + 4;
      expect(h).toBeCloseTo(60 * sextant, 6);
    }
  });
});

describe("lightness", () => {
  // L* = 116 f(Y) - 16 (CIE 15:2004), Y of sRGB by IEC 61966-2-1.
  const ofGrey = (level: number) => {
    const y = level / 255 <= 0.04045 ? level / 255 / 12.92 : ((level / 255 + 0.055) / 1.055) ** 2.4;
    return y > (6 / 29) ** 3 ? 116 * Math.cbrt(y) - 16 : (29 / 3) ** 3 * y;
  };
  it("of greys follows the CIE's formula", () => {
    for (let level = 0; level < 256; level += 5) {
      const two = level.toString(16).padStart(2, "0");
      expect(lightnessOf(`#${two}${two}${two}`)).toBeCloseTo(ofGrey(level), 2);
    }
  });
});
