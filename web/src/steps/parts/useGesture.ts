import { useMemo, useRef, useState } from "react";
import type { Gesture, Point } from "../../api/client";
import type { Tool } from "../../picture/PictureView";

const STEP_PX = 2;
const MOST_POINTS = 1500;
const THREAD = "#ffffff";

/** A stroke on the cut, drawn as it goes; a click where the gesture is one. */
export function useGesture(gesture: Gesture | null, make: (stroke: Point[]) => Promise<unknown>) {
  const [points, setPoints] = useState<Point[]>([]);
  const going = useRef<Point[]>([]);
  const made = useRef(make);
  made.current = make;
  const tool = useMemo<Tool | null>(() => {
    if (!gesture) return null;
    const put = (next: Point[]) => {
      going.current = next;
      setPoints(next);
    };
    return {
      cursor: "crosshair",
      down: (x, y) => put([[x, y]]),
      move: (x, y) => {
        const last = going.current.at(-1);
        if (gesture === "share out" || !last || going.current.length >= MOST_POINTS) return;
        if (Math.hypot(x - last[0], y - last[1]) >= STEP_PX) put([...going.current, [x, y]]);
      },
      up: () => {
        const done = going.current;
        going.current = [];
        if (done.length > 1 || (gesture === "share out" && done.length === 1)) void
          made.current(done).then(() => setPoints([]));
        else setPoints([]);
      },
      cancel: () => put([]),
    };
  }, [gesture]);
  const paint = (ctx: CanvasRenderingContext2D, zoom: number) => {
    const [first] = points;
    if (!first) return;
    ctx.lineCap = "round";
    for (const [style, width] of [["rgba(20,20,22,.8)", 5], [THREAD, 2.5]] as const) {
      ctx.strokeStyle = style;
      ctx.lineWidth = width / zoom;
      ctx.beginPath();
      ctx.moveTo(...first);
      for (const point of points) ctx.lineTo(...point);
      if (points.length === 1) ctx.arc(...first, 5 / zoom, 0, 2 * Math.PI);
      ctx.stroke();
    }
  };
  return { tool, paint };
}
