/** Height of what stands under a picture: its colours and its name. */
const CAPTION = 56;
export const GAP = 12;

/** How wide pictures can be so that all of them are seen, css px.
 *
 * @param count of pictures
 * @param ratio height of a picture by its width
 * @returns null if they would be narrower than the least: then they scroll
 */
export function widest(count: number, ratio: number, room: { width: number; height: number }, least: number): number |
  null {
  let best = 0;
  for (let columns = 1; columns <= count; columns++) {
    const rows = Math.ceil(count / columns);
    const across = (room.width - GAP * (columns - 1)) / columns;
    const down = ((room.height - GAP * (rows - 1)) / rows - CAPTION) / ratio;
    best = Math.max(best, Math.min(across, down));
  }
  return best >= least ? Math.floor(best) : null;
}
