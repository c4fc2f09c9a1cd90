import { useCallback, useMemo, useState } from "react";
import { api, need, sent, type Edit, type Piece, type Sheet } from "../../api/client";
import { latestWins } from "../../api/latest";
import { useSheet } from "../../api/pieces";

/** The sheet, and while an edit is being dragged the sheet as it would be; newest wish wins. */
export function useLiveSheet(piece: Piece) {
  const saved = useSheet(piece).data;
  const [live, setLive] = useState<{ revision: number; sheet: Sheet } | null>(null);
  const { id, revision } = piece;
  const wishes = useMemo(() => latestWins<Edit>(async (edit, wanted) => {
    try {
      const sheet = await need(api.POST("/api/pieces/{piece_id}/preview/sheet", {
        params: { path: { piece_id: id } }, body: sent(edit),
      }));
      if (wanted()) setLive({ revision, sheet });
    } catch {
      // The edit itself will be sent, and will say what is wrong.
    }
  }), [id, revision]);
  const drop = useCallback(() => {
    wishes.forget();
    setLive(null);
  }, [wishes]);
  return { sheet: live?.revision === revision ? live.sheet : saved, show: wishes.wish, drop };
}
