import type { LineStretch, Part } from "../../api/client";

export const stretchKey = (s: LineStretch) => `${s.part} ${s.beside}`;

/** What lines bound, in words. */
export function stretchName(s: LineStretch, parts: Part[]): string {
  const name = (id: string) => parts.find((p) => p.id === id)?.name ?? id;
  if (s.beside === "itself") return `inside ${name(s.part)}`;
  return `${name(s.part)} on ${s.beside === "ground" ? "the ground" : name(s.beside)}`;
}

/** The stretch that runs nearest to a place, if any is near enough. */
export function nearestStretch(stretches: LineStretch[], x: number, y: number, reach: number): string | null {
  let [found, nearest]: [string | null, number] = [null, reach];
  for (const s of stretches) {
    for (const [px, py] of s.places) {
      const away = Math.hypot(px - x, py - y);
      if (away < nearest) [found, nearest] = [stretchKey(s), away];
    }
  }
  return found;
}

/** Beads along a line: rings that are seen on any colour. */
export function drawBeads(ctx: CanvasRenderingContext2D, s: LineStretch, zoom: number, lit: boolean): void {
  for (const [x, y] of s.places) {
    for (const [width, colour] of [[4, "#ffffff"], [2, lit ? "#1b1b1b" : "#a5262f"]] as const) {
      ctx.beginPath();
      ctx.arc(x, y, (lit ? 7 : 5) / zoom, 0, 2 * Math.PI);
      ctx.lineWidth = width / zoom;
      ctx.strokeStyle = colour;
      ctx.stroke();
    }
  }
}
