import { create } from "zustand";
import { askedKind, fetchBitmap, type Edit, type PictureKind, type View } from "../api/client";
import { latestWins } from "../api/latest";
import { fit, toPicture, useCamera } from "./camera";
import { useGlance } from "./glance";
import type { Tile } from "./tile";

export interface PreviewTile extends Tile {
  /** Time of the event that asked for it, for measuring how long pixels take; null if refined later. */
  wished: number | null;
}

const REFINE_MS = 130;

interface PreviewState {
  /** The picture as it would be after the edit that is being made; null when none is. */
  tile: PreviewTile | null;
}

export const usePreview = create<PreviewState>(() => ({ tile: null }));

interface Wish {
  piece: number;
  edit: Edit;
  view: View;
  kind: PictureKind;
  draft: boolean;
  wished: number | null;
}

let refining = 0;

const wishes = latestWins<Wish>(async (wish, wanted) => {
  try {
    const bitmap = await fetchBitmap(`/api/pieces/${wish.piece}/preview`, {
      method: "POST",
      headers: { "content-type": "application/json" },
      body: JSON.stringify({ edit: wish.edit, view: wish.view, ...askedKind(wish.kind), draft: wish.draft }),
    });
    if (wanted()) usePreview.setState({ tile: { bitmap, view: wish.view, of: "preview", wished: wish.wished } });
  } catch {
    // The edit itself will be sent, and will say what is wrong.
  }
  if (!wish.draft || !wanted()) return;
  // When the hand rests the shapes are shown as they will be.
  clearTimeout(refining);
  refining = window.setTimeout(() => {
    if (wishes.idle() && wanted()) wishes.wish({ ...wish, draft: false, wished: null });
  }, REFINE_MS);
});

// Edits after which much is worked out anew: a drag shows them roughly, and well when it rests.
const DRAFTED = new Set<Edit["kind"]>(["move_light", "set_form", "set_lines"]);

/** Ask for a preview of what the window shows; only the newest wish is kept. */
export function wishPreview(piece: number, edit: Edit, kind: PictureKind = "picture"): void {
  const draft = DRAFTED.has(edit.kind);
  const wish = { piece, edit, view: visibleView(), kind, draft, wished: performance.now() };
  clearTimeout(refining);
  wishes.wish(wish);
}

/** The edit has been made (or dropped): show the preview until the real picture is there. */
export function endPreview(keep: boolean): void {
  wishes.forget();
  if (!keep) usePreview.setState({ tile: null });
}

const MOST_PIXELS = 520_000;

/** The visible part of the picture, at a size that can be drawn many times a second. */
function visibleView(): View {
  const { camera, picture, box } = useCamera.getState();
  const shown = useGlance.getState().small || !camera ? fit(picture, box) : camera;
  const [x0, y0] = toPicture(shown, box, false, 0, 0);
  const [x1, y1] = toPicture(shown, box, false, box.width, box.height);
  const x = Math.min(picture.width - 1, Math.max(0, Math.floor(x0)));
  const y = Math.min(picture.height - 1, Math.max(0, Math.floor(y0)));
  const width = Math.max(1, Math.min(picture.width, Math.ceil(x1)) - x);
  const height = Math.max(1, Math.min(picture.height, Math.ceil(y1)) - y);
  const scale = Math.min(1, shown.zoom * window.devicePixelRatio, Math.sqrt(MOST_PIXELS / (width * height)));
  return { x, y, width, height, scale };
}
