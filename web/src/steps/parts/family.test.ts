import { describe, expect, it } from "vitest";
import type { Part } from "../../api/client";
import { familyOf, rowsOf } from "./family";

const part = (id: string, parent: string | null = null, visible = true) => ({ id, name: id, parent, visible }) as Part;

describe("the list of parts", () => {
  const parts = [part("hat"), part("band", "hat"), part("coat", null, false), part("badge", "band"),
    part("button", "coat"), part("skin")];

  it("has each part under what it belongs to, in the order of the piece", () => {
    expect(rowsOf(parts).map(({ part: p, depth }) => `${" ".repeat(depth)}${p.name}`)).toEqual(["hat", " band",
      "  badge", "coat", " button", "skin"]);
  });

  it("hides what belongs to a hidden part", () => {
    expect(rowsOf(parts).filter((r) => r.hidden).map((r) => r.part.id)).toEqual(["coat", "button"]);
  });

  it("knows a part's whole family, however deep and in whatever order", () => {
    expect(familyOf(parts, "hat")).toEqual(new Set(["hat", "band", "badge"]));
    expect(familyOf([...parts].reverse(), "hat")).toEqual(new Set(["hat", "band", "badge"]));
    expect(familyOf(parts, "skin")).toEqual(new Set(["skin"]));
  });
});
