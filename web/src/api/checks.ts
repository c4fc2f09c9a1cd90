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
  /** Questions whose repairs are still worked out. */
  mending: ReadonlySet<Question>;
}

/** What the checks say, one question after the other, when the hand rests.
 *
 * @param wait ms after a change
 * @param repairs what would mend them, too, once all questions are answered
 */
export function useFindings(piece: Piece, look = "piece", wait = 1500, repairs = false): Findings {
  const settled = useSettled(piece, wait);
  const client = useQueryClient();
  const { id } = piece;
  const revision = settled?.revision ?? -1;
  const asked = [false, ...(repairs ? [true] : [])].flatMap((mended) => QUESTION_KEYS.map((question) => (
    { question, mended, queryKey: ["findings", id, look, question, mended, revision] })));
  const { answers } = useQueries({
    combine: together,
    queries: asked.map(({ question, mended, queryKey }, k) => ({
      queryKey,
      // One after the other, so that pictures are not kept waiting.
      enabled: settled !== null && asked.slice(0, k).every((a) => client.getQueryData(a.queryKey) !== undefined),
      staleTime: Infinity,
      placeholderData: keepPreviousData,
      queryFn: ({ signal }: { signal: AbortSignal }) => exactly<"/api/pieces/{piece_id}/findings", "get">(
        api.GET("/api/pieces/{piece_id}/findings", { signal, params: { path: { piece_id: id },
          query: { question, look, repairs: mended, revision } } })),
    })),
  });
  return { ...best(answers), ...(settled?.revision === piece.revision ? {} : { answered: 0 }) };
}

interface Answer { data: Finding[] | undefined; fresh: boolean }

function together(found: { data?: Finding[] | undefined; isPlaceholderData: boolean }[]) {
  return { answers: found.map((a): Answer => ({ data: a.data, fresh: a.data !== undefined && !a.isPlaceholderData })) };
}

/** Of each question the answer that is known, with its repairs if these are. */
export function best(answers: Answer[]): Findings {
  const count = QUESTION_KEYS.length;
  const [quick, mended] = [answers.slice(0, count), answers.slice(count)];
  const mending = new Set(QUESTION_KEYS.filter((_, k) => mended[k] && !mended[k].fresh && quick[k]?.fresh));
  const all = QUESTION_KEYS.flatMap((question, k) => (
    (mending.has(question) ? undefined : mended[k]?.data) ?? quick[k]?.data ?? []));
  return { all, open: all.filter((f) => !f.dismissed), answered: quick.filter((a) => a.fresh).length, mending };
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
