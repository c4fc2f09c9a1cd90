import { useMemo, useRef, useState } from "react";
import type { Point } from "../api/client";
import type { Tool } from "./PictureView";

const STEP_PX = 2;
const MOST_POINTS = 1500;

export interface PenStroke {
  points: Point[];
  /** How hard the pen was pressed at every point, 0..1; a mouse presses by half. */
  pressures: number[];
}

const NONE: PenStroke = { points: [], pressures: [] };

/** A stroke of the pen, kept on screen until what it makes is there. */
export function usePen(made: (stroke: PenStroke) => Promise<unknown>, on = true) {
  const [stroke, setStroke] = useState<PenStroke>(NONE);
  const going = useRef<PenStroke>(NONE);
  const make = useRef(made);
  make.current = made;
  const tool = useMemo<Tool | null>(() => {
    if (!on) return null;
    const put = (next: PenStroke) => {
      going.current = next;
      setStroke(next);
    };
    const pressure = (e: PointerEvent) => (e.pointerType === "pen" ? e.pressure : 0.5);
    return {
      cursor: "crosshair",
      down: (x, y, e) => put({ points: [[x, y]], pressures: [pressure(e)] }),
      move: (x, y, e) => {
        const { points, pressures } = going.current;
        const last = points.at(-1);
        if (!last || points.length >= MOST_POINTS || Math.hypot(x - last[0], y - last[1]) < STEP_PX) return;
        put({ points: [...points, [x, y]], pressures: [...pressures, pressure(e)] });
      },
      up: () => {
        const done = going.current;
        going.current = NONE;
        if (done.points.length > 0) void make.current(done).then(() => setStroke(NONE));
      },
      cancel: () => put(NONE),
    };
  }, [on]);
  return { tool, stroke };
}

/** A pen's width at every point: as set where it is pressed by half, from a fifth of that to nearly twice. */
export const penWidths = (size: number, pressures: number[]):
  number[] => pressures.map((p) => Math.max(0.5, size * (0.2 + 1.6 * p)));

/** Draw a stroke or a closed outline, light on dark so that it shows on any colour. */
export function tracePoints(ctx: CanvasRenderingContext2D, points: Point[], zoom: number, closed = false): void {
  const [first, ...rest] = points;
  if (!first) return;
  [ctx.lineCap, ctx.lineJoin] = ["round", "round"];
  for (const [style, width] of [["rgba(20,20,22,.8)", 4.5], ["#ffffff", 2]] as const) {
    ctx.strokeStyle = style;
    ctx.lineWidth = width / zoom;
    ctx.beginPath();
    ctx.moveTo(...first);
    for (const point of rest) ctx.lineTo(...point);
    if (closed) ctx.closePath();
    ctx.stroke();
  }
}

/** Fill what a pen of changing width goes over. */
export function fillPen(ctx: CanvasRenderingContext2D, points: Point[], widths: number[], style: string): void {
  ctx.fillStyle = ctx.strokeStyle = style;
  ctx.lineCap = "round";
  points.forEach((point, k) => {
    const before = points[k - 1];
    const width = widths[k] ?? 1;
    if (!before) {
      ctx.beginPath();
      ctx.arc(...point, width / 2, 0, 2 * Math.PI);
      ctx.fill();
      return;
    }
    ctx.lineWidth = width;
    ctx.beginPath();
    ctx.moveTo(...before);
    ctx.lineTo(...point);
    ctx.stroke();
  });
}
