import { act, cleanup, renderHook } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Cut, Edit } from "../../api/client";
import { useNotice } from "../../api/notice";
import type { AreaMap } from "../../picture/areaMap";
import { useSweep } from "./useSweep";

/** Ten columns of ten pixels; the first and the last are ground, 3 and 4 belong to p2. */
const MAP: AreaMap = { width: 100, height: 20, scale: 1,
  numbers: Uint16Array.from({ length: 2000 }, (_, k) => Math.floor((k % 100) / 10) + 1) };
const AREAS = Array.from({ length: 10 }, (_, k) => ({ area: k + 1, x: 10 * k + 5, y: 10, pixels: 200,
  ground: k === 0 || k === 9, part: k === 2 || k === 3 ? "p2" : null }));
const CUT = { areas: AREAS } as unknown as Cut;

beforeEach(() => {
  // Tints are drawn on a canvas that is not there.
  vi.stubGlobal("OffscreenCanvas", class { getContext() { return null; } });
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

function sweeping(part: string | null, how: "claim" | "ground" = "claim", scenery = false) {
  const made: Edit[] = [];
  const make = (edit: Edit) => { made.push(edit); return Promise.resolve(); };
  const { result } = renderHook(() => useSweep(MAP, CUT, part, how, make, scenery));
  const event = (more: object = {}) => ({ shiftKey: false, ...more }) as PointerEvent;
  const go = (places: [number, number][], shiftKey = false) => act(async () => {
    const { tool } = result.current;
    const [first, ...rest] = places;
    if (!first) return;
    tool?.down?.(...first, event({ shiftKey }));
    for (const place of rest) tool?.move?.(...place, event());
    tool?.up?.(...(places.at(-1) ?? first), event());
    await Promise.resolve();
  });
  const claims = () => made.map((edit) => {
    if (edit.kind !== "claim_areas") throw new Error(edit.kind);
    return [edit.to, edit.strokes.map((s) => Math.ceil((s[0]?.[0] ?? 0) / 10)).sort((a, b) => a - b)];
  });
  return { result, go, claims, made };
}

describe("a sweep before the cut is known", () => {
  it("is done once it is, with the areas that are there then", async () => {
    const made: Edit[] = [];
    const make = (edit: Edit) => { made.push(edit); return Promise.resolve(); };
    const { result, rerender } = renderHook(({ map, ready }: { map: AreaMap | undefined; ready: boolean }) =>
      useSweep(map, CUT, "p1", "claim", make, false, ready), { initialProps: { map: undefined as AreaMap | undefined,
        ready: false } });
    const event = { shiftKey: false } as PointerEvent;
    act(() => {
      result.current.tool.down?.(15, 10, event);
      result.current.tool.move?.(45, 10, event);
      result.current.tool.up?.(45, 10, event);
    });
    rerender({ map: MAP, ready: false }); // the map alone is not enough: its numbers are those of the next cut
    expect(made).toEqual([]);
    await act(async () => { rerender({ map: MAP, ready: true }); await Promise.resolve(); });
    expect(made).toHaveLength(1);
    const [edit] = made;
    expect(edit?.kind === "claim_areas" && [edit.to, edit.strokes.length]).toEqual(["p1", 4]);
    rerender({ map: MAP, ready: true });
    expect(made).toHaveLength(1);
  });

  it("goes on where it was begun before", async () => {
    const made: Edit[] = [];
    const make = (edit: Edit) => { made.push(edit); return Promise.resolve(); };
    const { result, rerender } = renderHook(({ ready }) => useSweep(MAP, CUT, "p1", "claim", make, false, ready),
      { initialProps: { ready: false } });
    const event = { shiftKey: false } as PointerEvent;
    act(() => { result.current.tool.down?.(15, 10, event); });
    await act(async () => { rerender({ ready: true }); await Promise.resolve(); });
    expect(made).toEqual([]);
    await act(async () => {
      result.current.tool.move?.(25, 10, event);
      result.current.tool.up?.(25, 10, event);
      await Promise.resolve();
    });
    const [edit] = made;
    expect(edit?.kind === "claim_areas" && edit.strokes.length).toBe(2);
  });
});

describe("a sweep over areas", () => {
  it("gives every area under it to the part, at its innermost point, as one edit", async () => {
    const { go, claims } = sweeping("p1");
    await go([[15, 10], [80, 12]]);
    expect(claims()).toEqual([["p1", [2, 3, 4, 5, 6, 7, 8, 9]]]);
  });

  it("takes away what the part has when it begins there, and nothing else", async () => {
    const { go, claims } = sweeping("p2");
    await go([[25, 10], [75, 10]]);
    expect(claims()).toEqual([["none", [3, 4]]]);
    await go([[15, 10], [45, 10]]);
    expect(claims().at(-1)).toEqual(["p2", [2, 5]]);
  });

  it("gives ground to scenery, too", async () => {
    const { go, claims } = sweeping("p1", "claim", true);
    await go([[5, 10], [35, 10]]);
    expect(claims()).toEqual([["p1", [1, 2, 3, 4]]]);
  });

  it("leaves ground alone, and says what to do", async () => {
    const { go, made } = sweeping("p1");
    await go([[5, 10], [55, 10]]);
    expect(made).toEqual([]);
    expect(useNotice.getState().notice?.text).toContain("This is ground");
    const none = sweeping(null);
    await none.go([[15, 10]]);
    expect(none.made).toEqual([]);
    expect(useNotice.getState().notice?.text).toContain("Select or make a part first");
  });

  it("marks ground and takes the mark away, by what it begins on", async () => {
    const { go, claims } = sweeping(null, "ground");
    await go([[15, 10], [5, 10], [35, 10]]);
    await go([[95, 10], [85, 10], [5, 10]]);
    expect(claims()[0]).toEqual(["ground", [2, 3, 4]]);
    expect(claims()[1]?.[0]).toBe("figure");
    expect(claims()[1]?.[1]).toEqual([1, 10]);
  });

  it("takes with Shift what is drawn round, however it got there, and lets go what is left out again", async () => {
    const { go, claims } = sweeping("p1");
    await go([[12, 2], [58, 2], [58, 18], [12, 18]], true);
    expect(claims()).toEqual([["p1", [2, 3, 4, 5, 6]]]);
    await go([[12, 2], [98, 2], [98, 18], [38, 18], [38, 9], [12, 9]], true);
    expect(claims()[1]).toEqual(["p1", [5, 6, 7, 8, 9]]);
  });

  it("is dropped when a second finger comes", async () => {
    const { result, made } = sweeping("p1");
    await act(async () => {
      const { tool } = result.current;
      tool?.down?.(15, 10, { shiftKey: false } as PointerEvent);
      tool?.move?.(45, 10, {} as PointerEvent);
      tool?.cancel?.();
      tool?.up?.(45, 10, {} as PointerEvent);
      await Promise.resolve();
    });
    expect(made).toEqual([]);
  });

  it("is done by keys, area by area in reading order, round at the ends", async () => {
    const { result, claims } = sweeping("p1");
    for (const [by, area] of [[1, 1], [1, 2], [-1, 1], [-1, 10], [1, 1], [1, 2]] as const) {
      act(() => result.current.stepTo(by));
      expect(result.current.hovered?.area).toBe(area);
    }
    await act(async () => {
      result.current.press();
      await Promise.resolve();
    });
    expect(claims()).toEqual([["p1", [2]]]);
  });
});
