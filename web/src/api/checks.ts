import { keepPreviousData, useQueries, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { usePreview } from "../picture/preview";
import { exactly, api, type Finding, type Piece } from "./client";
import { useEvents } from "./events";

export type Question = Finding["question"];
/** In the order in which they are asked. */
export const QUESTION_KEYS: Question[] = ["reads", "light", "clean", "ground", "eye", "order"];

/** The piece once nobody has changed it for a while, and nothing is dragged. */
function useSettled(piece: Piece, wait: number): Piece | null {
  const [settled, settle] = useState<Piece | null>(null);
  const dragged = usePreview((s) => s.tile !== null);
  useEffect(() => {
    if (dragged) return;
    const timer = setTimeout(() => settle(piece), wait);
    return () => clearTimeout(timer);
  }, [piece, wait, dragged]);
  return settled?.id === piece.id ? settled : null;
}

export interface Findings {
  /** What is known so far; of the change before until it is known anew. */
  all: Finding[];
  open: Finding[];
  /** How many of the questions are answered for the piece as it is. */
  answered: number;
}

/** What the checks say, one question after the other, when the hand rests.
 *
 * @param wait ms after a change
 */
export function useFindings(piece: Piece, look = "piece", wait = 1500): Findings {
  const settled = useSettled(piece, wait);
  const client = useQueryClient();
  const { id } = piece;
  const keyOf = (question: Question, revision: number) => ["findings", id, look, question, revision];
  const revision = settled?.revision ?? -1;
  const known = (question: Question) => client.getQueryData(keyOf(question, revision)) !== undefined;
  const { all, open, fresh } = useQueries({
    combine: together,
    queries: QUESTION_KEYS.map((question, k) => ({
      queryKey: keyOf(question, revision),
      // One after the other, so that pictures are not kept waiting.
      enabled: settled !== null && QUESTION_KEYS.slice(0, k).every(known),
      staleTime: Infinity,
      placeholderData: keepPreviousData,
      queryFn: ({ signal }: { signal: AbortSignal }) => exactly<"/api/pieces/{piece_id}/findings", "get">(
        api.GET("/api/pieces/{piece_id}/findings", { signal, params: { path: { piece_id: id },
          query: { question, look, revision } } })),
    })),
  });
  return { all, open, answered: settled?.revision === piece.revision ? fresh : 0 };
}

function together(answers: { data?: Finding[] | undefined; isPlaceholderData: boolean }[]) {
  const all = answers.flatMap((a) => a.data ?? []);
  return { all, open: all.filter((f) => !f.dismissed),
    fresh: answers.filter((a) => a.data !== undefined && !a.isPlaceholderData).length };
}

/** Leave a finding as it is, or let it count again. */
export function useDismissals(piece: number) {
  const { note } = useEvents(piece);
  const client = useQueryClient();
  const anew = (done: boolean) => { if (done) void client.invalidateQueries({ queryKey: ["findings", piece] }); };
  return {
    dismiss: async (f: Finding, look: string, reason: string) => anew(await note({ kind: "dismissal", check: f.check,
      look, ids: f.ids, measured: f.measured, place: middleOf(f), reason })),
    reopen: async (f: Finding) => {
      if (f.dismissed) anew(await note({ kind: "reopening", dismissal: f.dismissed.number }));
    },
  };
}

/** Where a finding is, as the server finds it again. */
export function middleOf({ box, marks }: Pick<Finding, "box" | "marks">): [number, number] | null {
  if (box) return [Math.round(10 * (box[0] + box[2] / 2)) / 10, Math.round(10 * (box[1] + box[3] / 2)) / 10];
  return marks.length === 1 ? marks[0]?.[0] ?? null : null;
}

/** What is to be brought into view: its box, or what goes around its marks. */
export function extentOf({ box, marks }: Pick<Finding, "box" | "marks">): [number, number, number, number] | null {
  if (box) return box;
  const points = marks.flat();
  if (!points.length) return null;
  const [xs, ys] = [points.map((p) => p[0]), points.map((p) => p[1])];
  const [left, top] = [Math.min(...xs), Math.min(...ys)];
  return [left, top, Math.max(...xs) - left, Math.max(...ys) - top];
}
