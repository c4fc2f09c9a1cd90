import { useCallback, useRef, useState } from "react";
import { api, need, sent, type Edit, type Piece, type Sheet } from "../../api/client";
import { useSheet } from "../../api/pieces";

/** The sheet, and while an edit is being dragged the sheet as it would be; newest wish wins. */
export function useLiveSheet(piece: Piece) {
  const saved = useSheet(piece).data;
  const [live, setLive] = useState<{ revision: number; sheet: Sheet } | null>(null);
  const queue = useRef<{ running: boolean; waiting: Edit | null }>({ running: false, waiting: null });
  const { id, revision } = piece;

  const show = useCallback((edit: Edit) => {
    const run = async (wish: Edit) => {
      queue.current.running = true;
      try {
        const sheet = await need(api.POST("/api/pieces/{piece_id}/preview/sheet", {
          params: { path: { piece_id: id } }, body: sent(wish),
        }));
        setLive({ revision, sheet });
      } catch {
        // The edit itself will be sent, and will say what is wrong.
      }
      queue.current.running = false;
      const next = queue.current.waiting;
      queue.current.waiting = null;
      if (next) void run(next);
    };
    if (queue.current.running) queue.current.waiting = edit;
    else void run(edit);
  }, [id, revision]);

  const drop = useCallback(() => {
    queue.current.waiting = null;
    setLive(null);
  }, []);
  return { sheet: live?.revision === revision ? live.sheet : saved, show, drop };
}
