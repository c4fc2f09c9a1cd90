import { useMemo } from "react";
import type { Edit, Piece, PictureKind } from "../api/client";
import { useChanges } from "../api/pieces";
import { endPreview, wishPreview } from "../picture/preview";

/** For controls that are dragged: show while dragging, make the edit at the end. */
export function useLiveEdit(piece: Piece, kind: PictureKind = "picture") {
  const { edit } = useChanges(piece.id);
  const { id, revision } = piece;
  return useMemo(() => ({
    show: (change: Edit) => wishPreview(id, change, kind),
    drop: () => endPreview(false),
    make: async (change: Edit) => {
      endPreview(true);
      const after = await edit(change);
      if (!after || after.revision === revision) endPreview(false);
      return after;
    },
  }), [id, revision, kind, edit]);
}

export type LiveEdit = ReturnType<typeof useLiveEdit>;
