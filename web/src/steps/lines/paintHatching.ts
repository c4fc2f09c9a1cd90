import type { HatchedPlace } from "../../api/client";

const THREAD = "#c8323c";
const VEIL = "rgba(200, 50, 60, 0.16)";

/** Where hatching lies: veiled where it is only printed, seamed around where it is pointed at. */
export function paintHatching(ctx: CanvasRenderingContext2D, zoom: number, families: HatchedPlace[],
  pointed: string | null): void {
  for (const family of families) {
    const outline = new Path2D();
    for (const points of family.outline) {
      points.forEach(([x, y], k) => (k ? outline.lineTo(x, y) : outline.moveTo(x, y)));
      outline.closePath();
    }
    if (!family.bounds) {
      ctx.fillStyle = VEIL;
      ctx.fill(outline);
    }
    const on = family.place.join(" ") === pointed;
    ctx.strokeStyle = THREAD;
    ctx.lineWidth = (on ? 3 : 1.25) / zoom;
    ctx.setLineDash([5 / zoom, 4 / zoom]);
    ctx.stroke(outline);
  }
  ctx.setLineDash([]);
}
