import Box from "@mui/material/Box";
import { useEffect, useRef } from "react";
import { fetchBitmap, pictureUrl, pieceShown, type Gap, type Piece } from "../../api/client";
import { tellProblem } from "../../api/notice";
import { toWindow } from "../../picture/camera";
import type { Stage } from "../../picture/PictureView";
import { strokeClosings } from "./strokeClosings";

const SIDE = 220;

/** The gap close up, in the lower corner that does not hide it. */
export function Loupe({ piece, gap, stage }: { piece: Piece; gap: Gap; stage: Stage }) {
  const [wx, wy] = toWindow(stage.camera, stage.box, stage.flip, gap.x, gap.y);
  const hides = wx > stage.box.width - SIDE - 60 && wy > stage.box.height - SIDE - 60;
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width, height } = piece;
  const half = Math.round(Math.max(30, 2.2 * gap.width));
  useEffect(() => {
    const stop = new AbortController();
    const x = Math.max(0, Math.min(width - 2, Math.floor(gap.x) - half));
    const y = Math.max(0, Math.min(height - 2, Math.floor(gap.y) - half));
    const view = { x, y, width: Math.min(2 * half, width - x), height: Math.min(2 * half, height - y), scale: 1 };
    fetchBitmap(pictureUrl(pieceShown(piece), "lines", view), { signal: stop.signal }).then((bitmap) => {
      const ctx = canvas.current?.getContext("2d");
      if (!ctx || stop.signal.aborted) return;
      const zoom = ctx.canvas.width / (2 * half);
      ctx.setTransform(1, 0, 0, 1, 0, 0);
      ctx.clearRect(0, 0, ctx.canvas.width, ctx.canvas.height);
      ctx.setTransform(zoom, 0, 0, zoom, -zoom * (Math.floor(gap.x) - half), -zoom * (Math.floor(gap.y) - half));
      ctx.imageSmoothingEnabled = zoom < 3;
      ctx.drawImage(bitmap, x, y);
      strokeClosings(ctx, zoom, piece.recipe.closings ?? [], gap);
    }).catch((error: unknown) => {
      if (!stop.signal.aborted) tellProblem(error);
    });
    return () => stop.abort();
  }, [piece, gap, half, width, height]);
  const dpr = window.devicePixelRatio;
  return (
    <Box sx={{ position: "absolute", [hides ? "left" : "right"]: 12, bottom: 12, width: SIDE, height: SIDE,
      borderRadius: 1, overflow: "hidden", border: 1, borderColor: "divider", bgcolor: "background.default",
        pointerEvents: "none" }}>
      <canvas ref={canvas} data-testid="loupe" width={SIDE * dpr} height={SIDE * dpr}
        style={{ width: SIDE, height: SIDE, display: "block" }} />
    </Box>
  );
}
