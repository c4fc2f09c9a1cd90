import type { PieceCard } from "../api/client";

export type Order = "next" | "state" | "date" | "change";
export type State = PieceCard["state"];

export const STATES: Record<State, string> = { "in work": "In work", "changes asked": "Changes asked", sent: "Sent",
  "rough approved": "Rough approved", "colours approved": "Colours approved", approved: "Approved", done: "Done" };

export interface Wish {
  text: string;
  /** A state, `away` for what is put away, or null for all that is not. */
  only: State | "away" | null;
  tag: string | null;
}

/** The pieces that a wish finds: every word is to be in title, occasion, character, tags or state. */
export function found(pieces: readonly PieceCard[], { text, only, tag }: Wish): PieceCard[] {
  const words = text.toLocaleLowerCase().split(/\s+/).filter(Boolean);
  return pieces.filter((p) => {
    if (only === "away" ? !p.away : p.away || (only !== null && p.state !== only)) return false;
    if (tag !== null && !p.tags.includes(tag)) return false;
    // Pictures of a series have their wall; here they are found when they are looked for.
    if (p.series && words.length === 0 && only === null && tag === null) return false;
    const said = [p.series ?? "", p.title, p.occasion, p.character ?? "", p.state, ...p.tags].join(" ")
      .toLocaleLowerCase();
    return words.every((w) => said.includes(w));
  });
}

export interface Group {
  head: string;
  pieces: PieceCard[];
}

interface Today {
  today: string;
  order: readonly number[];
  fits: readonly number[];
}

const DAY = 86_400_000;
/** Whole days from one day to another, `YYYY-MM-DD`. */
export const daysTo = (from: string, to: string) => Math.round((Date.parse(to) - Date.parse(from)) / DAY);

/** When a piece is due, in words. */
export function dueWords(due: string, today: string): string {
  const days = daysTo(today, due);
  if (days === 0) return "due today";
  if (days === 1) return "due tomorrow";
  if (days < 0) return days === -1 ? "1 day late" : `${-days} days late`;
  return days < 14 ? `due in ${days} days` : `due ${due}`;
}

/** Pieces in groups with a heading; groups without any are left out. */
export function grouped(pieces: readonly PieceCard[], order: Order, day: Today): Group[] {
  const groups = new Map<string, PieceCard[]>();
  const put = (head: string, piece: PieceCard) => groups.set(head, [...groups.get(head) ?? [], piece]);
  if (order === "change") return pieces.length ? [{ head: "", pieces: [...pieces] }] : [];
  if (order === "state") {
    for (const state of Object.keys(STATES) as State[]) {
      for (const p of pieces) if (p.state === state) put(STATES[state], p);
    }
  } else if (order === "date") {
    const dated = pieces.filter((p) => p.due).sort((a, b) => (a.due ?? "").localeCompare(b.due ?? ""));
    for (const p of dated) {
      const days = daysTo(day.today, p.due ?? day.today);
      const over = p.state === "done" || p.state === "approved";
      put(over ? "Done" : days < 0 ? "Late" : days < 7 ? "Within a week" : "Later", p);
    }
    for (const p of pieces) if (!p.due) put("Without a date", p);
  } else {
    const place = new Map(day.order.map((id, k) => [id, k]));
    const fits = new Set(day.fits);
    const ready = pieces.filter((p) => place.has(p.id)).sort((a, b) => (place.get(a.id) ?? 0) - (place.get(b.id) ?? 0));
    for (const p of ready) if (fits.has(p.id)) put("Fits today", p);
    for (const p of ready) if (!fits.has(p.id)) put("After that", p);
    for (const p of pieces) {
      if (!place.has(p.id)) put(p.away ? "Put away" : p.state === "sent" ? "Waiting for an answer" : "Done", p);
    }
  }
  return [...groups].map(([head, of]) => ({ head, pieces: of }));
}

export type Row = { kind: "head"; head: string; count: number } | { kind: "tiles"; pieces: PieceCard[] };

/** Groups as rows of so many tiles. */
export function rowsOf(groups: readonly Group[], columns: number): Row[] {
  return groups.flatMap(({ head, pieces }) => {
    const rows: Row[] = head ? [{ kind: "head", head, count: pieces.length }] : [];
    for (let k = 0; k < pieces.length; k += columns) rows.push({ kind: "tiles", pieces: pieces.slice(k, k + columns) });
    return rows;
  });
}
