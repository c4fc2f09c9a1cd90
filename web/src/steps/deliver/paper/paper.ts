import type { Schemas } from "../../../api/client";

export type Setup = Schemas["PaperSetup"];
export type Box = readonly [x: number, y: number, width: number, height: number];
export type Spot = NonNullable<Setup["placed"]>;

export const MM_PER_INCH = 25.4;
const MARK_LENGTH = 5; // mm, as the files have it
const MARK_AWAY = 3;

/** What a piece has that has no set-up of its own. */
export const USUAL: Required<Setup> = { width: 210, height: 297, margin: 10, safe: 5, bleed: 0, marks: false,
  subject: "picture", placed: null, around: "white", kernel: "smooth" };

/** Where the whole picture lies on the trimmed sheet, mm. */
export function lie(setup: Required<Setup>, size: readonly [number, number], subject: Box): Box {
  const [x, y, w, h] = subject;
  const room = [setup.width - 2 * setup.margin, setup.height - 2 * setup.margin] as const;
  const scale = setup.placed ? setup.placed.width / size[0] : Math.max(0.001, Math.min(room[0] / w, room[1] / h));
  const [mx, my] = setup.placed ? [setup.placed.x, setup.placed.y] : [setup.width / 2, setup.height / 2];
  return [mx - (x + w / 2) * scale, my - (y + h / 2) * scale, size[0] * scale, size[1] * scale];
}

/** The spot that a picture lies at. */
export function spotOf(box: Box, size: readonly [number, number], subject: Box): Spot {
  const scale = box[2] / size[0];
  return { x: box[0] + (subject[0] + subject[2] / 2) * scale, y: box[1] + (subject[1] + subject[3] / 2) * scale,
    width: box[2] };
}

/** A picture made larger or smaller while a point of the sheet stays where it is. */
export function scaled(spot: Spot, times: number, at: readonly [number, number]): Spot {
  const width = Math.min(10_000, Math.max(1, spot.width * times));
  const k = width / spot.width;
  return { x: at[0] + (spot.x - at[0]) * k, y: at[1] + (spot.y - at[1]) * k, width };
}

/** Pixels of the picture to an inch. */
export const dpiOf = (box: Box, size: readonly [number, number]) => (size[0] * MM_PER_INCH) / box[2];

/** Shares of the picture that the sheet cuts off: left, top, right, bottom. */
export function cutOff(setup: Setup, [x, y, w, h]: Box): [number, number, number, number] {
  const share = (beyond: number, length: number) => Math.min(1, Math.max(0, beyond / length));
  return [share(-x, w), share(-y, h), share(x + w - (setup.width ?? 0), w), share(y + h - (setup.height ?? 0), h)];
}

/** How far the whole sheet goes beyond its trimmed edge, mm. */
export const slugOf = ({ bleed = 0, marks = false }: Setup) => (marks ? Math.max(bleed, MARK_AWAY) + MARK_LENGTH
  : bleed);

/** Where to cut: lines in mm from the trimmed corner. */
export function cropMarks({ width = 0, height = 0, bleed = 0, marks = false }: Setup): [number, number, number,
  number][] {
  if (!marks) return [];
  const away = Math.max(bleed, MARK_AWAY);
  return [...[0, width].flatMap((x): [number, number, number, number][] => [[x, -away - MARK_LENGTH, x, -away],
    [x, height + away, x, height + away + MARK_LENGTH]]),
  ...[0, height].flatMap((y): [number, number, number, number][] => [[-away - MARK_LENGTH, y, -away, y],
    [width + away, y, width + away + MARK_LENGTH, y]])];
}

/** The name of a paper by its size, whichever way it lies; null if it is one's own. */
export function paperName(papers: Record<string, readonly number[]>, width: number, height: number): string | null {
  const [short, long] = [Math.min(width, height), Math.max(width, height)];
  return Object.keys(papers).find((name) => {
    const [w = 0, h = 0] = papers[name] ?? [];
    return Math.abs(w - short) < 0.05 && Math.abs(h - long) < 0.05;
  }) ?? null;
}

const SIDES = ["on the left", "above", "on the right", "below"];

/** What is cut off, in words; null if nothing is. */
export function cutWords(cut: readonly number[]): string | null {
  const told = cut.map((share, k) => [share, SIDES[k]] as const).filter(([share]) => share > 0.002)
    .map(([share, side]) => `${Math.max(1, Math.round(100 * share))}\u00a0% ${side}`);
  return told.length ? `The sheet cuts off ${told.join(", ")}.` : null;
}
