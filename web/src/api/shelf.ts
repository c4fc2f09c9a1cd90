import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, need, type Edit, type Schemas } from "./client";
import { tellProblem } from "./notice";

export type Palette = Schemas["Palette"];

/** Palettes of one's own, shared by all pieces. */
export function usePalettes() {
  return useQuery({ queryKey: ["palettes"], queryFn: () => need(api.GET("/api/palettes")) });
}

export function usePaletteChanges() {
  const client = useQueryClient();
  const told = async (call: () => Promise<unknown>): Promise<boolean> => {
    try {
      await call();
      await client.invalidateQueries({ queryKey: ["palettes"] });
      return true;
    } catch (error) {
      tellProblem(error);
      return false;
    }
  };
  return {
    keep: (name: string, colours: Palette["colours"]) => told(() => need(api.POST("/api/palettes", {
      body: { name, colours } }))),
    remove: (id: number) => told(() => need(api.DELETE("/api/palettes/{palette_id}", {
      params: { path: { palette_id: id } } }))),
  };
}

/** The edit by which a piece takes the colours of a palette. */
export const fetchDressed = async (piece: number, palette: number): Promise<Edit> => await need(
  api.GET("/api/pieces/{piece_id}/dressed-in/{palette_id}", { params: { path: { piece_id: piece,
    palette_id: palette } } })) as Edit;
