import type { Edit, Piece } from "../api/client";
import type { SeriesMember } from "../api/series";

export type Only = "all" | "carried" | "doubtful" | "own" | "open";

export interface Filter {
  text: string;
  only: Only;
  /** A part's path, joined. */
  part: string | null;
  /** A check that notices something. */
  finding: string | null;
}

export const joined = (path: readonly string[]) => path.join(" › ");

/** The pictures that are wanted, in their order. */
export function wanted(members: readonly SeriesMember[], filter: Filter, drifted: ReadonlySet<number>): SeriesMember[] {
  const words = filter.text.trim().toLowerCase();
  return members.filter((m) => {
    if (words && ![m.title, m.scene, m.character ?? "", ...m.parts.map(joined)].some((t) =>
      t.toLowerCase().includes(words))) return false;
    if (filter.part && !m.parts.some((p) => joined(p) === filter.part)) return false;
    if (filter.finding && !m.findings?.includes(filter.finding)) return false;
    if (filter.only === "carried") return m.carried;
    if (filter.only === "doubtful") return m.doubts > 0;
    if (filter.only === "own") return m.own.length > 0 || drifted.has(m.id);
    if (filter.only === "open") return m.state !== "done";
    return true;
  });
}

/** All parts of the series by their paths, the commonest first. */
export function allParts(members: readonly SeriesMember[]): string[] {
  const counts = new Map<string, number>();
  for (const m of members) for (const p of m.parts) counts.set(joined(p), (counts.get(joined(p)) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1] || a[0].localeCompare(b[0])).map(([name]) => name);
}

/** Which checks notice something, and in how many pictures, the most frequent first. */
export function findingsOf(members: readonly SeriesMember[]): [check: string, pictures: number][] {
  const counts = new Map<string, number>();
  for (const m of members) for (const check of m.findings ?? []) counts.set(check, (counts.get(check) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1] || a[0].localeCompare(b[0]));
}

/** What remains to be done on a picture, in a few words. */
export function remains(m: SeriesMember): string {
  if (m.state === "done") return "done";
  if (!m.carried) return m.state === "in work" ? "parts kept" : m.state;
  if (m.doubts > 0) return `${m.doubts} ${m.doubts === 1 ? "area" : "areas"} to look at`;
  return "parts to keep";
}

/** An order with one picture moved to stand before another, or to the end. */
export function movedTo(order: readonly number[], piece: number, before: number | null): number[] {
  const rest = order.filter((id) => id !== piece);
  const at = before === null ? rest.length : rest.indexOf(before);
  return at < 0 ? [...order] : [...rest.slice(0, at), piece, ...rest.slice(at)];
}

/** Which picture is shown at a moment of a film, by how many frames each stays. */
export function frameAt(holds: readonly number[], frame: number): number {
  const total = holds.reduce((a, b) => a + b, 0);
  if (total === 0) return 0;
  let left = ((frame % total) + total) % total;
  for (let k = 0; k < holds.length; k++) {
    left -= holds[k] ?? 0;
    if (left < 0) return k;
  }
  return holds.length - 1;
}

/** An edit that leaves carried parts a proposal: what is claimed is an answer, not the end of asking. */
export function asAnswer(edit: Edit): Edit | ((latest: Piece) => Edit) {
  if (edit.kind !== "claim_areas") return edit;
  return ({ recipe }) => ({ kind: "replace_parts", parts: recipe.parts ?? [], proposed: true,
    claims: [...recipe.claims ?? [], { to: edit.to, strokes: edit.strokes }] });
}
