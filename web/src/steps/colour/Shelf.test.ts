import { expect, it } from "vitest";
import { paletteOf } from "./Shelf";

it("a piece's palette has each colour once, by the part that is in front", () => {
  const part = (name: string, base: string) => ({ name, base }) as Parameters<typeof paletteOf>[0][number];
  expect(paletteOf([part("hat", "#aa0000"), part("coat", "#0000aa"), part("boots", "#aa0000")])).toEqual([
    { name: "hat", colour: "#aa0000" }, { name: "coat", colour: "#0000aa" }]);
  expect(paletteOf(Array.from({ length: 90 }, (_, k) => part(`p${k}`, `#0000${(k + 16).toString(16)}`)))).toHaveLength(
    64);
});
