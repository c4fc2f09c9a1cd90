import { act, cleanup, renderHook } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import type { Tool } from "./PictureView";
import { penWidths, usePen, type PenStroke } from "./usePen";

afterEach(cleanup);

const pen = (pressure: number) => ({ pointerType: "pen", pressure }) as PointerEvent;
const mouse = { pointerType: "mouse", pressure: 0 } as PointerEvent;

function drawn(on = true) {
  const made: PenStroke[] = [];
  const ends: (() => void)[] = [];
  const hook = renderHook(() => usePen((stroke) => { made.push(stroke);
    return new Promise<void>((done) => ends.push(done)); }, on));
  const hand = (run: (tool: Tool) => void) => act(() => { if (hook.result.current.tool)
    run(hook.result.current.tool); });
  return { made, hand, ended: () => act(async () => { ends.shift()?.(); await Promise.resolve(); }),
    now: () => hook.result.current };
}

describe("a pen", () => {
  it("keeps points that lie apart, with how hard it was pressed at each", () => {
    const { made, hand, now } = drawn();
    hand((t) => t.down?.(10, 10, pen(0.2)));
    for (const [x, pressure] of [[11, 0.9], [12, 0.4], [13, 0.9], [14.5, 0.6]] as const)
      hand((t) => t.move?.(x, 10, pen(pressure)));
    expect(now().stroke.points).toEqual([[10, 10], [12, 10], [14.5, 10]]);
    hand((t) => t.up?.(14.5, 10, pen(0)));
    expect(made).toEqual([{ points: [[10, 10], [12, 10], [14.5, 10]], pressures: [0.2, 0.4, 0.6] }]);
  });

  it("shows its stroke until what it makes is there, and never a stroke that was given up", async () => {
    const { made, hand, ended, now } = drawn();
    hand((t) => t.down?.(0, 0, mouse));
    hand((t) => t.up?.(0, 0, mouse));
    expect(now().stroke.points).toHaveLength(1);
    await ended();
    expect(now().stroke.points).toEqual([]);
    hand((t) => t.down?.(0, 0, mouse));
    hand((t) => t.cancel?.());
    hand((t) => t.up?.(0, 0, mouse));
    expect(made).toHaveLength(1);
    expect(now().stroke.points).toEqual([]);
  });

  it("ends a stroke that goes on for ever", () => {
    const { made, hand } = drawn();
    hand((t) => { t.down?.(0, 0, mouse); for (let k = 1; k < 4000; k++) t.move?.(3 * k, 0, mouse);
      t.up?.(0, 0, mouse); });
    expect(made[0]?.points).toHaveLength(1500);
    expect(made[0]?.pressures).toEqual(Array(1500).fill(0.5)); // a mouse presses by half
  });

  it("is no tool where nothing is drawn", () => expect(drawn(false).now().tool).toBeNull());

  it("draws as wide as it is set where it is pressed by half", () => {
    expect(penWidths(40, [0.5, 0, 1])).toEqual([40, 8, 72]);
    expect(penWidths(1, [0])).toEqual([0.5]);
  });
});
