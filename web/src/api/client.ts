import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Piece = Schemas["Piece"];
export type PieceCard = Schemas["PieceCard"];
export type Part = Schemas["Part"];
type SentEdit = Schemas["EditRequest"]["edit"];
/** Without targets an edit is made on the piece. */
type OnPiece<T> = T extends { targets: infer Targets } ? Omit<T, "targets"> & { targets?: Targets } : T;
type SingleEdit = OnPiece<Exclude<SentEdit, { kind: "several" }>>;
export type Edit = SingleEdit | { kind: "several"; edits: SingleEdit[] };
/** Keys of the tables, as menus give them. */
export type PassKey = Schemas["TouchUp"]["name"];
export type MethodKey = Schemas["Passes"]["method"];
export type MaterialKey = Schemas["Part"]["material"];
export type MotifKey = Schemas["Pattern"]["motif"];
export type NudgeKey = Extract<SentEdit, { kind: "nudge_colour" }>["to"];
export const sent = (edit: Edit) => edit as SentEdit;
export type Recipe = Schemas["Recipe"];
export type Cut = Schemas["Cut"];
export type AreaInfo = Schemas["AreaInfo"];
export type Hue = Schemas["HueInfo"];
export type Solid = Schemas["SolidInfo"];
export type Frame = Schemas["Frame"];
export type Lines = Schemas["Lines"];
export type Gap = Schemas["GapLine"];
export type GapReport = Schemas["GapReport"];
export type FigureOffer = Schemas["FigureOffer"];
export type HatchedPlace = Schemas["HatchingLine"];
export type HatchingReport = Schemas["HatchingReport"];
export type JoinedPart = Schemas["JoinedPart"];
export type PaletteOffer = Schemas["PaletteOffer"];
export type Leak = Schemas["Leak"];
export type Point = [number, number];
export type Sheet = Schemas["Sheet"];
export type SheetRow = Schemas["SheetRow"];
export type SheetCell = Schemas["SheetCell"];
export type SheetColumn = Schemas["SheetColumn"];
export type Passes = Schemas["Passes"];
export type AsDrawn = Schemas["AsDrawn"];
export type Inking = Schemas["Inking"];
export type InkShade = Schemas["InkShade"];
export type LineStretch = Schemas["LineStretch"];
export type Proposal = Schemas["Proposal"];
export type Wish = Schemas["EvenOut"] | Schemas["Match"] | Schemas["SpellOut"] | Schemas["LightBy"];
export type Neighbours = Schemas["Neighbours"];
export type LightReport = Schemas["LightReport"];
export type PartForm = Schemas["PartForm"];
export type TouchUp = Schemas["TouchUp"];
export type JobState = Schemas["JobState"];
export type Section = Schemas["Section"];
export type StackLine = Schemas["StackLine"];
export type StackFinding = Schemas["StackFinding"];
export type Finding = Schemas["Finding"];
export type Delivery = Schemas["Delivery"];
export type LayeredFile = Schemas["LayeredFile"];
export type Returned = Schemas["Returned"];
export type Wishes = Required<Schemas["Wishes"]>;
export type BroughtHome = Schemas["BroughtHome"];
export type LayerMatch = Schemas["LayerMatch"];
export type FinishLayer = Schemas["FinishLayer"];
export type FinishDraft = Omit<FinishLayer, "id">;
export type ReadyFinish = Schemas["Finish"];
export type Look = Schemas["Look"];
export type LookLine = Schemas["LookLine"];
export type LookReport = Schemas["LookReport"];
export type ProposedLook = Schemas["ProposedLook"];
export type VaryWish = Schemas["ByHarmony"] | Schemas["ByPalette"] | Schemas["ByFew"] | Schemas["ByTime"];
export type FormatInfo = Schemas["FormatInfo"];
export type PartView = "parts" | "unclaimed" | "bases" | "borders" | "faults";
/** What the checks measure, drawn over the picture; of a look, `values:k1`. */
type MapName = "values" | "chroma" | "attention" | "outline";
/** Any state of a piece, `side:look k1`; or how far two are apart, `side:now~drawing`. */
type SideKind = `side:${string}`;
type MapKind = MapName | `${MapName}:${string}`;
/** A picture; `picture:shade` leaves out the passes that are laid on after the shade. */
export type PictureKind = "picture" | `picture:${string}` | `look:${string}` | MapKind | SideKind | "before"
  | "lines" | "proof" | "unprintable" | PartView;
export type Gesture = Schemas["GestureRequest"]["gesture"];
export type Character = Schemas["Character"];
export type CardLine = Schemas["CardLine"];
export type NamedPart = Schemas["NamedPart"];
export type SavedNames = Schemas["SavedNames"];
export type Starter = Schemas["Starter"];
export type Step = "lines" | "parts" | "colour" | "light" | "finish" | "looks" | "check" | "deliver";

export interface View {
  x: number;
  y: number;
  width: number;
  height: number;
  scale: number;
}

// The fetch that is there when something is asked, so that a test can put another in its place.
export const api = createClient<paths>({ baseUrl: "/", fetch: (request) => fetch(request) });

/** An answer of the server that says what went wrong (RFC 9457). */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    detail: string,
  ) {
    super(detail);
  }
}

const LOST = "The server does not answer. Your work up to the last change is saved; start it again and reload.";

export function toProblem(error: unknown, status = 0): Problem {
  if (error instanceof Problem) return error;
  if (error && typeof error === "object" && "detail" in error) {
    const body = error as { title?: string; detail: unknown; status?: number };
    return new Problem(body.status ?? status, body.title ?? "This could not be done", String(body.detail));
  }
  return new Problem(status, "No answer", LOST);
}

/** Unwraps an answer of the client, or throws a Problem. */
export async function need<T>(
  call: Promise<{ data?: T; error?: unknown; response: Response }>,
): Promise<T> {
  let answer;
  try {
    answer = await call;
  } catch (error) {
    throw toProblem(error);
  }
  if (answer.error !== undefined) throw toProblem(answer.error, answer.response.status);
  return answer.data as T;
}

/** What a route answers, to the length of its lists: the client's own types make lists of pairs. */
export type Answer<P extends keyof paths, M extends "get" | "post"> =
  paths[P][M] extends { responses: { 200: { content: { "application/json": infer T } } }
    | { 202: { content: { "application/json": infer T } } } } ? T : never;

/** Unwraps an answer of the client with its exact type. */
export function exactly<P extends keyof paths, M extends "get" | "post">(call: Promise<{ data?: unknown;
  error?: unknown; response: Response }>): Promise<Answer<P, M>> {
  return need(call) as Promise<Answer<P, M>>;
}

/** What the picture view shows: a piece, or a layered file that came in. */
export interface Shown {
  title: string;
  revision: number;
  width: number;
  height: number;
  /** Address under which its pictures lie. */
  at: string;
}

export const pieceShown = (piece: Piece): Shown => ({ ...piece, at: `/api/pieces/${piece.id}` });

/** `picture:shade` is the picture up to the shade, `look:k2` the picture in a look. */
export function askedKind(kind: PictureKind): { kind: string; last?: string; look?: string; side?: string;
  against?: string } {
  const [what, which] = kind.split(":");
  if (what === "side") {
    const [side = "now", against] = (which ?? "").split("~");
    return { kind: "picture", side, ...(against && { against }) };
  }
  if (what === "look") return { kind: "picture", look: which };
  if (what && which && what !== "picture") return { kind: what, look: which };
  return { kind: what ?? kind, ...(which ? { last: which } : {}) };
}

export function pictureUrl(of: Shown, kind: PictureKind, view: View): string {
  const query = new URLSearchParams({
    revision: String(of.revision), ...askedKind(kind), x: String(view.x), y: String(view.y),
    width: String(view.width), height: String(view.height), scale: String(view.scale),
  });
  return `${of.at}/picture?${query.toString()}`;
}

export async function fetchBitmap(input: string, init?: RequestInit): Promise<ImageBitmap> {
  let response;
  try {
    response = await fetch(input, init);
  } catch (error) {
    if (init?.signal?.aborted) throw error;
    throw toProblem(error);
  }
  if (!response.ok) throw toProblem(await response.json().catch(() => null), response.status);
  return createImageBitmap(await response.blob(), { colorSpaceConversion: "none", premultiplyAlpha: "none" });
}

async function keep<T>(address: string, form: FormData): Promise<T> {
  const response = await fetch(address, { method: "POST", body: form });
  const body: unknown = await response.json().catch(() => null);
  if (!response.ok) throw toProblem(body, response.status);
  return body as T;
}

/** Bring in the ICC profile of a press. */
export function keepProfile(file: File): Promise<Schemas["KeptProfile"]> {
  const form = new FormData();
  form.set("file", file);
  return keep("/api/profiles", form);
}

/** Keep a picture that is to lie on a part or on the drawing; an SVG is drawn with this longer edge, px. */
export function storePicture(file: File, longEdge?: number): Promise<Schemas["PlacedPicture"]> {
  const form = new FormData();
  form.set("file", file);
  if (longEdge) form.set("long_edge", String(longEdge));
  return keep("/api/pieces/pictures", form);
}
