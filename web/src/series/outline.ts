export type Place = [number, number];

/** The corner nearest to a place within reach, as [outline, corner]. */
export function nearest(outlines: readonly (readonly Place[])[], [x, y]: Place,
  reach: number): [number, number] | null {
  let best: [number, number] | null = null;
  let least = reach * reach;
  outlines.forEach((outline, k) => outline.forEach(([u, v], j) => {
    const away = (u - x) ** 2 + (v - y) ** 2;
    if (away <= least) {
      least = away;
      best = [k, j];
    }
  }));
  return best;
}

/** Whether a place lies in an outline (even-odd rule). */
export function inside(outline: readonly Place[], [x, y]: Place): boolean {
  let found = false;
  outline.forEach(([u, v], k) => {
    const [s, t] = outline[(k + outline.length - 1) % outline.length] ?? [0, 0];
    if ((v > y) !== (t > y) && x < ((s - u) * (y - v)) / (t - v) + u) found = !found;
  });
  return found;
}

/** Twice the area of an outline. */
export function extent(outline: readonly Place[]): number {
  return Math.abs(outline.reduce((sum, [x, y], k) => {
    const [u, v] = outline[(k + 1) % outline.length] ?? [0, 0];
    return sum + x * v - u * y;
  }, 0));
}

/** A rectangle from corner to corner, within the sheet. */
export function rectangle([x, y]: Place, [u, v]: Place, width: number, height: number): Place[] {
  const clip = (n: number, most: number) => Math.max(0, Math.min(most, n));
  const [left, right] = [clip(Math.min(x, u), width), clip(Math.max(x, u), width)];
  const [top, bottom] = [clip(Math.min(y, v), height), clip(Math.max(y, v), height)];
  return [[left, top], [right, top], [right, bottom], [left, bottom]];
}

/** The list with one entry moved by so many places. */
export function shifted<T>(list: readonly T[], from: number, by: number): T[] {
  const to = from + by;
  if (to < 0 || to >= list.length) return [...list];
  const rest = list.filter((_, k) => k !== from);
  const entry = list[from];
  return entry === undefined ? rest : [...rest.slice(0, to), entry, ...rest.slice(to)];
}
