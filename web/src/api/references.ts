import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, exactly, storePicture, type Schemas } from "./client";
import { useEvents } from "./events";
import { tellProblem } from "./notice";

export type KeptReference = Schemas["KeptReference"];

/** The pictures beside a piece; what is done to one is done where it was pinned. */
export function useReferences(piece: number, on = true) {
  const client = useQueryClient();
  const { note } = useEvents(piece);
  const [adding, setAdding] = useState(false);
  const { data } = useQuery({
    queryKey: ["references", piece], enabled: on,
    queryFn: () => exactly<"/api/pieces/{piece_id}/references", "get">(api.GET("/api/pieces/{piece_id}/references", {
      params: { path: { piece_id: piece } } })),
  });
  const anew = () => client.invalidateQueries({ queryKey: ["references"] });
  const add = async (files: readonly File[]) => {
    setAdding(true);
    try {
      for (const file of files) {
        const picture = await storePicture(file);
        await note({ kind: "reference", picture, name: file.name.slice(0, 120), note: "", shared: false });
      }
    } catch (error) {
      tellProblem(error);
    } finally {
      setAdding(false);
      await anew();
    }
  };
  const change = async ({ number }: KeptReference, to: { note: string; shared: boolean }) => {
    if (await note({ kind: "reference_note", reference: number, ...to })) await anew();
  };
  const remove = async ({ number }: KeptReference) => {
    if (await note({ kind: "reference_gone", reference: number })) await anew();
  };
  return { references: data ?? [], adding, add, change, remove };
}

export const referenceUrl = ({ piece, number }: KeptReference, edge = 1600) =>
  `/api/pieces/${piece}/references/${number}/picture?edge=${edge}`;
