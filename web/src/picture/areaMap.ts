import { useQuery } from "@tanstack/react-query";
import { fetchBitmap, type Piece } from "../api/client";

/** Area numbers by pixel, at a size that is quick to read under the pointer. */
export interface AreaMap {
  width: number;
  height: number;
  numbers: Uint16Array;
  /** Map pixels per picture pixel. */
  scale: number;
}

export function useAreaMap(piece: Piece): AreaMap | undefined {
  return useQuery({
    queryKey: ["areas", piece.id, piece.rests.areas],
    queryFn: async () => unpack(await fetchBitmap(`/api/pieces/${piece.id}/areas.png`), piece.width),
    staleTime: Infinity,
  }).data;
}

function unpack(bitmap: ImageBitmap, pictureWidth: number): AreaMap {
  const { width, height } = bitmap;
  const ctx = new OffscreenCanvas(width, height).getContext("2d", { willReadFrequently: true });
  if (!ctx) throw new Error("no canvas");
  ctx.drawImage(bitmap, 0, 0);
  const { data } = ctx.getImageData(0, 0, width, height);
  const numbers = new Uint16Array(width * height);
  for (let i = 0; i < numbers.length; i++) numbers[i] = (data[4 * i] ?? 0) | ((data[4 * i + 1] ?? 0) << 8);
  return { width, height, numbers, scale: width / pictureWidth };
}

export function areaAt(map: AreaMap, x: number, y: number): number {
  const [i, j] = [Math.floor(x * map.scale), Math.floor(y * map.scale)];
  if (i < 0 || j < 0 || i >= map.width || j >= map.height) return 0;
  return map.numbers[j * map.width + i] ?? 0;
}

/** Areas under a line between two points, so that a quick sweep misses none. */
export function areasBetween(map: AreaMap, from: [number, number], to: [number, number]): Set<number> {
  const steps = Math.max(1, Math.ceil(Math.hypot(to[0] - from[0], to[1] - from[1]) * map.scale));
  const found = new Set<number>();
  for (let k = 0; k <= steps; k++) {
    const t = k / steps;
    const area = areaAt(map, from[0] + t * (to[0] - from[0]), from[1] + t * (to[1] - from[1]));
    if (area) found.add(area);
  }
  return found;
}

/** A see-through picture in which the given areas are filled with one colour. */
export function tintAreas(map: AreaMap, areas: Set<number>, rgba: [number, number, number, number]): OffscreenCanvas {
  const canvas = new OffscreenCanvas(map.width, map.height);
  const ctx = canvas.getContext("2d");
  if (!ctx || areas.size === 0) return canvas;
  const wanted = new Uint8Array(65536);
  for (const area of areas) wanted[area] = 1;
  const image = ctx.createImageData(map.width, map.height);
  const pixels = new Uint32Array(image.data.buffer);
  const [r, g, b, a] = rgba;
  const colour = (r | (g << 8) | (b << 16) | (a << 24)) >>> 0;
  for (let i = 0; i < pixels.length; i++) if (wanted[map.numbers[i] ?? 0]) pixels[i] = colour;
  ctx.putImageData(image, 0, 0);
  return canvas;
}
