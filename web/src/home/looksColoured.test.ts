import { describe, expect, it } from "vitest";
import { looksColoured } from "./looksColoured";

function pixels(...runs: [count: number, rgba: [number, number, number, number]][]): Uint8ClampedArray {
  return Uint8ClampedArray.from(runs.flatMap(([count, rgba]) => Array.from({ length: count }, () => rgba).flat()));
}

describe("a picture looks coloured", () => {
  it("if enough of it is pure, whatever its paper", () => {
    expect(looksColoured(pixels([80, [255, 255, 255, 255]], [20, [60, 120, 170, 255]]))).toBe(true);
    expect(looksColoured(pixels([80, [240, 230, 214, 255]], [20, [30, 24, 36, 255]]))).toBe(false);
  });

  it("not by the light on its paper: a photo taken under a lamp, brighter on one side", () => {
    const paper = Array.from({ length: 90 }, (_, k) => [1, [200 + k / 2, 160 + k / 2.5, 110 + k / 3.3, 255]]) as
      [number, [number, number, number, number]][];
    expect(looksColoured(pixels(...paper, [10, [60, 44, 30, 255]]))).toBe(false);
    expect(looksColoured(pixels(...paper, [30, [60, 90, 140, 255]]))).toBe(true);
  });

  it("not by a few strokes in blue pencil, nor by the colour of what is clear", () => {
    expect(looksColoured(pixels([96, [255, 255, 255, 255]], [4, [60, 90, 220, 255]]))).toBe(false);
    expect(looksColoured(pixels([90, [255, 0, 0, 0]], [10, [0, 0, 0, 255]]))).toBe(false);
    expect(looksColoured(new Uint8ClampedArray())).toBe(false);
  });
});
