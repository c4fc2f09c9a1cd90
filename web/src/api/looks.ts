import { useQuery } from "@tanstack/react-query";
import { api, exactly, fetchBitmap, type Piece, type Schemas, type VaryWish } from "./client";

/** Pictures of one size, one below the other in a single bitmap. */
export interface Strip {
  bitmap: ImageBitmap;
  count: number;
}

/** The piece and all its looks, drawn together. */
export function useRail(piece: Piece, edge: number) {
  return useQuery({
    queryKey: ["rail", piece.id, piece.revision, edge],
    staleTime: Infinity,
    gcTime: 30_000,
    queryFn: async (): Promise<Strip> => ({
      bitmap: await fetchBitmap(`/api/pieces/${piece.id}/rail?edge=${edge}&revision=${piece.revision}`),
      count: (piece.recipe.looks?.length ?? 0) + 1,
    }),
    placeholderData: (before) => before,
  });
}

export function useLookProposals(piece: Piece, wish: VaryWish | null) {
  return useQuery({
    queryKey: ["look-proposals", piece.id, piece.revision, wish],
    enabled: wish !== null,
    staleTime: Infinity,
    retry: false,
    queryFn: () => exactly<"/api/pieces/{piece_id}/look-proposals",
      "post">(api.POST("/api/pieces/{piece_id}/look-proposals", { params: { path: { piece_id: piece.id } },
        body: wish as VaryWish })),
    placeholderData: (before) => before,
  });
}

/** Pictures of looks that are not on the rail. */
export function useTried(piece: Piece, looks: Schemas["TriedLook"][], edge: number) {
  return useQuery({
    queryKey: ["tried", piece.id, piece.revision, looks, edge],
    enabled: looks.length > 0,
    staleTime: Infinity,
    gcTime: 30_000,
    queryFn: async (): Promise<Strip> => ({
      bitmap: await fetchBitmap(`/api/pieces/${piece.id}/rail`, {
        method: "POST", headers: { "content-type": "application/json" }, body: JSON.stringify({ looks, edge }),
      }),
      count: looks.length,
    }),
  });
}
