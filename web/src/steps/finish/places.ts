import type { FinishDraft, Piece, Point } from "../../api/client";
import { laid, type ColourGradient, type LaidPattern } from "./finish";
import type { Places } from "./PlaceHandles";

export interface LayerPlaces {
  places: Places;
  /** What of the layer changes when they lie there. */
  put: (ends: [Point, Point]) => Partial<FinishDraft>;
}

export const apart = ([a, b]: [Point, Point]) => Math.max(1, Math.round(Math.hypot(b[0] - a[0], b[1] - a[1])));

const aside = (at: Point, by: number): Point => [at[0] + by, at[1]];

/** All that lies somewhere in a layer, and can be dragged. */
export function placesOf({ paint, shape }: FinishDraft): LayerPlaces[] {
  const found: LayerPlaces[] = [];
  if (paint.kind === "gradient") found.push({
    places: { ends: paint.ends as [Point, Point], round: paint.round ?? false, of: "of the gradient",
      colours: [paint.stops[0]?.colour ?? "#fff", paint.stops.at(-1)?.colour ?? "#fff"] },
    put: (ends) => ({ paint: { ...paint, ends } }),
  });
  if (paint.kind === "pattern") {
    const at = paint.at as Point;
    const colour = paint.pattern.colour ?? "#888888";
    found.push({
      places: { ends: [at, aside(at, paint.pattern.period)], round: true, of: "of the pattern",
        colours: [colour, colour] },
      put: (ends) => ({ paint: { ...paint, at: ends[0], pattern: { ...paint.pattern,
        period: Math.max(8, apart(ends)) } } }),
    });
  }
  if (shape.kind === "sparks") {
    const at = shape.at as Point;
    found.push({
      places: { ends: [at, aside(at, shape.radius)], round: true, of: "of the sparks",
        colours: ["#ffc46e", "#ffc46e"] },
      put: (ends) => ({ shape: { ...shape, at: ends[0], radius: apart(ends) } }),
    });
  }
  return found;
}

export type PaintKind = "colour" | "gradient" | "round" | "form" | "pattern";

export const paintKind = (paint: FinishDraft["paint"]): PaintKind => (paint.kind === "gradient"
  ? (paint.round ? "round" : "gradient") : paint.kind);

const firstColour = (paint: FinishDraft["paint"]) => (paint.kind === "colour" ? paint.colour
  : paint.kind === "pattern" ? (paint.pattern.colour ?? "#888888") : (paint.stops[0]?.colour ?? "#888888"));

/** A paint of another kind, with what can be kept of the one before. */
export function repainted(piece: Piece, paint: FinishDraft["paint"], kind: PaintKind): FinishDraft["paint"] {
  const first = firstColour(paint);
  if (kind === "colour") return { kind, colour: first };
  if (kind === "pattern") {
    const plain: LaidPattern = laid(piece);
    return { ...plain, pattern: { ...plain.pattern, colour: first } };
  }
  const [x, y] = [piece.width / 2, piece.height / 2];
  const stops = "stops" in paint ? paint.stops : [{ at: 0, colour: first, opacity: 1 },
    { at: 1, colour: kind === "gradient" ? "#ffffff" : first, opacity: kind === "gradient" ? 1 : 0 }];
  if (kind === "form") return { kind, way: "light", stops };
  const kept: ColourGradient["ends"] | null = paint.kind === "gradient" ? paint.ends : null;
  return { kind: "gradient", round: kind === "round", stops, ends: kept ?? (kind === "round"
    ? [[x, y], [x + Math.max(x, y) / 2, y]] : [[x, 0], [x, piece.height]]) };
}
