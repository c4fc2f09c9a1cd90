import { useEffect, useRef } from "react";
import { fetchBitmap, type Edit, type Piece, type PictureKind } from "../api/client";
import { wholeView } from "./sources";

// One after the other, so that the picture itself is not kept waiting.
let before: Promise<unknown> = Promise.resolve();

interface Props {
  piece: Piece;
  /** What is shown as made; nothing is changed. */
  edit: Edit;
  kind?: PictureKind;
  draft?: boolean;
  edge?: number;
  name: string;
}

/** A small picture of the piece as it would be after an edit. */
export function EditThumb({ piece, edit, kind = "picture", draft = true, edge = 360, name }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { id, revision, width, height } = piece;
  const body = JSON.stringify({ edit, view: wholeView({ width, height }, edge), kind, draft });
  useEffect(() => {
    const stop = new AbortController();
    const draw = async () => {
      if (stop.signal.aborted) return;
      const bitmap = await fetchBitmap(`/api/pieces/${id}/preview`, { method: "POST",
        headers: { "content-type": "application/json" }, body, signal: stop.signal });
      const surface = canvas.current;
      if (!surface) return;
      [surface.width, surface.height] = [bitmap.width, bitmap.height];
      surface.getContext("2d")?.drawImage(bitmap, 0, 0);
      surface.dataset.drawn = name;
    };
    // What fails here is told by the picture, which asks for the same.
    before = before.then(draw).catch(() => undefined);
    return () => stop.abort();
  }, [id, revision, body, name]);
  return <canvas ref={canvas} width={edge} height={edge}
    style={{ width: "100%", aspectRatio: `${width} / ${height}`, borderRadius: 4, display: "block" }} aria-hidden />;
}
