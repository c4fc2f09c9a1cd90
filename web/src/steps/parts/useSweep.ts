import { useMemo, useRef, useState } from "react";
import type { AreaInfo, Cut, Edit } from "../../api/client";
import { tell } from "../../api/notice";
import type { Tool } from "../../picture/PictureView";
import { areaAt, areasBetween, tintAreas, type AreaMap } from "./areaMap";

export type Act = "claim" | "ground";

type Target = "none" | "ground" | "figure" | string;

interface Sweep {
  to: Target;
  areas: Set<number>;
  last: [number, number];
}

const GIVE: [number, number, number, number] = [255, 255, 255, 210];
const TAKE: [number, number, number, number] = [20, 20, 22, 220];
const HOVER: [number, number, number, number] = [255, 255, 255, 90];

/** Click or sweep over areas: they light up at once, and become one edit at the end. */
export function useSweep(map: AreaMap | undefined, cut: Cut | undefined, part: string | null, act: Act, make: (edit: Edit) => Promise<unknown>) {
  const [hover, setHover] = useState(0);
  const [sweep, setSweep] = useState<Sweep | null>(null);
  const going = useRef<Sweep | null>(null);
  const byNumber = useMemo(() => new Map((cut?.areas ?? []).map((a) => [a.area, a])), [cut]);

  const tool = useMemo<Tool | null>(() => {
    if (!map) return null;
    const takes = (area: AreaInfo | undefined, to: Target) => {
      if (!area) return false;
      if (to === "ground") return !area.ground;
      if (to === "figure") return area.ground;
      if (to === "none") return area.part === part;
      return !area.ground && area.part !== to;
    };
    const add = (now: Sweep, found: Iterable<number>) => {
      const areas = new Set(now.areas);
      for (const area of found) if (takes(byNumber.get(area), now.to)) areas.add(area);
      return areas;
    };
    const put = (next: Sweep | null) => {
      going.current = next;
      setSweep(next);
    };
    return {
      cursor: "crosshair",
      down: (x, y) => {
        const first = byNumber.get(areaAt(map, x, y));
        if (!first) return;
        let to: Target;
        if (act === "ground") to = first.ground ? "figure" : "ground";
        else if (!part) return tell("Select or make a part first.");
        else if (first.ground) return tell("This is ground. Switch to “Mark ground” (D) to make it part of the figure.");
        else to = first.part === part ? "none" : part;
        const start: Sweep = { to, areas: new Set(), last: [x, y] };
        put({ ...start, areas: add(start, [first.area]) });
      },
      move: (x, y) => {
        setHover(areaAt(map, x, y));
        const now = going.current;
        if (now) put({ ...now, areas: add(now, areasBetween(map, now.last, [x, y])), last: [x, y] });
      },
      up: () => {
        const done = going.current;
        going.current = null;
        if (!done || done.areas.size === 0) return setSweep(null);
        const strokes = [...done.areas].flatMap((n): [[number, number]][] => {
          const area = byNumber.get(n);
          return area ? [[[area.x, area.y]]] : [];
        });
        void make({ kind: "claim_areas", to: done.to, strokes } as Edit).then(() => setSweep(null));
      },
      leave: () => setHover(0),
      cancel: () => put(null),
    };
  }, [map, byNumber, part, act, make]);

  const areas = sweep?.areas;
  const taking = sweep?.to === "none" || sweep?.to === "ground";
  const tint = useMemo(() => {
    if (!map) return null;
    if (areas) return tintAreas(map, areas, taking ? TAKE : GIVE);
    return hover ? tintAreas(map, new Set([hover]), HOVER) : null;
  }, [map, areas, taking, hover]);

  /** The keyboard's pointer: step to the next area in reading order, or act on the one shown. */
  const stepTo = (by: number) => {
    const order = [...byNumber.values()].sort((a, b) => a.y - b.y || a.x - b.x);
    const at = order.findIndex((a) => a.area === hover);
    const next = order[at < 0 ? 0 : (at + by + order.length) % order.length];
    if (next) setHover(next.area);
  };
  const press = () => {
    const area = byNumber.get(hover);
    if (!area || !tool) return;
    const none = new PointerEvent("pointerdown");
    tool.down?.(area.x, area.y, none);
    tool.up?.(area.x, area.y, none);
  };
  return { tool, tint, stepTo, press, hovered: byNumber.get(hover) ?? null };
}
