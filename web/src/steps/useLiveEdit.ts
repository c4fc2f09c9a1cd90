import { useMemo, useRef } from "react";
import type { Edit, Piece, PictureKind } from "../api/client";
import { useChanges } from "../api/pieces";
import { endPreview, wishPreview } from "../picture/preview";

/** For controls that are dragged: show while dragging, make the edit at the end. What is made while an
 *  earlier edit is on its way, as with a key held down, ends with the last one: until then the control
 *  keeps what it shows. */
export function useLiveEdit(piece: Piece, kind: PictureKind = "picture") {
  const { edit } = useChanges(piece.id);
  const { id, revision } = piece;
  const newest = useRef<Promise<Piece | null>>(null);
  return useMemo(() => ({
    show: (change: Edit) => wishPreview(id, change, kind),
    drop: () => endPreview(false),
    make: async (change: Edit) => {
      endPreview(true);
      const mine = newest.current = edit(change);
      const after = await mine;
      if (!after || after.revision === revision) endPreview(false);
      for (let last: typeof newest.current = mine; newest.current !== last;) {
        last = newest.current;
        await last;
      }
      return after;
    },
  }), [id, revision, kind, edit]);
}

export type LiveEdit = ReturnType<typeof useLiveEdit>;
