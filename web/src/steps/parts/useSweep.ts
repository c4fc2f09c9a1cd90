import { useEffect, useMemo, useRef, useState, type RefObject } from "react";
import type { AreaInfo, Cut, Edit } from "../../api/client";
import { tell } from "../../api/notice";
import type { Tool } from "../../picture/PictureView";
import { areaAt, areasBetween, tintAreas, type AreaMap } from "../../picture/areaMap";

type Act = "claim" | "ground";

type Target = "none" | "ground" | "figure" | string;

interface Sweep {
  to: Target;
  areas: Set<number>;
  last: [number, number];
  /** An outline drawn round areas, if that is how they are taken. */
  outline: [number, number][] | null;
}

const GIVE: [number, number, number, number] = [255, 255, 255, 210];
const TAKE: [number, number, number, number] = [20, 20, 22, 220];
const HOVER: [number, number, number, number] = [255, 255, 255, 90];

/** A sweep that was made before it was known what lies there. */
interface Early {
  points: [number, number][];
  event: PointerEvent;
  done: boolean;
}

const MOST_EARLY = 500;

function notingOnly(early: RefObject<Early | null>): Tool {
  return {
    cursor: "progress",
    down: (x, y, event) => { early.current = { points: [[x, y]], event, done: false }; },
    move: (x, y) => {
      const now = early.current;
      if (now && !now.done && now.points.length < MOST_EARLY) now.points.push([x, y]);
    },
    up: () => { if (early.current) early.current.done = true; },
    cancel: () => { early.current = null; },
  };
}

/** Whether a point lies inside a closed outline (even-odd rule). */
function inside([x, y]: [number, number], outline: [number, number][]): boolean {
  let within = false;
  outline.forEach(([ax, ay], k) => {
    const [bx, by] = outline.at(k - 1) ?? [ax, ay];
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) within = !within;
  });
  return within;
}

/** Click or sweep over areas, or with Shift draw round them: they light up at once, and become one edit at the end.
 *
 * @param scenery whether the part is scenery, which takes ground, too
 * @param ready whether the cut is that of the piece as it is: what is swept before is done as soon as it is
 */
export function useSweep(map: AreaMap | undefined, cut: Cut | undefined, part: string | null, act: Act,
  make: (edit: Edit) => Promise<unknown>, scenery = false, ready = true) {
  const [hover, setHover] = useState(0);
  const [sweep, setSweep] = useState<Sweep | null>(null);
  const going = useRef<Sweep | null>(null);
  const early = useRef<Early | null>(null);
  const byNumber = useMemo(() => new Map((cut?.areas ?? []).map((a) => [a.area, a])), [cut]);

  const tool = useMemo<Tool>(() => {
    if (!map || !ready) return notingOnly(early);
    const takes = (area: AreaInfo | undefined, to: Target) => {
      if (!area) return false;
      if (to === "ground") return !area.ground;
      if (to === "figure") return area.ground;
      if (to === "none") return area.part === part;
      return (scenery || !area.ground) && area.part !== to;
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
      down: (x, y, event) => {
        const first = byNumber.get(areaAt(map, x, y));
        if (event.shiftKey) {
          if (act === "claim" && !part) return tell("Select or make a part first.");
          return put({ to: act === "ground" ? "ground" : (part ?? "none"), areas: new Set(), last: [x, y],
            outline: [[x, y]] });
        }
        if (!first) return;
        let to: Target;
        if (act === "ground") to = first.ground ? "figure" : "ground";
        else if (!part) return tell("Select or make a part first.");
        else if (first.ground && !scenery)
          return tell("This is ground. Select a piece of scenery to give it, or switch to “Ground” (D) to make it "
            + "part of the figure.");
        else to = first.part === part ? "none" : part;
        const start: Sweep = { to, areas: new Set(), last: [x, y], outline: null };
        put({ ...start, areas: add(start, [first.area]) });
      },
      move: (x, y) => {
        setHover(areaAt(map, x, y));
        const now = going.current;
        if (now?.outline) {
          const outline: [number, number][] = [...now.outline, [x, y]];
          const found = [...byNumber.values()].filter((a) => inside([a.x, a.y], outline)).map((a) => a.area);
          put({ ...now, outline, areas: add({ ...now, areas: new Set() }, found) });
        } else if (now) put({ ...now, areas: add(now, areasBetween(map, now.last, [x, y])), last: [x, y] });
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
  }, [map, byNumber, part, act, make, scenery, ready]);

  useEffect(() => {
    const swept = early.current;
    if (!swept || !map || !ready) return;
    early.current = null;
    const [first, ...rest] = swept.points;
    if (!first) return;
    tool.down?.(...first, swept.event);
    for (const point of rest) tool.move?.(...point, swept.event);
    if (swept.done) tool.up?.(...(rest.at(-1) ?? first), swept.event);
  }, [tool, map, ready]);

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
    if (!area) return;
    const none = new PointerEvent("pointerdown");
    tool.down?.(area.x, area.y, none);
    tool.up?.(area.x, area.y, none);
  };
  const paint = (ctx: CanvasRenderingContext2D, zoom: number) => {
    const [first, ...rest] = sweep?.outline ?? [];
    if (!first) return;
    ctx.strokeStyle = "#ffffff";
    ctx.lineWidth = 2 / zoom;
    ctx.setLineDash([6 / zoom, 4 / zoom]);
    ctx.beginPath();
    ctx.moveTo(...first);
    for (const point of rest) ctx.lineTo(...point);
    ctx.closePath();
    ctx.stroke();
    ctx.setLineDash([]);
  };
  return { tool, tint, stepTo, press, paint, hovered: byNumber.get(hover) ?? null };
}
