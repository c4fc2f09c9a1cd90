import type { SheetCell } from "../../api/client";

/** Marks in shape and words; never in colour alone. */
export const MARKS: Record<string, { sign: string; word: string; why: string }> = {
  faint: { sign: "◌", word: "faint", why: "hardly told from what it lies on" },
  heavy: { sign: "●", word: "heavy", why: "further from the base than a pass of its kind should be" },
  "not drawn": { sign: "·", word: "not drawn",
    why: "no light lies on this material; a highlight in Light, or a touch-up, shows it" },
  "in the line": { sign: "▬", word: "in line", why: "no longer told from the lines" },
};

/** How many cells bear each mark. */
export function countMarks(cells: SheetCell[]): [string, number][] {
  const counts = new Map<string, number>();
  for (const { mark } of cells) if (mark && mark !== "not drawn") counts.set(mark, (counts.get(mark) ?? 0) + 1);
  return [...counts];
}
