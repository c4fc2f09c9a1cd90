import { useQuery } from "@tanstack/react-query";
import { api, exactly, type Piece, type Schemas } from "./client";
import type { Happened } from "./events";

export type About = Schemas["Verdict"]["about"];
export type Since = Schemas["Since"];

export const ABOUT: Record<About, string> = { rough: "The rough", colours: "The colours", all: "All of it" };

/** The files that were written, latest first. */
export function deliveriesOf(events: readonly Happened[]) {
  return events.flatMap(({ number, at, event }) => event.kind === "delivered" ? [{ ...event, number, at }] : [])
    .reverse();
}

/** What was sent, said and called done, latest first. */
export function roundsOf(events: readonly Happened[]) {
  return events.flatMap(({ number, at, event }) => event.kind === "sent" || event.kind === "verdict"
    || event.kind === "completion" ? [{ number, at, event }] : []).reverse();
}

/** What has changed since a verdict. */
export function useSince(piece: Piece, verdict: number) {
  return useQuery({
    queryKey: ["since", piece.id, verdict, piece.revision], placeholderData: (before) => before,
    queryFn: () => exactly<"/api/pieces/{piece_id}/events/{number}/since",
      "get">(api.GET("/api/pieces/{piece_id}/events/{number}/since", { params: { path: { piece_id: piece.id,
        number: verdict } } })),
  });
}
