import { useEffect, useRef, useState } from "react";
import { fetchBitmap, pictureUrl, type PictureKind, type Shown, type View } from "../api/client";
import { tellProblem } from "../api/notice";
import { toPicture, type Camera, type Size } from "./camera";
import { endPreview } from "./preview";
import type { Tile } from "./tile";

const WHOLE_EDGE = 1400;
const DETAIL_DELAY_MS = 90;
const DETAIL_MARGIN = 0.12;
const WHOLE_DELAY_MS = 500;

export interface Source {
  whole: Tile | null;
  detail: Tile | null;
  /** Whether the detail is of this very picture, and not of the one before. */
  sharp: boolean;
}

export function wholeView(picture: Size, edge = WHOLE_EDGE): View {
  const scale = Math.min(1, edge / Math.max(picture.width, picture.height));
  return { x: 0, y: 0, width: picture.width, height: picture.height, scale };
}

/**
 * The picture in two tiles: whole at screen size, and the visible part sharp when zoomed in.
 * The one that leads takes the place of a preview when it arrives.
 */
export function useSource(shown: Shown, kind: PictureKind, camera: Camera, box: Size, flip: boolean, on: boolean,
  leads = false): Source {
  const { at, revision, width, height } = shown;
  const of = `${at}:${revision}:${kind}`;
  const [whole, setWhole] = useState<Tile | null>(null);
  const [detail, setDetail] = useState<(Tile & { picture: Size }) | null>(null);

  const dense = camera.zoom * window.devicePixelRatio;
  // Any other density than the whole tile's is asked for as it is: scaled pictures look soft.
  const wanted = on && Math.abs(dense / wholeView({ width, height }).scale - 1) > 0.03;
  const looked = useRef("");
  const [x0, y0] = toPicture(camera, box, false, 0, 0);
  const [x1, y1] = toPicture(camera, box, false, box.width, box.height);

  useEffect(() => {
    if (!wanted || box.width < 2) return;
    const stop = new AbortController();
    // While the window moves over the picture, wait; when the picture changes under it, do not.
    const looks = [x0, y0, x1, y1, dense, kind].join();
    const delay = looked.current === looks ? 0 : DETAIL_DELAY_MS;
    looked.current = looks;
    const timer = setTimeout(() => {
      const view = detailView(x0, y0, x1, y1, { width, height }, Math.min(1, dense));
      if (!view) return;
      fetchBitmap(pictureUrl({ title: "", at, revision, width, height }, kind, view), { signal: stop.signal })
        .then((bitmap) => {
          if (stop.signal.aborted) return;
          setDetail({ bitmap, view, of, picture: { width, height } });
          if (leads) endPreview(false);
        })
        .catch((error: unknown) => {
          if (!stop.signal.aborted) tellProblem(error);
        });
    }, delay);
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  }, [wanted, x0, y0, x1, y1, dense, flip, box.width, at, revision, kind, width, height, of, leads]);

  const seen = wanted && detail?.of === of;
  const have = whole?.of === of;
  useEffect(() => {
    if (!on || have) return;
    const stop = new AbortController();
    const view = wholeView({ width, height });
    // What is in the window comes first; the rest of the picture after it.
    const timer = setTimeout(() => {
      fetchBitmap(pictureUrl({ title: "", at, revision, width, height }, kind, view), { signal: stop.signal })
        .then((bitmap) => {
          if (stop.signal.aborted) return;
          setWhole({ bitmap, view, of });
          if (leads) endPreview(false);
        })
        .catch((error: unknown) => {
          if (!stop.signal.aborted) tellProblem(error);
        });
    }, wanted && !seen ? WHOLE_DELAY_MS : 0);
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  }, [at, revision, kind, width, height, of, on, leads, wanted, seen, have]);

  // The part that was sharp stays until it is sharp anew, unless the picture has another size.
  const kept = wanted && detail?.picture.width === width && detail.picture.height === height
    && detail.of.startsWith(`${at}:`);
  return { whole, detail: kept ? detail : null, sharp: seen };
}

function detailView(x0: number, y0: number, x1: number, y1: number, picture: Size, scale: number): View | null {
  const [mx, my] = [DETAIL_MARGIN * (x1 - x0), DETAIL_MARGIN * (y1 - y0)];
  const left = Math.max(0, Math.floor(x0 - mx));
  const top = Math.max(0, Math.floor(y0 - my));
  const right = Math.min(picture.width, Math.ceil(x1 + mx));
  const bottom = Math.min(picture.height, Math.ceil(y1 + my));
  if (right <= left || bottom <= top) return null;
  return { x: left, y: top, width: right - left, height: bottom - top, scale };
}
