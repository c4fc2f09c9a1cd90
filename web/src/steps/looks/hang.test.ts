import { describe, expect, it } from "vitest";
import { GAP, widest } from "./hang";

/** Whether so many pictures of a width are all seen, by laying them out. */
const fits = (count: number, ratio: number, room: { width: number; height: number }, width: number) => {
  const columns = Math.floor((room.width + GAP) / (width + GAP));
  const rows = Math.ceil(count / columns);
  return columns > 0 && rows * (width * ratio + 56) + (rows - 1) * GAP <= room.height;
};

describe("looks on the rail", () => {
  it("are as large as they can be with all of them seen", () => {
    for (const count of [1, 2, 3, 7, 12, 40]) {
      for (const ratio of [0.6, 1, 1.414, 2]) {
        for (const room of [{ width: 620, height: 500 }, { width: 1380, height: 860 }, { width: 2000, height: 1250 }]) {
          const width = widest(count, ratio, room, 100);
          const largest = Array.from({ length: 2000 }, (_, k) => k + 1).filter((w) => fits(count, ratio, room,
            w)).at(-1) ?? 0;
          expect([count, ratio, room.width, width]).toEqual([count, ratio, room.width, largest < 100 ? null
            : expect.closeTo(largest, -0.31)]);
        }
      }
    }
  });
});
