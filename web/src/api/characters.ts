import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, exactly, need, toProblem, type Character, type Piece } from "./client";
import { tellProblem } from "./notice";

export function useCharacters() {
  return useQuery({ queryKey: ["characters"], staleTime: 0,
    queryFn: () => exactly<"/api/characters", "get">(api.GET("/api/characters")) });
}

/** Whose picture a piece is, and its parts against the card. */
export function usePieceCharacter(piece: Piece) {
  return useQuery({
    queryKey: ["character", piece.id, piece.revision],
    queryFn: () => exactly<"/api/pieces/{piece_id}/character", "get">(
      api.GET("/api/pieces/{piece_id}/character", { params: { path: { piece_id: piece.id } } })),
    placeholderData: (before) => before,
  });
}

async function send(path: string, method: "POST" | "PUT", form: FormData): Promise<Character> {
  const response = await fetch(path, { method, body: form });
  const body: unknown = await response.json().catch(() => null);
  if (!response.ok) throw toProblem(body, response.status);
  return body as Character;
}

/** Changes to characters and cards; what went wrong is told, and null is given. */
export function useCharacterChanges() {
  const client = useQueryClient();
  const run = async <T,>(call: () => Promise<T>): Promise<T | null> => {
    try {
      return await call();
    } catch (error) {
      tellProblem(error);
      return null;
    } finally {
      await Promise.all([client.invalidateQueries({ queryKey: ["characters"] }),
        client.invalidateQueries({ queryKey: ["character"] })]);
    }
  };
  const of = (character_id: number) => ({ params: { path: { character_id } } });
  return {
    make: (name: string, from_piece:
      number) => run(() => need(api.POST("/api/characters", { body: { name, from_piece } }))),
    rename: (id: number, name:
      string) => run(() => need(api.PATCH("/api/characters/{character_id}", { ...of(id), body: { name } }))),
    saveBack: (id: number, from_piece:
      number) => run(() => need(api.PATCH("/api/characters/{character_id}", { ...of(id), body: { from_piece } }))),
    remove: (id: number) => run(() => need(api.DELETE("/api/characters/{character_id}", of(id)))),
    give: (piece_id: number, character: number | null) =>
      run(() => need(api.PUT("/api/pieces/{piece_id}/character", { params: { path: { piece_id } },
        body: { character } }))),
    fromFile: (name: string, file: File) => run(() => {
      const form = new FormData();
      form.set("file", file);
      form.set("name", name);
      return send("/api/characters/import", "POST", form);
    }),
    replaceCard: (id: number, file: File) => run(() => {
      const form = new FormData();
      form.set("file", file);
      return send(`/api/characters/${id}/card`, "PUT", form);
    }),
  };
}
