import { describe, expect, it } from "vitest";
import type { Section, StackLine } from "../api/client";
import { tiersOf, type Tier } from "./tiers";

let index = 0;
const line = (kind: "layer" | "group", depth: number, columns: string[]) =>
  ({ index: index++, kind, depth, columns, name: `${kind} ${index}`, what: "", mode: "normal", opacity: 1,
    visible: true, empty: false }) as unknown as StackLine;
const section = (lines: StackLine[]) => ({ lines, columns: [] }) as unknown as Section;

/** All lines that a tier shows, in its order. */
const shown = (tier: Tier): StackLine[] => {
  if (tier.kind === "bar") return [tier.line];
  const piles = [...tier.groups.values()].flatMap((pile) => [...(pile.group ? [pile.group] : []), ...pile.lines]);
  return tier.kind === "piles" ? piles : [tier.group, ...piles, ...tier.bars];
};

describe("the section", () => {
  it("shows every line once, whatever the stack", () => {
    for (let seed = 1; seed < 200; seed++) {
      let state = seed;
      const next = (n: number) => { state = (state * 48271) % 2147483647; return state % n; }; // Park and Miller, 1988
      const lines: StackLine[] = [];
      for (let k = 0; k < 12; k++) {
        const columns = ["a", "b", "c"].slice(0, 1 + next(3));
        const one = [["a", "b", "c"][next(3)] as string];
        if (next(2)) lines.push(line("layer", 0, columns));
        else {
          lines.push(line("group", 0, next(2) ? one : columns));
          for (let m = next(4); m > 0; m--) lines.push(line(next(4) ? "layer" : "group", 1, next(3) ? one : columns));
        }
      }
      const found = tiersOf(section(lines)).flatMap(shown).map((l) => l.index);
      expect([...found].sort((a, b) => a - b)).toEqual(lines.map((l) => l.index));
    }
  });

  it("puts parts side by side that lie one after the other, and the same part one above the other", () => {
    const part = (column: string) => [line("group", 0, [column]), line("layer", 1, [column])];
    const tiers = tiersOf(section([...part("hair"), ...part("skin"), ...part("hair")]));
    expect(tiers.map((t) => t.kind)).toEqual(["piles", "piles"]);
    expect(tiers.map((t) => (t.kind === "piles" ? [...t.groups.keys()] : []))).toEqual([["hair", "skin"], ["hair"]]);
  });

  it("keeps a layer across columns between what lies over and under it", () => {
    const [over, across, under] = [line("group", 0, ["hair"]), line("layer", 0, ["hair", "skin"]),
      line("group", 0, ["skin"])];
    expect(tiersOf(section([over, across, under])).map((t) => t.kind)).toEqual(["piles", "bar", "piles"]);
  });

  it("splits a group across columns into what lies on one column and what does not", () => {
    const group = line("group", 0, ["hair", "skin"]);
    const [one, both] = [line("layer", 1, ["skin"]), line("layer", 1, ["hair", "skin"])];
    const [band] = tiersOf(section([group, one, both]));
    expect(band).toMatchObject({ kind: "band", group, bars: [both] });
    expect(band?.kind === "band" && [...band.groups.keys()]).toEqual(["skin"]);
  });
});
