import { keepPreviousData, useQuery, useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { api, exactly, need, Problem, sent, toProblem, type Edit, type Gesture, type Leak,
  type Piece, type Point, type Schemas, type Wish } from "./client";
import { firstOr } from "./first";
import type { paths } from "./schema";
import { tell, tellProblem } from "./notice";

const key = (id: number) => ["piece", id];

// Edits and pieces come under several routes.
const toPiece = (answer: unknown) => answer as Piece;

/** All pieces; what was fetched a moment ago, as the page was opened, is not fetched again. */
export const piecesQuery = { queryKey: ["pieces"], staleTime: 1000,
  queryFn: () => firstOr("/api/pieces", () => need(api.GET("/api/pieces"))) };

export function usePiece(id: number) {
  return useQuery({
    queryKey: key(id),
    queryFn: async () => toPiece(await need(api.GET("/api/pieces/{piece_id}", { params: { path: { piece_id: id } } }))),
    refetchOnWindowFocus: "always",
  });
}

const REPORTS = {
  cut: "/api/pieces/{piece_id}/cut",
  gaps: "/api/pieces/{piece_id}/gaps",
  figure: "/api/pieces/{piece_id}/figure",
  hatching: "/api/pieces/{piece_id}/hatching",
  joins: "/api/pieces/{piece_id}/joins",
  palettes: "/api/pieces/{piece_id}/palettes",
  completeness: "/api/pieces/{piece_id}/completeness",
  sheet: "/api/pieces/{piece_id}/sheet",
  neighbours: "/api/pieces/{piece_id}/neighbours",
  light: "/api/pieces/{piece_id}/light",
  ink: "/api/pieces/{piece_id}/ink",
  shade_hues: "/api/pieces/{piece_id}/shade-hues",
  looks: "/api/pieces/{piece_id}/looks",
  stack: "/api/pieces/{piece_id}/stack",
  paper: "/api/pieces/{piece_id}/paper",
  unprintable: "/api/pieces/{piece_id}/unprintable",
} as const satisfies Partial<Record<keyof Piece["rests"], keyof paths>>;

type Report = keyof typeof REPORTS;

/** What the server says of a piece. The server also says on what each report rests: what an edit
 * leaves alone is not asked for again.
 *
 * @param on whether it is wanted at all
 * @param hold whether the report before is shown until the next is there
 */
function useReport<N extends Report>(piece: Piece, name: N, { on = true, hold = true } = {}) {
  return useQuery({
    queryKey: [name, piece.id, piece.rests[name]],
    queryFn: () => exactly<(typeof REPORTS)[N],
      "get">(api.GET(REPORTS[name as "cut"], { params: { path: { piece_id: piece.id } } })),
    enabled: on,
    staleTime: Infinity,
    ...(hold && { placeholderData: keepPreviousData }),
  });
}

export const useCut = (piece: Piece) => useReport(piece, "cut");
export const useGaps = (piece: Piece) => useReport(piece, "gaps");
export const useFigureOffer = (piece: Piece) => useReport(piece, "figure", { hold: false });
export const useHatching = (piece: Piece) => useReport(piece, "hatching");
/** Why the areas of each part may be together, and what would split it in two. */
export const useJoins = (piece: Piece, on: boolean) => useReport(piece, "joins", { on });
export const usePalettes = (piece: Piece, on: boolean) => useReport(piece, "palettes", { on });
export const useCompleteness = (piece: Piece) => useReport(piece, "completeness");
export const useSheet = (piece: Piece) => useReport(piece, "sheet");
export const useNeighbours = (piece: Piece) => useReport(piece, "neighbours");
export const useLightReport = (piece: Piece) => useReport(piece, "light");
/** The lines, stretch by stretch. */
export const useInk = (piece: Piece) => useReport(piece, "ink");
/** Ready finishes to begin from, laid out for the piece. */
export function useReadyFinishes(piece: Piece, look: string) {
  return useQuery({
    queryKey: ["finishes", piece.id, look, piece.rests.finishes], staleTime: Infinity,
    queryFn: () => exactly<"/api/pieces/{piece_id}/finishes", "get">(api.GET("/api/pieces/{piece_id}/finishes",
      { params: { path: { piece_id: piece.id }, query: { look } } })),
  });
}
/** What a finish layer or a pass would do in each blend mode. */
export function useModes(piece: Piece, look: string, name: string) {
  return useQuery({
    queryKey: ["modes", piece.id, look, name, piece.rests.modes],
    queryFn: () => exactly<"/api/pieces/{piece_id}/modes/{layer}",
      "get">(api.GET("/api/pieces/{piece_id}/modes/{layer}", { params: { path: { piece_id: piece.id, layer: name },
        query: { look } } })),
    staleTime: Infinity, placeholderData: keepPreviousData,
  });
}
export const useShadeHues = (piece: Piece) => useReport(piece, "shade_hues");
export const useLooks = (piece: Piece) => useReport(piece, "looks");
export const usePaper = (piece: Piece) => useReport(piece, "paper");
export const useUnprintable = (piece: Piece) => useReport(piece, "unprintable");
export const useStack = (piece: Piece) => useReport(piece, "stack");

export async function fetchLeak(piece: Piece, to: Point, from?: Point): Promise<Leak> {
  const query = { x: to[0], y: to[1], ...(from ? { from_x: from[0], from_y: from[1] } : {}) };
  return need(api.GET("/api/pieces/{piece_id}/leak", { params: { path: { piece_id: piece.id }, query } }));
}

/** What a wish would come to; asked for anew when the piece or the wish changes. */
export function useProposal(piece: Piece, wish: Wish | null) {
  return useQuery({
    queryKey: ["proposal", piece.id, piece.revision, wish],
    enabled: wish !== null,
    retry: false,
    queryFn: () => exactly<"/api/pieces/{piece_id}/proposals",
      "post">(api.POST("/api/pieces/{piece_id}/proposals", { params: { path: { piece_id: piece.id } },
        body: wish as Wish })),
    placeholderData: (before) => before,
  });
}

export function useMeta() {
  return useQuery({
    queryKey: ["meta"],
    queryFn: () => need(api.GET("/api/meta")),
    staleTime: Infinity,
  });
}

/** What the base and the passes are called. */
export function usePassNames(): Record<string, string> {
  return { base: "Base", ...useMeta().data?.passes };
}

/** Px on each side of a picture. */
export interface Sides { left: number; top: number; right: number; bottom: number }

export interface Changes {
  /** Makes an edit; the promise is kept when the server has it (or has refused it, and said so).
   * An edit that rewrites a whole of which it changes a bit is given as a function of the piece its turn finds,
   * or it would take back what the edit before it did. */
  edit: (edit: Edit | ((latest: Piece) => Edit)) => Promise<Piece | null>;
  /** A stroke or a click on the cut; the server knows what it means. */
  gesture: (gesture: Gesture, stroke: Point[], part?: string | null) => Promise<Piece | null>;
  wearCard: (shades: Schemas["WearRequest"]["shades"]) => Promise<Piece | null>;
  suggestParts: () => Promise<Piece | null>;
  shareGround: () => Promise<Piece | null>;
  /** Room on the sides of the picture, px, or less of it. */
  giveRoom: (sides: Sides) => Promise<Piece | null>;
  undo: () => void;
  redo: () => void;
}

type Send = (seen: number, latest: Piece) => Promise<unknown>;

// Changes of one piece go one after the other, each naming the revision the one before gave.
const queues = new Map<number, Promise<unknown>>();

async function change(client: QueryClient, id: number, send: Send): Promise<Piece | null> {
  const run = async () => {
    const before = client.getQueryData<Piece>(key(id));
    if (!before) return null;
    try {
      await client.cancelQueries({ queryKey: key(id) });
      const after = toPiece(await send(before.revision, before));
      client.setQueryData(key(id), after);
      return after;
    } catch (error) {
      const problem = toProblem(error);
      await client.invalidateQueries({ queryKey: key(id) });
      if (problem instanceof Problem && problem.status === 409) tell(problem.message, "error");
      else tellProblem(problem);
      return null;
    }
  };
  const next = (queues.get(id) ?? Promise.resolve()).then(run);
  queues.set(id, next);
  return next;
}

export function useChanges(id: number): Changes {
  const client = useQueryClient();
  return useMemo(() => {
    const path = { params: { path: { piece_id: id } } };
    return {
      edit: (edit) => change(client, id, (seen, latest) =>
        need(api.POST("/api/pieces/{piece_id}/edits", { ...path,
          body: { seen, edit: sent(typeof edit === "function" ? edit(latest) : edit) } }))),
      gesture: (gesture, stroke, part) => change(client, id, (seen) =>
        need(api.POST("/api/pieces/{piece_id}/gestures", { ...path,
          body: { seen, gesture, stroke, part: part ?? null } }))),
      wearCard: (shades) => change(client, id, (seen) =>
        need(api.POST("/api/pieces/{piece_id}/wear-card", { ...path, body: { seen, shades } }))),
      giveRoom: (sides) => change(client, id, (seen) =>
        need(api.POST("/api/pieces/{piece_id}/room", { ...path, body: { seen, ...sides } }))),
      shareGround: () => change(client, id, (seen) =>
        need(api.POST("/api/pieces/{piece_id}/share-ground", { ...path, body: { seen } }))),
      suggestParts: () => change(client, id, (seen) =>
        need(api.POST("/api/pieces/{piece_id}/suggest-parts", { ...path, body: { seen } }))),
      undo: () => void change(client, id, (seen) =>
        need(api.POST("/api/pieces/{piece_id}/undo", { ...path, body: { seen } }))),
      redo: () => void change(client, id, (seen) =>
        need(api.POST("/api/pieces/{piece_id}/redo", { ...path, body: { seen } }))),
    };
  }, [client, id]);
}
