import { act, cleanup, renderHook } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import type { Gap, GapReport, Point } from "../../api/client";
import { stroke, strokeClosings, strokeOffer } from "./strokeClosings";
import { useDrawnClosing } from "./useDrawnClosing";

afterEach(cleanup);

const NONE = {} as PointerEvent;
const report = (width: number) => ({ line_width: width, tips: [[100, 100], [200, 100], [207, 100]] }) as
  unknown as GapReport;

function drawing(width = 6) {
  const made: Point[][] = [];
  const { result } = renderHook(() => useDrawnClosing(report(width), (points) => made.push(points)));
  const go = (...places: Point[]) => act(() => {
    const { tool } = result.current;
    const [first, ...rest] = places;
    if (first) tool.down?.(...first, NONE);
    for (const place of rest.slice(0, -1)) tool.move?.(...place, NONE);
    const last = rest.at(-1);
    if (last) { tool.move?.(...last, NONE); tool.up?.(...last, NONE); }
  });
  return { made, go, result };
}

describe("a closing drawn by hand", () => {
  it("begins and ends at the nearest ends of lines within reach, and keeps its way between", () => {
    const { made, go } = drawing();
    go([108, 104], [150, 120], [196, 108]);
    expect(made[0]?.[0]).toEqual([100, 100]);
    expect(made[0]?.at(-1)).toEqual([200, 100]);
    expect(made[0]).toContainEqual([150, 120]);
  });

  it("stays where it was drawn when no end is near: 2.5 line widths, of thin lines 10 px", () => {
    const { made, go } = drawing(2);
    go([100, 109], [150, 100], [200, 111]);
    expect(made[0]?.[0]).toEqual([100, 100]);
    expect(made[0]?.at(-1)).toEqual([200, 111]);
  });

  it("is no closing after a click, and leaves out trembling", () => {
    const { made, go } = drawing();
    go([20, 20]);
    expect(made).toEqual([]);
    go([20, 20], [21, 20], [21, 21], [40, 20]);
    expect(made[0]).toEqual([[20, 20], [40, 20], [40, 20]]);
  });

  it("is dropped when it is cancelled, and never grows without end", () => {
    const { made, go, result } = drawing();
    act(() => {
      result.current.tool.down?.(20, 20, NONE);
      result.current.tool.move?.(60, 20, NONE);
      result.current.tool.cancel?.();
      result.current.tool.up?.(60, 20, NONE);
    });
    expect(made).toEqual([]);
    go(...Array.from({ length: 4000 }, (_, k): Point => [400 + 3 * k, 500]));
    expect(made[0]?.length).toBeLessThanOrEqual(1501);
  });
});

describe("closings on the picture", () => {
  const pen = () => {
    const paths: number[][][] = [];
    const dashes: number[][] = [];
    const arcs: number[][] = [];
    const ctx = { beginPath: () => paths.push([]), moveTo: (x: number, y: number) => paths.at(-1)?.push([x, y]),
      lineTo: (x: number, y: number) => paths.at(-1)?.push([x, y]), stroke: () => undefined, fill: () => undefined,
      arc: (x: number, y: number, r: number) => arcs.push([x, y, r]),
      setLineDash: (d: number[]) => dashes.push(d) } as unknown as CanvasRenderingContext2D;
    return { ctx, paths, dashes, arcs };
  };

  it("are seams whose stitches are as long on the screen at any zoom", () => {
    for (const zoom of [0.25, 1, 4]) {
      const { ctx, dashes } = pen();
      strokeClosings(ctx, zoom, [{ points: [[1, 2], [3, 4]], inked: false }], null);
      strokeOffer(ctx, zoom, [[[0, 0], [5, 5]]]);
      expect(dashes.map((d) => d.map((v) => v * zoom))).toEqual([[5, 4], [], [2, 7], []]);
    }
  });

  it("show what the gap pointed at would get, with both banks, while it is undecided", () => {
    const gap = { state: "undecided", curve: [[1, 1], [2, 2], [3, 1]], ends: [[1, 1], [3, 1]] } as unknown as Gap;
    const open = pen();
    strokeClosings(open.ctx, 2, [], gap);
    expect(open.paths[0]).toEqual([[1, 1], [2, 2], [3, 1]]);
    expect(open.arcs).toEqual([[1, 1, 1.75], [3, 1, 1.75]]);
    const closed = pen();
    strokeClosings(closed.ctx, 2, [], { ...gap, state: "closed" });
    expect(closed.arcs).toEqual([]);
  });

  it("of one point draw nothing that is seen, and none of none", () => {
    const { ctx, paths } = pen();
    stroke(ctx, []);
    stroke(ctx, [[4, 4]]);
    expect(paths).toEqual([[], [[4, 4]]]);
  });
});
