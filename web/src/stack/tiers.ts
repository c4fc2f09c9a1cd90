import type { Section, StackLine } from "../api/client";

/** A layer across the columns. */
interface Bar { kind: "bar"; line: StackLine }
/** Groups that each lie on one column, side by side. */
interface Piles { kind: "piles"; groups: Map<string, Pile> }
/** A group across columns, with its layers in theirs. */
interface Band { kind: "band"; group: StackLine; groups: Map<string, Pile>; bars: StackLine[] }

export interface Pile {
  group: StackLine | null;
  /** Top to bottom; groups inside stand before what they hold. */
  lines: StackLine[];
}

export type Tier = Bar | Piles | Band;

const onOne = (line: StackLine) => line.columns.length === 1;

/** The section's lines, top to bottom, as what is drawn side by side. */
export function tiersOf({ lines }: Section): Tier[] {
  const tiers: Tier[] = [];
  for (let at = 0; at < lines.length;) {
    const line = lines[at] as StackLine;
    let end = at + 1;
    while (end < lines.length && (lines[end] as StackLine).depth > 0) end += 1;
    const inside = lines.slice(at + 1, end);
    if (line.kind === "layer") tiers.push({ kind: "bar", line });
    else if (onOne(line)) {
      const last = tiers.at(-1);
      const column = line.columns[0] as string;
      const piles: Piles = last?.kind === "piles" && !last.groups.has(column) ? last
        : { kind: "piles", groups: new Map() };
      piles.groups.set(column, { group: line, lines: inside });
      if (piles !== last) tiers.push(piles);
    } else {
      const groups = new Map<string, Pile>();
      for (const inner of inside.filter(onOne)) {
        const column = inner.columns[0] as string;
        const pile = groups.get(column) ?? { group: null, lines: [] };
        pile.lines.push(inner);
        groups.set(column, pile);
      }
      tiers.push({ kind: "band", group: line, groups, bars: inside.filter((l) => !onOne(l)) });
    }
    at = end;
  }
  return tiers;
}
