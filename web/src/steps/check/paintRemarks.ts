import type { Point } from "../../api/client";
import type { Standing } from "../../api/review";

const [OPEN, DONE, DOT] = ["#a5262f", "#6d6d6d", 11];

/** Each remark's number where it is, and what was drawn. */
export function paintRemarks(ctx: CanvasRenderingContext2D, remarks: readonly Standing[], here: number | null,
  zoom: number): void {
  for (const [k, remark] of remarks.entries()) {
    const tone = remark.done ? DONE : OPEN;
    drawLine(ctx, remark.points as Point[], tone, zoom, remark.number === here);
    const [x, y] = remark.points[0] as Point;
    for (const [style, radius] of [["#ffffff", DOT + (remark.number === here ? 4 : 1.5)], [tone, DOT]] as const) {
      ctx.fillStyle = style;
      ctx.beginPath();
      ctx.arc(x, y, radius / zoom, 0, 2 * Math.PI);
      ctx.fill();
    }
    ctx.fillStyle = "#ffffff";
    ctx.font = `600 ${12 / zoom}px sans-serif`;
    [ctx.textAlign, ctx.textBaseline] = ["center", "middle"];
    ctx.fillText(String(k + 1), x, y);
  }
}

/** What is drawn now, or was. */
export function drawLine(ctx: CanvasRenderingContext2D, points: readonly Point[], tone: string, zoom: number,
  wide = false): void {
  const [first, ...rest] = points;
  if (!first || !rest.length) return;
  [ctx.lineCap, ctx.lineJoin] = ["round", "round"];
  for (const [style, width] of [["#ffffff", wide ? 7 : 5], [tone, 2.5]] as const) {
    ctx.strokeStyle = style;
    ctx.lineWidth = width / zoom;
    ctx.beginPath();
    ctx.moveTo(...first);
    for (const point of rest) ctx.lineTo(...point);
    ctx.stroke();
  }
}

/** The remark at a point: its pin, or what was drawn near it. */
export function remarkAt(remarks: readonly Standing[], x: number, y: number, reach: number): Standing | null {
  return remarks.find(({ points: [first] }) => first && Math.hypot(first[0] - x, first[1] - y) < reach) ?? null;
}
