import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, exactly, need, type BroughtHome, type JobState, type LayeredFile, type LayerMatch, type Piece,
  type Returned, type Wishes } from "./client";
import { tellProblem } from "./notice";

export function useOwnFindings(piece: Piece, on: boolean) {
  return useQuery({
    queryKey: ["own-findings", piece.id, piece.revision],
    enabled: on,
    staleTime: Infinity,
    queryFn: () => exactly<"/api/pieces/{piece_id}/stack/findings",
      "get">(api.GET("/api/pieces/{piece_id}/stack/findings", { params: { path: { piece_id: piece.id } } })),
  });
}

export function useTemplates() {
  return useQuery({ queryKey: ["stack-templates"], queryFn: () => need(api.GET("/api/stack-templates")) });
}

export function useTemplateChanges() {
  const client = useQueryClient();
  const told = async (call: () => Promise<unknown>): Promise<boolean> => {
    try {
      await call();
      await client.invalidateQueries({ queryKey: ["stack-templates"] });
      return true;
    } catch (error) {
      tellProblem(error);
      return false;
    }
  };
  return {
    save: (name: string, piece:
      number) => told(() => need(api.POST("/api/stack-templates", { body: { name, piece } }))),
    remove: (id: number) => told(() => need(api.DELETE("/api/stack-templates/{template_id}", {
      params: { path: { template_id: id } } }))),
  };
}

/** Layered files that came in: those of a piece, or all. */
export function useLayeredFiles(piece?: number) {
  return useQuery({
    queryKey: ["layered-files", piece ?? null],
    queryFn: () => need(api.GET("/api/layered", { params: { query: piece === undefined ? {} : { piece } } })),
  });
}

export function useLayered(id: number) {
  return useQuery({
    queryKey: ["layered", id],
    staleTime: Infinity,
    queryFn: async (): Promise<LayeredFile> => need(api.GET("/api/layered/{file_id}", {
      params: { path: { file_id: id } } })),
  });
}

export function useLayeredFindings(id: number) {
  return useQuery({
    queryKey: ["layered-findings", id],
    staleTime: Infinity,
    queryFn: () => exactly<"/api/layered/{file_id}/findings",
      "get">(api.GET("/api/layered/{file_id}/findings", { params: { path: { file_id: id } } })),
  });
}

export function fetchMatches(id: number, piece: number, matches: LayerMatch[] = []): Promise<Returned[]> {
  return need(api.POST("/api/layered/{file_id}/matches", { params: { path: { file_id: id } },
    body: { piece, matches } }));
}

/** What each layer is of a piece; asked anew when the piece changes. */
export function useMatches(id: number, piece: Piece | undefined) {
  return useQuery({
    queryKey: ["matches", id, piece?.id, piece?.revision],
    enabled: piece !== undefined,
    staleTime: Infinity,
    retry: false,
    placeholderData: keepPreviousData, // while layers are matched to the piece as it has become
    queryFn: () => fetchMatches(id, piece?.id ?? 0),
  });
}

/** Starts to bring what was painted in a file into a piece; the job's answer says what came of it. */
export function takeOver(id: number, piece: Piece, matches: LayerMatch[], added: number[], wishes: Wishes):
  Promise<JobState> {
  return exactly<"/api/layered/{file_id}/take-over",
    "post">(api.POST("/api/layered/{file_id}/take-over", { params: { path: { file_id: id } },
      body: { piece: piece.id, seen: piece.revision, matches, added, wishes } }));
}

/** What came of it, if the job has come to its end. */
export const broughtBy = (job: JobState): BroughtHome | null =>
  job.answer && "left" in job.answer ? job.answer : null;
