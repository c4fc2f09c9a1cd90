import { describe, expect, it } from "vitest";
import { areaAt, areasBetween, type AreaMap } from "./areaMap";

/** Stripes of three pixels, numbered from 1, at half the size of the picture. */
const map: AreaMap = {
  width: 30, height: 20, scale: 0.5,
  numbers: Uint16Array.from({ length: 600 }, (_, k) => Math.floor((k % 30) / 3) + 1),
};

describe("the map of areas", () => {
  it("knows the area at each point of the picture, and none outside", () => {
    for (let x = 0; x < 60; x += 0.5) expect(areaAt(map, x, 39)).toBe(Math.floor(Math.floor(x / 2) / 3) + 1);
    for (const [x, y] of [[-0.1, 5], [60, 5], [5, -0.1], [5, 40], [NaN, 5]] as const) expect(areaAt(map, x, y)).toBe(0);
  });

  it("misses no area that a quick sweep goes over", () => {
    for (const [from, to] of [[[1, 1], [59, 39]], [[59, 1], [1, 1]], [[-40, 20], [100, 21]]] as [[number, number],
      [number, number]][]) {
      expect([...areasBetween(map, from, to)].sort((a, b) => a - b)).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9, 10]);
    }
    expect(areasBetween(map, [8, 5], [8, 5])).toEqual(new Set([2]));
    expect(areasBetween(map, [-9, -9], [-1, -1])).toEqual(new Set());
  });
});
