import type { Cut } from "./client";

/** Pixels of each part. */
export function partPixels(cut: Cut | undefined): Map<string, number> {
  const pixels = new Map<string, number>();
  for (const area of cut?.areas ?? []) if (area.part) pixels.set(area.part, (pixels.get(area.part) ?? 0) + area.pixels);
  return pixels;
}

/** A part's share of the silhouette, in per cent. */
export function partShare(cut: Cut | undefined, pixels: Map<string, number>, part: string): number {
  return cut?.silhouette_pixels ? (100 * (pixels.get(part) ?? 0)) / cut.silhouette_pixels : 0;
}

export const percent = (share: number): string => (share < 10 ? share.toFixed(1) : String(Math.round(share)));
