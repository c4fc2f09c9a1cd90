import { api, need, type Edit, type Schemas } from "./client";
import type { Happened } from "./events";

export type Remark = Schemas["Remark"];
export type Wish = Remark["wish"];
export const WISHES: Wish[] = ["look here", "shade here", "light here", "lines lighter", "lines heavier",
  "another colour"];

export interface Standing extends Remark {
  /** Of its event; the place among the remarks is what is shown. */
  number: number;
  at: string;
  done: boolean;
}

/** The remarks in their order, each with whether it is settled. */
export function remarksOf(events: readonly Happened[]): Standing[] {
  const done = new Map<number, boolean>();
  for (const { event } of events) if (event.kind === "resolution") done.set(event.remark, event.done);
  return events.flatMap(({ number, at, event }) => event.kind === "remark"
    ? [{ ...event, number, at, done: done.get(number) ?? false }] : []);
}

/** The edit that does what a drawn remark wishes for. */
export const wishOf = async (piece: number, remark: number): Promise<Edit> => await need(
  api.GET("/api/pieces/{piece_id}/remarks/{number}/edit", { params: { path: { piece_id: piece, number: remark } } })
) as Edit;

/** What was said last of the piece or a look. */
export function verdictOf(events: readonly Happened[], look: string) {
  return events.flatMap(({ at, event }) => event.kind === "verdict" && event.look === look ? [{ ...event, at }] : [])
    .at(-1) ?? null;
}
