import { useMemo, useRef, useState } from "react";
import type { GapReport, Point } from "../../api/client";
import type { Tool } from "../../picture/PictureView";
import { stroke } from "./strokeClosings";

const SNAP_WIDTHS = 2.5;
const STEP_PX = 2;
const MOST_POINTS = 1500;

/** A closing drawn by hand: its ends snap to the ends of lines. */
export function useDrawnClosing(report: GapReport | undefined, make: (points: Point[]) => void) {
  const [points, setPoints] = useState<Point[]>([]);
  const going = useRef<Point[]>([]);
  const made = useRef(make);
  made.current = make;
  const tool = useMemo<Tool>(() => {
    const snap = (p: Point): Point => {
      const reach = SNAP_WIDTHS * Math.max(4, report?.line_width ?? 4);
      let [best, least]: [Point, number] = [p, reach];
      for (const tip of report?.tips ?? []) {
        const [x, y] = tip as Point;
        const off = Math.hypot(x - p[0], y - p[1]);
        if (off < least) [best, least] = [[x, y], off];
      }
      return best;
    };
    const put = (next: Point[]) => {
      going.current = next;
      setPoints(next);
    };
    return {
      cursor: "crosshair",
      down: (x, y) => put([snap([x, y])]),
      move: (x, y) => {
        const now = going.current;
        const last = now.at(-1);
        if (last && now.length < MOST_POINTS && Math.hypot(x - last[0], y - last[1]) >= STEP_PX) put([...now, [x, y]]);
      },
      up: (x, y) => {
        const now = going.current;
        put([]);
        if (now.length > 1) made.current([...now, snap([x, y])]);
      },
      cancel: () => put([]),
    };
  }, [report]);
  const paint = (ctx: CanvasRenderingContext2D, zoom: number) => {
    if (points.length < 2) return;
    ctx.strokeStyle = "#c8323c";
    ctx.lineWidth = 2.5 / zoom;
    stroke(ctx, points);
  };
  return { tool, paint };
}
