import { clampChroma, converter, formatHex, parse, type Oklch } from "culori";

const toOklch = converter("oklch");
const toHsv = converter("hsv");

export interface Lch { l: number; c: number; h: number }
export interface Hsb { h: number; s: number; b: number }

/** Reads hex and CSS colour names; null if it is neither. */
export function readColour(text: string): string | null {
  const t = text.trim();
  const colour = parse(t) ?? parse(`#${t}`);
  return colour ? formatHex(colour) : null;
}

export function lchOf(hex: string): Lch {
  const { l, c, h } = toOklch(hex) ?? { l: 0, c: 0, h: 0 };
  return { l, c, h: h ?? 0 };
}

/** The nearest colour of sRGB with this lightness and hue. */
export function hexOfLch({ l, c, h }: Lch): string {
  const colour: Oklch = { mode: "oklch", l, c, h };
  return formatHex(clampChroma(colour, "oklch")) ?? "#000000";
}

export function hsbOf(hex: string): Hsb {
  const { h, s, v } = toHsv(hex) ?? { h: 0, s: 0, v: 0 };
  return { h: h ?? 0, s, b: v };
}

export function hexOfHsb({ h, s, b }: Hsb): string {
  return formatHex({ mode: "hsv", h, s, v: b }) ?? "#000000";
}
