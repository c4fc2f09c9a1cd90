import type { View } from "../api/client";

export interface Tile {
  bitmap: ImageBitmap;
  view: View;
  /** What the tile shows: piece, revision and kind. */
  of: string;
}
