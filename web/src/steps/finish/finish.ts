import type { Edit, FinishDraft, FinishLayer, Piece, Point } from "../../api/client";

export type Paint = FinishDraft["paint"];
export type Shape = FinishDraft["shape"];
export type ColourGradient = Extract<Paint, { kind: "gradient" }>;
export type FormGradient = Extract<Paint, { kind: "form" }>;
export type LaidPattern = Extract<Paint, { kind: "pattern" }>;
export type Spots = Extract<Shape, { kind: "spots" }>;
export type Operation = FinishDraft["operations"][number];

/** An edit of the finish as it is made on a look; several are several there. */
export function aimed(edit: Edit, wearer: string): Edit {
  if (wearer === "piece") return edit;
  if (edit.kind === "several") return { ...edit, edits: edit.edits.map((e) => aimed(e, wearer)) } as Edit;
  return { ...edit, targets: [wearer] } as Edit;
}

/** An edit that makes a layer what it is to be; everything but its id is sent. */
export function changeOf(id: string, to: FinishDraft): Edit {
  const { name, paint, shape, operations, texture, mode, strength, scope, parts, over_lines, visible, focus } = to;
  return { kind: "change_finish", layer: id, to: { name, paint, shape, operations, texture, mode, strength, scope,
    parts, over_lines, visible, focus } };
}

const PLAIN: Omit<FinishDraft, "name" | "paint"> = {
  shape: { kind: "everywhere" }, operations: [], texture: null, mode: "normal", strength: 1, scope: "everything",
    parts: [], over_lines: false, visible: true, focus: "as it is",
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
  group: "Colour" | "Light" | "Shade and edges" | "Ground and surface";
  label: string;
  hint: string;
  make: (piece: Piece) => FinishDraft;
}

/** The part that a lamp is tried with: what is smallest catches the eye, but a name tells more. */
export function likelyLamp(piece: Piece): string {
  const parts = (piece.recipe?.parts ?? []).filter((p) => p.visible !== false);
  return (parts.find((p) => /\b(lamp|lantern|candle|fire|flame|torch|moon|sun|star|screen|eyes?)s?$/i.test(p.name))
    ?? parts[0])?.id ?? "p1";
}

/** Colours with how much they cover, evenly along the way. */
const stops = (...colours: [string, number][]) => gradient([[0, 0], [1, 1]], false, ...colours).stops;

/** What a new layer can begin as, group by group. */
export const STARTS: Start[] = [
  {
    group: "Colour", label: "Colour over the figure", hint: "One tint that ties all parts together",
    make: () => ({ ...PLAIN, name: "tint", paint: colour("#8f7fb4"), mode: "multiply", strength: 0.25,
      scope: "figure" }),
  },
  {
    group: "Colour", label: "Colour along the form", hint: "From what faces the light to what turns away",
    make: () => ({ ...PLAIN, name: "turning colour", mode: "soft-light", strength: 0.6, scope: "figure",
      paint: { kind: "form", way: "light", stops: stops(["#3d4a8f", 0.9], ["#8d7f8f", 0], ["#ffd9a0", 0.9]) } }),
  },
  {
    group: "Colour", label: "Soft spot", hint: "Drawn: a blush, dirt, greying hair",
    make: (p) => ({ ...PLAIN, name: "spot", paint: colour("#d9665f"), mode: "multiply", strength: 0.4, scope: "figure",
      shape: { kind: "spots", strokes: [] }, operations: [op("blur", { by: px(p, 6) })] }),
  },
  {
    group: "Light", label: "Pool of light", hint: "Round a point that you drag",
    make: (p) => ({ ...PLAIN, name: "pool of light", mode: "screen", strength: 0.6,
      paint: gradient([[p.width / 2, p.height / 3], [p.width / 2 + px(p, 350), p.height / 3]], true, ["#ffe2a6", 1],
        ["#ffb766", 0]) }),
  },
  {
    group: "Light", label: "Light from a part", hint: "A lamp, eyes, a screen: on what faces it and is near",
    make: (p) => ({ ...PLAIN, name: "light given off", paint: colour("#ffcf8a"), mode: "screen", strength: 0.75,
      shape: { kind: "given off", parts: [likelyLamp(p)], reach: px(p, 160), height: px(p, 55) } }),
  },
  {
    group: "Light", label: "Glow", hint: "Round the figure, or round chosen parts",
    make: (p) => ({ ...PLAIN, name: "glow", paint: colour("#ffd48a"), mode: "screen", strength: 0.8,
      shape: { kind: "parts", parts: [] }, operations: [op("spread", { by: px(p, 6) }), op("blur", { by: px(p, 14) })],
        scope: "ground" }),
  },
  {
    group: "Light", label: "Halo round highlights", hint: "They bloom a little",
    make: (p) => ({ ...PLAIN, name: "bloom", paint: colour("#fff0d2"), mode: "screen", strength: 0.5, scope: "figure",
      shape: { kind: "pass", name: "light", outside: false },
        operations: [op("spread", { by: px(p, 2) }), op("blur", { by: px(p, 6) })] }),
  },
  {
    group: "Light", label: "Sparks", hint: "Scattered about a point that you drag",
    make: (p) => ({ ...PLAIN, name: "sparks", paint: colour("#ffc46e"), mode: "plus-lighter", over_lines: true,
      shape: { kind: "sparks", at: [p.width / 2, p.height / 2], radius: px(p, 300), count: 80, size: px(p, 3),
        spread: 0.8, seed: 1 } }),
  },
  {
    group: "Shade and edges", label: "Colour in the shade", hint: "Soft, only where the shade is",
    make: (p) => ({ ...PLAIN, name: "shade tint", paint: colour("#5a5fa6"), mode: "multiply", strength: 0.36,
      scope: "figure", shape: { kind: "pass", name: "shade", outside: false },
        operations: [op("blur", { by: px(p, 5) })] }),
  },
  {
    group: "Shade and edges", label: "Warm edge of the shade", hint: "A narrow band where light turns to shade",
    make: (p) => ({ ...PLAIN, name: "edge of the shade", paint: colour("#e8603c"), mode: "overlay", strength: 0.5,
      scope: "figure", shape: { kind: "pass", name: "shade", outside: false },
        operations: [op("band", { by: Math.max(2, px(p, 4)) })] }),
  },
  {
    group: "Shade and edges", label: "Contact shade", hint: "Soft dark under whatever lies in front",
    make: (p) => ({ ...PLAIN, name: "close under", paint: colour("#5d4468"), mode: "multiply", strength: 0.5,
      scope: "figure", shape: { kind: "contact", width: Math.max(1, px(p, 9)) } }),
  },
  {
    group: "Shade and edges", label: "Edge round the figure", hint: "A ring behind it, as on a sticker",
    make: (p) => ({ ...PLAIN, name: "edge", paint: colour("#fffdf6"), scope: "ground",
      shape: { kind: "parts", parts: [] }, operations: [op("spread", { by: Math.max(3, px(p, 6)) })] }),
  },
  {
    group: "Ground and surface", label: "Gradient on the ground", hint: "From colour to colour, behind the figure",
    make: (p) => ({ ...PLAIN, name: "sky", scope: "ground", paint: gradient([[p.width / 2, 0], [p.width / 2, p.height]],
      false, ["#9db4c9", 1], ["#f1e2c6", 1]) }),
  },
  {
    group: "Ground and surface", label: "Pattern or picture", hint: "A motif, or a picture of yours, blurred or not",
    make: (p) => ({ ...PLAIN, name: "pattern", scope: "ground", paint: laid(p), strength: 0.6 }),
  },
  {
    group: "Ground and surface", label: "Texture", hint: "Paper, grain, canvas, over everything",
    make: (p) => ({ ...PLAIN, name: "paper", paint: colour("#a78d63"), mode: "multiply", strength: 0.25,
      over_lines: true, texture: { key: "paper", size: Math.max(0.4, px(p, 0.45)), angle: 0, amount: 1 } }),
  },
];

/** A pattern in the middle of the picture. */
export function laid(piece: Piece): LaidPattern {
  return { kind: "pattern", at: [piece.width / 2, piece.height / 2], blur: 0, pattern: { motif: "dots", picture: null,
    repeat: false, colour: "#f3ead6", share: 0.4, period: Math.max(8, px(piece, 40)), angle: 0, dx: 0, dy: 0,
    degree: 90, follow: false, strength: 1 } };
}

export function say(layer: FinishLayer): string {
  return `${layer.mode} ${Math.round(100 * layer.strength)} %`;
}

/** What a layer is made of, as CSS shows it. */
export function swatch(paint: Paint): string {
  if (paint.kind === "colour") return paint.colour;
  if (paint.kind === "pattern") {
    return paint.pattern.picture ? "repeating-linear-gradient(45deg, #b7b2aa 0 5px, #8f8a83 5px 10px)"
      : (paint.pattern.colour ?? "#888888");
  }
  const percent = (v: number) => `${Math.round(100 * v)}%`;
  const stops = paint.stops.map((s) =>
    `color-mix(in srgb, ${s.colour} ${percent(s.opacity ?? 1)}, transparent) ${percent(s.at)}`);
  return paint.kind === "gradient" && paint.round ? `radial-gradient(circle, ${stops.join(", ")})`
    : `linear-gradient(90deg, ${stops.join(", ")})`;
}
