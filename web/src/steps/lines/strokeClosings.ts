import type { Gap, Recipe } from "../../api/client";

type Closings = NonNullable<Recipe["closings"]>;

const THREAD = "#c8323c";

/** Closings as seams; the gap pointed at with the closing it would get and both of its banks. */
export function strokeClosings(ctx: CanvasRenderingContext2D, zoom: number, closings: Closings, pointed: Gap | null):
  void {
  ctx.lineCap = "round";
  ctx.strokeStyle = THREAD;
  ctx.lineWidth = 2.5 / zoom;
  ctx.setLineDash([5 / zoom, 4 / zoom]);
  for (const closing of closings) stroke(ctx, closing.points as [number, number][]);
  if (pointed?.state === "undecided") {
    stroke(ctx, pointed.curve);
    ctx.fillStyle = THREAD;
    for (const [x, y] of pointed.ends) {
      ctx.beginPath();
      ctx.arc(x, y, 3.5 / zoom, 0, 2 * Math.PI);
      ctx.fill();
    }
  }
  ctx.setLineDash([]);
}

/** Closings that are offered: as seams with wide stitches. */
export function strokeOffer(ctx: CanvasRenderingContext2D, zoom: number, closings: [number, number][][]): void {
  ctx.lineCap = "round";
  ctx.strokeStyle = THREAD;
  ctx.lineWidth = 3 / zoom;
  ctx.setLineDash([2 / zoom, 7 / zoom]);
  for (const points of closings) stroke(ctx, points);
  ctx.setLineDash([]);
}

export function stroke(ctx: CanvasRenderingContext2D, points: [number, number][]): void {
  ctx.beginPath();
  points.forEach(([x, y], k) => (k ? ctx.lineTo(x, y) : ctx.moveTo(x, y)));
  ctx.stroke();
}
