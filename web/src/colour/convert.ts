import { clampRgb, converter, displayable, formatHex, parse, toGamut, type Color, type Oklch } from "culori";

const toOklch = converter("oklch");
const toHsv = converter("hsv");
const mapped = toGamut("rgb", "oklch");
const toRgb = converter("rgb");
const ROUNDING = 0.5 / 255;

/** Brought into sRGB; colours on its border that rounding puts outside are left as they are. */
function intoSrgb(colour: Color): Color {
  const { r, g, b } = toRgb(colour);
  const outside = Math.max(-r, -g, -b, r - 1, g - 1, b - 1);
  return outside < ROUNDING ? clampRgb(colour) : mapped(colour);
}

const toLab = converter("lab65");

export interface Lch { l: number; c: number; h: number }
export interface Hsb { h: number; s: number; b: number }

const HSB = /^hs[bv]\(?\s*([\d.]+)(?:deg|°)?[\s,]+([\d.]+)%?[\s,]+([\d.]+)%?\s*\)?$/i;

/** Reads hex, CSS colours (names, oklch(), hsl() and the like) and hsb(h s% b%); null if it is none. */
export function readColour(text: string): string | null {
  const t = text.trim();
  const [, h, s, b] = HSB.exec(t) ?? [];
  if (h && s && b) return hexOfHsb({ h: Number(h) % 360, s: Math.min(1, Number(s) / 100),
    b: Math.min(1, Number(b) / 100) });
  const colour = parse(t) ?? parse(`#${t}`);
  if (!colour) return null;
  return formatHex(displayable(colour) ? colour : intoSrgb(colour));
}

export function lchOf(hex: string): Lch {
  const { l, c, h } = toOklch(hex) ?? { l: 0, c: 0, h: 0 };
  return { l, c, h: h ?? 0 };
}

/** The nearest colour of sRGB, as CSS Color Module Level 4 maps it. */
export function hexOfLch({ l, c, h }: Lch): string {
  const colour: Oklch = { mode: "oklch", l, c, h };
  return formatHex(intoSrgb(colour)) ?? "#000000";
}

export function hsbOf(hex: string): Hsb {
  const { h, s, v } = toHsv(hex) ?? { h: 0, s: 0, v: 0 };
  return { h: h ?? 0, s, b: v };
}

export function hexOfHsb({ h, s, b }: Hsb): string {
  return formatHex({ mode: "hsv", h, s, v: b }) ?? "#000000";
}

/** CIE L*, 0..100. */
export function lightnessOf(hex: string): number {
  return toLab(hex)?.l ?? 0;
}
