import { useQuery, useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { api, need, Problem, sent, toProblem, type Edit, type FigureOffer, type GapReport, type Gesture, type HatchingReport, type JoinedPart, type Leak, type LightReport, type Neighbours, type PaletteOffer, type Piece, type Point, type Proposal, type ReadyFinish, type Schemas, type Wish } from "./client";
import { tell, tellProblem } from "./notice";

const key = (id: number) => ["piece", id];

// The generated client widens points to number[]; the server checks that they are pairs.
const toPiece = (answer: unknown) => answer as Piece;

export function usePiece(id: number) {
  return useQuery({
    queryKey: key(id),
    queryFn: async () => toPiece(await need(api.GET("/api/pieces/{piece_id}", { params: { path: { piece_id: id } } }))),
    refetchOnWindowFocus: "always",
  });
}

export function useCut(piece: Piece) {
  return useQuery({
    queryKey: ["cut", piece.id, piece.revision],
    queryFn: () => need(api.GET("/api/pieces/{piece_id}/cut", { params: { path: { piece_id: piece.id } } })),
    placeholderData: (before) => before,
  });
}

export function useGaps(piece: Piece) {
  return useQuery({
    queryKey: ["gaps", piece.id, piece.revision],
    // The generated client widens points to number[], as it does in the recipe.
    queryFn: async () => (await need(api.GET("/api/pieces/{piece_id}/gaps", { params: { path: { piece_id: piece.id } } }))) as unknown as GapReport,
    placeholderData: (before) => before,
  });
}

export function useFigureOffer(piece: Piece) {
  return useQuery({
    queryKey: ["figure", piece.id, piece.revision],
    queryFn: async () => (await need(api.GET("/api/pieces/{piece_id}/figure", { params: { path: { piece_id: piece.id } } }))) as unknown as FigureOffer,
  });
}

export function useHatching(piece: Piece) {
  return useQuery({
    queryKey: ["hatching", piece.id, piece.revision],
    queryFn: async () => (await need(api.GET("/api/pieces/{piece_id}/hatching", { params: { path: { piece_id: piece.id } } }))) as unknown as HatchingReport,
    placeholderData: (before) => before,
  });
}

/** Why the areas of each part may be together, and what would split it in two. */
export function useJoins(piece: Piece, wanted: boolean) {
  return useQuery({
    queryKey: ["joins", piece.id, piece.revision],
    queryFn: async () => (await need(api.GET("/api/pieces/{piece_id}/joins", { params: { path: { piece_id: piece.id } } }))) as unknown as JoinedPart[],
    enabled: wanted,
    placeholderData: (before) => before,
  });
}

export function usePalettes(piece: Piece, wanted: boolean) {
  return useQuery({
    queryKey: ["palettes", piece.id, piece.revision],
    queryFn: async () => (await need(api.GET("/api/pieces/{piece_id}/palettes", { params: { path: { piece_id: piece.id } } }))) as unknown as PaletteOffer[],
    enabled: wanted,
    placeholderData: (before) => before,
  });
}

export async function fetchLeak(piece: Piece, to: Point, from?: Point): Promise<Leak> {
  const query = { x: to[0], y: to[1], ...(from ? { from_x: from[0], from_y: from[1] } : {}) };
  return need(api.GET("/api/pieces/{piece_id}/leak", { params: { path: { piece_id: piece.id }, query } }));
}

export function useSheet(piece: Piece) {
  return useQuery({
    queryKey: ["sheet", piece.id, piece.revision],
    queryFn: () => need(api.GET("/api/pieces/{piece_id}/sheet", { params: { path: { piece_id: piece.id } } })),
    placeholderData: (before) => before,
  });
}

export function useNeighbours(piece: Piece) {
  return useQuery({
    queryKey: ["neighbours", piece.id, piece.revision],
    queryFn: async () => (await need(api.GET("/api/pieces/{piece_id}/neighbours", { params: { path: { piece_id: piece.id } } }))) as Neighbours[],
    placeholderData: (before) => before,
  });
}

export function useLightReport(piece: Piece) {
  return useQuery({
    queryKey: ["light", piece.id, piece.revision],
    queryFn: async () => (await need(api.GET("/api/pieces/{piece_id}/light", { params: { path: { piece_id: piece.id } } }))) as unknown as LightReport,
    placeholderData: (before) => before,
  });
}

/** Ready finishes to begin from, laid out for the piece as it is when they are asked for. */
export function useReadyFinishes(piece: Piece) {
  return useQuery({
    queryKey: ["finishes", piece.id, piece.width, piece.height, piece.recipe.light.azimuth],
    queryFn: async () => (await need(api.GET("/api/pieces/{piece_id}/finishes", { params: { path: { piece_id: piece.id } } }))) as unknown as ReadyFinish[],
  });
}

export function useShadeHues(piece: Piece) {
  return useQuery({
    queryKey: ["shade-hues", piece.id, piece.revision],
    queryFn: () => need(api.GET("/api/pieces/{piece_id}/shade-hues", { params: { path: { piece_id: piece.id } } })),
    placeholderData: (before) => before,
  });
}

/** What a wish would come to; asked for anew when the piece or the wish changes. */
export function useProposal(piece: Piece, wish: Wish | null) {
  return useQuery({
    queryKey: ["proposal", piece.id, piece.revision, wish],
    enabled: wish !== null,
    retry: false,
    queryFn: async () => (await need(api.POST("/api/pieces/{piece_id}/proposals", { params: { path: { piece_id: piece.id } }, body: wish as Wish }))) as unknown as Proposal,
    placeholderData: (before) => before,
  });
}

export function useStack(piece: Piece) {
  return useQuery({
    queryKey: ["stack", piece.id, piece.revision],
    queryFn: () => need(api.GET("/api/pieces/{piece_id}/stack", { params: { path: { piece_id: piece.id } } })),
    placeholderData: (before) => before,
  });
}

export function useCompleteness(piece: Piece) {
  return useQuery({
    queryKey: ["completeness", piece.id, piece.revision],
    queryFn: () => need(api.GET("/api/pieces/{piece_id}/completeness", { params: { path: { piece_id: piece.id } } })),
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

export interface Changes {
  /** Makes an edit; the promise is kept when the server has it (or has refused it, and said so).
   * An edit that rewrites a whole of which it changes a bit is given as a function of the piece its turn finds,
   * or it would take back what the edit before it did. */
  edit: (edit: Edit | ((latest: Piece) => Edit)) => Promise<Piece | null>;
  /** A stroke or a click on the cut; the server knows what it means. */
  gesture: (gesture: Gesture, stroke: Point[], part?: string | null) => Promise<Piece | null>;
  wearCard: (shades: Schemas["WearRequest"]["shades"]) => Promise<Piece | null>;
  suggestParts: () => Promise<Piece | null>;
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
        need(api.POST("/api/pieces/{piece_id}/edits", { ...path, body: { seen, edit: sent(typeof edit === "function" ? edit(latest) : edit) } }))),
      gesture: (gesture, stroke, part) => change(client, id, (seen) =>
        need(api.POST("/api/pieces/{piece_id}/gestures", { ...path, body: { seen, gesture, stroke, part: part ?? null } }))),
      wearCard: (shades) => change(client, id, (seen) =>
        need(api.POST("/api/pieces/{piece_id}/wear-card", { ...path, body: { seen, shades } }))),
      suggestParts: () => change(client, id, (seen) =>
        need(api.POST("/api/pieces/{piece_id}/suggest-parts", { ...path, body: { seen } }))),
      undo: () => void change(client, id, (seen) =>
        need(api.POST("/api/pieces/{piece_id}/undo", { ...path, body: { seen } }))),
      redo: () => void change(client, id, (seen) =>
        need(api.POST("/api/pieces/{piece_id}/redo", { ...path, body: { seen } }))),
    };
  }, [client, id]);
}
