import type { Camera, Size } from "./camera";
import type { Source } from "./sources";
import type { Tile } from "./tile";

export interface Clip {
  /** Share of the window's width, 0..1, from and to which a source is drawn. */
  from: number;
  to: number;
}

/** Set the context so that picture pixels can be drawn as they are. */
export function enterPicture(ctx: CanvasRenderingContext2D, camera: Camera, box: Size, flip: boolean): void {
  const dpr = window.devicePixelRatio;
  const side = flip ? -1 : 1;
  const k = camera.zoom * dpr;
  // Whole device pixels, so that at 100 % one picture pixel is one screen pixel.
  const tx = Math.round((box.width / 2) * dpr - side * camera.cx * k);
  const ty = Math.round((box.height / 2) * dpr - camera.cy * k);
  ctx.setTransform(side * k, 0, 0, k, tx, ty);
}

export function paint(
  ctx: CanvasRenderingContext2D, source: Source, preview: Tile | null, picture: Size,
  camera: Camera, box: Size, flip: boolean, clip: Clip | null,
): void {
  const dpr = window.devicePixelRatio;
  ctx.save();
  if (clip) {
    ctx.setTransform(1, 0, 0, 1, 0, 0);
    ctx.beginPath();
    ctx.rect(clip.from * box.width * dpr, 0, (clip.to - clip.from) * box.width * dpr, box.height * dpr);
    ctx.clip();
  }
  enterPicture(ctx, camera, box, flip);
  const k = camera.zoom * dpr;
  ctx.imageSmoothingQuality = "medium";
  const sharp = k >= 1.999 || Math.abs(k - 1) < 1e-6;
  const top = preview ?? source.detail;
  const under = top && covers(top, picture, camera, box) ? null : source.whole;
  for (const tile of [under, top]) {
    if (!tile) continue;
    ctx.imageSmoothingEnabled = !sharp || tile.view.scale < Math.min(1, k);
    drawTile(ctx, tile);
  }
  ctx.restore();
}

/** Whether a tile leaves nothing of the picture under it to be seen. */
function covers(tile: Tile, picture: Size, camera: Camera, box: Size): boolean {
  const [w, h] = [box.width / camera.zoom / 2, box.height / camera.zoom / 2];
  const { x, y, width, height } = tile.view;
  return x <= Math.max(0, camera.cx - w) && y <= Math.max(0, camera.cy - h)
    && x + width >= Math.min(picture.width, camera.cx + w) && y + height >= Math.min(picture.height, camera.cy + h);
}

function drawTile(ctx: CanvasRenderingContext2D, tile: Tile): void {
  const { x, y, width, height } = tile.view;
  ctx.drawImage(tile.bitmap, x, y, width, height);
}
