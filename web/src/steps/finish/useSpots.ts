import { useState } from "react";
import type { Point } from "../../api/client";
import { tell } from "../../api/notice";
import { penWidths, usePen } from "../../picture/usePen";
import type { Spots } from "./finish";

const tenth = (v: number) => Math.round(v * 10) / 10;

/** Drawing the spots of a layer: an outline or the pen, adding or rubbing out. */
export function useSpots(shape: Spots | null, edge: number, onMake: (shape: Spots) => Promise<unknown>) {
  const [penned, setPenned] = useState(true);
  const [erases, setErases] = useState(false);
  const [size, setSize] = useState(() => Math.max(8, Math.round(edge / 40)));
  const { tool, stroke } = usePen(async ({ points, pressures }) => {
    if (!shape) return;
    if (!penned && points.length < 3) return tell("Draw round the place, or take the pen.");
    return onMake({
      ...shape, strokes: [...(shape.strokes ?? []), {
        points: points.map(([x, y]): Point => [tenth(x), tenth(y)]), widths: penned
          ? penWidths(size, pressures).map(tenth) : [], erases,
      }],
    });
  }, shape !== null);
  return { tool, stroke, penned, setPenned, erases, setErases, size, setSize };
}

export type SpotPen = ReturnType<typeof useSpots>;
