import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, exactly, need, type Schemas } from "./client";
import { tellProblem } from "./notice";

export type Happened = Schemas["Happened"];
type Event = Schemas["Answer"] | Schemas["Withdrawal"] | Schemas["Dismissal"] | Schemas["Reopening"]
  | Schemas["Reference"] | Schemas["ReferenceNote"] | Schemas["ReferenceGone"] | Schemas["Remark"]
  | Schemas["Resolution"] | Schemas["Verdict"] | Schemas["Plan"] | Schemas["Filing"] | Schemas["Sent"]
  | Schemas["Completion"];

type Events = "/api/pieces/{piece_id}/events";
const path = (piece: number) => ({ params: { path: { piece_id: piece } } });

/** What happened to a piece besides its making; and to note more, which is true if it was.
 *
 * @param on whether it is wanted, or only noted
 */
export function useEvents(piece: number, on = true) {
  const client = useQueryClient();
  const key = ["events", piece];
  const { data: events } = useQuery({
    queryKey: key, enabled: on, queryFn: () => exactly<Events,
      "get">(api.GET("/api/pieces/{piece_id}/events", path(piece))),
  });
  const note = async (event: Event): Promise<boolean> => {
    try {
      client.setQueryData(key, await need(api.POST("/api/pieces/{piece_id}/events", { ...path(piece), body: event })));
      void client.invalidateQueries({ queryKey: ["clock", piece] });
      return true;
    } catch (error) {
      tellProblem(error);
      return false;
    }
  };
  return { events, note };
}

/** The answers of a piece, each with whether it still counts. */
export function answersOf(events: Happened[]) {
  const gone = new Set(events.flatMap(({ event }) => event.kind === "withdrawal" ? [event.answer] : []));
  return events.flatMap(({ number, event }) => event.kind === "answer"
    ? [{ ...event, number, counts: !gone.has(number) }] : []);
}
