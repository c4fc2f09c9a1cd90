import type { InkShade, PassKey, Piece } from "../../api/client";

export const STYLES = [
  { value: "lines", label: "Lines" }, { value: "crossed", label: "Crossed" }, { value: "dots", label: "Dots" },
  { value: "stipple", label: "Stipple" }, { value: "solid", label: "Black" },
] as const satisfies readonly { value: InkShade["style"]; label: string }[];

export const FOLLOWS = [
  { value: "straight", label: "Straight" }, { value: "across", label: "Across the form" },
  { value: "along", label: "Along it" },
] as const satisfies readonly { value: InkShade["follow"]; label: string }[];

/** A pass in ink to begin with, as fine as suits the size of the drawing. */
export function newShade(piece: Piece, name: PassKey): InkShade {
  const spacing = Math.max(4, Math.round(Math.max(piece.width, piece.height) / 160));
  return { name, parts: [], style: "crossed", angle: 60, spacing, tone: 0.5, pressure: 0.5, taper: 2,
    follow: "across", gap: 0.5, colour: null, instead: true };
}

/** How a pass is drawn, in a few words. */
export function sayShade(s: InkShade): string {
  const style = { lines: "as lines", crossed: "as crossed lines", dots: "as dots", stipple: "as stipple",
    solid: "in black" }[s.style];
  const lines = s.style === "lines" || s.style === "crossed";
  return lines && s.follow !== "straight" ? `${style} ${s.follow} the form` : style;
}
