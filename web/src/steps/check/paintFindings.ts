import type { Finding } from "../../api/client";
import { middleOf } from "../../api/checks";

const CASING = "rgba(20,20,22,.85)";
const LIT = "#ff8a5c";

/** Where a finding is, on the picture: its marks, and a seam around its box. */
export function paintFinding(ctx: CanvasRenderingContext2D, { box, marks }: Finding, zoom: number): void {
  ctx.lineCap = ctx.lineJoin = "round";
  for (const [style, width, dot] of [[CASING, 5, 4.5], [LIT, 2.5, 3]] as const) {
    ctx.strokeStyle = ctx.fillStyle = style;
    ctx.lineWidth = width / zoom;
    for (const points of marks) {
      const [first] = points;
      if (!first) continue;
      ctx.beginPath();
      if (points.length === 1) {
        ctx.arc(first[0], first[1], dot / zoom, 0, 2 * Math.PI);
        ctx.fill();
      } else {
        ctx.moveTo(...first);
        for (const [x, y] of points.slice(1)) ctx.lineTo(x, y);
        ctx.stroke();
      }
    }
  }
  if (!box) return;
  const margin = 8 / zoom;
  const [x, y, w, h] = [box[0] - margin, box[1] - margin, box[2] + 2 * margin, box[3] + 2 * margin];
  for (const [style, width, dash] of [[CASING, 4, []], ["#ffffff", 2, [7 / zoom, 6 / zoom]]] as const) {
    ctx.strokeStyle = style;
    ctx.lineWidth = width / zoom;
    ctx.setLineDash([...dash]);
    ctx.strokeRect(x, y, w, h);
  }
  ctx.setLineDash([]);
}

/** A ring where each of the others is. */
export function paintPlaces(ctx: CanvasRenderingContext2D, findings: readonly Finding[], zoom: number): void {
  for (const finding of findings) {
    const at = middleOf(finding);
    if (!at) continue;
    for (const [style, width] of [[CASING, 4], ["#ffffff", 1.75]] as const) {
      ctx.strokeStyle = style;
      ctx.lineWidth = width / zoom;
      ctx.beginPath();
      ctx.arc(at[0], at[1], 7 / zoom, 0, 2 * Math.PI);
      ctx.stroke();
    }
  }
}

/** The finding whose place is nearest to a point, if any is near. */
export function nearest(findings: readonly Finding[], x: number, y: number, reach: number): Finding | null {
  let best: [number, Finding] | null = null;
  for (const finding of findings) {
    const at = middleOf(finding);
    if (!at) continue;
    const away = Math.hypot(at[0] - x, at[1] - y);
    if (away < reach && (!best || away < best[0])) best = [away, finding];
  }
  return best?.[1] ?? null;
}
