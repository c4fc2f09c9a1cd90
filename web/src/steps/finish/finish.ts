import type { Edit, FinishDraft, FinishLayer, Piece, Point } from "../../api/client";

export type Paint = FinishDraft["paint"];
export type Shape = FinishDraft["shape"];
export type ColourGradient = Extract<Paint, { kind: "gradient" }>;
export type Spots = Extract<Shape, { kind: "spots" }>;
export type Operation = FinishDraft["operations"][number];

/** An edit that makes a layer what it is to be; everything but its id is sent. */
export function changeOf(id: string, to: FinishDraft): Edit {
  const { name, paint, shape, operations, texture, mode, strength, scope, parts, over_lines, visible } = to;
  return { kind: "change_finish", layer: id, to: { name, paint, shape, operations, texture, mode, strength, scope,
    parts, over_lines, visible } };
}

const PLAIN: Omit<FinishDraft, "name" | "paint"> = {
  shape: { kind: "everywhere" }, operations: [], texture: null, mode: "normal", strength: 1, scope: "everything",
    parts: [], over_lines: false, visible: true,
};

const colour = (hex: string): Paint => ({ kind: "colour", colour: hex });

export const gradient = (ends: [Point, Point], round: boolean, ...colours: [string, number][]): ColourGradient => ({
  kind: "gradient", ends, round,
  stops: colours.map(([hex, opacity], k) => ({ at: k / (colours.length - 1), colour: hex, opacity })),
});

/** Lengths are set in picture pixels; this is one that looks alike in small and large drawings. */
const px = (piece: Piece, thousandths: number) => Math.round((thousandths * Math.max(piece.width, piece.height)) /
  1000);

export const op = (kind: Operation["kind"], amounts: Record<string, number> = {}): Operation => ({ kind, amounts });

interface Start {
  label: string;
  hint: string;
  make: (piece: Piece) => FinishDraft;
}

/** What a new layer can begin as. */
export const STARTS: Start[] = [
  {
    label: "Colour over the figure", hint: "One tint that ties all parts together",
    make: () => ({ ...PLAIN, name: "tint", paint: colour("#8f7fb4"), mode: "multiply", strength: 0.25,
      scope: "figure" }),
  },
  {
    label: "Colour in the shade", hint: "Soft, only where the shade is",
    make: (p) => ({ ...PLAIN, name: "shade tint", paint: colour("#5a5fa6"), mode: "multiply", strength: 0.36,
      scope: "figure", shape: { kind: "pass", name: "shade", outside: false },
        operations: [op("blur", { by: px(p, 5) })] }),
  },
  {
    label: "Gradient on the ground", hint: "From colour to colour, behind the figure",
    make: (p) => ({ ...PLAIN, name: "sky", scope: "ground", paint: gradient([[p.width / 2, 0], [p.width / 2, p.height]],
      false, ["#9db4c9", 1], ["#f1e2c6", 1]) }),
  },
  {
    label: "Pool of light", hint: "Round a point that you drag",
    make: (p) => ({ ...PLAIN, name: "pool of light", mode: "screen", strength: 0.6,
      paint: gradient([[p.width / 2, p.height / 3], [p.width / 2 + px(p, 350), p.height / 3]], true, ["#ffe2a6", 1],
        ["#ffb766", 0]) }),
  },
  {
    label: "Soft spot", hint: "Drawn: a blush, dirt, greying hair",
    make: (p) => ({ ...PLAIN, name: "spot", paint: colour("#d9665f"), mode: "multiply", strength: 0.4, scope: "figure",
      shape: { kind: "spots", strokes: [] }, operations: [op("blur", { by: px(p, 6) })] }),
  },
  {
    label: "Glow", hint: "Round the figure, or round chosen parts",
    make: (p) => ({ ...PLAIN, name: "glow", paint: colour("#ffd48a"), mode: "screen", strength: 0.8,
      shape: { kind: "parts", parts: [] }, operations: [op("spread", { by: px(p, 6) }), op("blur", { by: px(p, 14) })],
        scope: "ground" }),
  },
  {
    label: "Edge round the figure", hint: "A ring behind it, as on a sticker",
    make: (p) => ({ ...PLAIN, name: "edge", paint: colour("#fffdf6"), scope: "ground",
      shape: { kind: "parts", parts: [] }, operations: [op("spread", { by: Math.max(3, px(p, 6)) })] }),
  },
  {
    label: "Texture", hint: "Paper, grain, canvas, over everything",
    make: (p) => ({ ...PLAIN, name: "paper", paint: colour("#a78d63"), mode: "multiply", strength: 0.25,
      over_lines: true, texture: { key: "paper", size: Math.max(0.4, px(p, 0.45)), angle: 0, amount: 1 } }),
  },
];

export function say(layer: FinishLayer): string {
  return `${layer.mode} ${Math.round(100 * layer.strength)} %`;
}

/** What a layer is made of, as CSS shows it. */
export function swatch(paint: Paint): string {
  if (paint.kind === "colour") return paint.colour;
  if (paint.kind === "pattern") return paint.pattern.colour ?? "#888888";
  const percent = (v: number) => `${Math.round(100 * v)}%`;
  const stops = paint.stops.map((s) =>
    `color-mix(in srgb, ${s.colour} ${percent(s.opacity ?? 1)}, transparent) ${percent(s.at)}`);
  return paint.round ? `radial-gradient(circle, ${stops.join(", ")})` : `linear-gradient(90deg, ${stops.join(", ")})`;
}
