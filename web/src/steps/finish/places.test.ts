import { describe, expect, it } from "vitest";
import type { FinishDraft, Part, Piece, Point } from "../../api/client";
import { kindEdit, kindOf } from "../parts/PartKind";
import { clips } from "../../modes/clips";
import { likelyLamp, STARTS, type Paint } from "./finish";
import { apart, paintKind, placesOf, repainted, type PaintKind } from "./places";

const PIECE = { width: 800, height: 600, recipe: { parts: [{ id: "p1", name: "coat" }, { id: "p2",
  name: "old lantern" }, { id: "p3", name: "moon", visible: false }] } } as unknown as Piece;
const drafts = STARTS.map((s) => s.make(PIECE));
const KINDS: PaintKind[] = ["colour", "gradient", "round", "form", "pattern"];

describe("places on the picture", () => {
  it("are there for all that lies somewhere: gradients, patterns, sparks", () => {
    for (const draft of drafts) {
      const wanted = [draft.paint.kind === "gradient" || draft.paint.kind === "pattern", draft.shape.kind === "sparks"]
        .filter(Boolean).length;
      expect(placesOf(draft), draft.name).toHaveLength(wanted);
    }
  });

  it("put back where they lie change nothing; moved, they are found where they were put", () => {
    for (const draft of drafts) {
      for (const { places, put } of placesOf(draft)) {
        expect({ ...draft, ...put(places.ends) }).toEqual(draft);
        const there: [Point, Point] = [[120, 80], [180, 160]];
        const moved = { ...draft, ...put(there) } as FinishDraft;
        const found = placesOf(moved).find((p) => p.places.of === places.of)?.places;
        expect(found?.ends[0]).toEqual([120, 80]);
        // Of what is round only its radius is kept: sideways from its middle.
        expect(apart(found?.ends ?? there)).toBe(100);
      }
    }
  });

  it("of a radius are never nothing", () => {
    expect(apart([[5, 5], [5, 5]])).toBe(1);
  });
});

describe("what a layer is painted with", () => {
  it("becomes any other kind and says so, keeping its first colour", () => {
    const first = (paint: Paint) => (paint.kind === "colour" ? paint.colour : paint.kind === "pattern"
      ? paint.pattern.colour : paint.stops[0]?.colour);
    for (const from of KINDS) {
      const paint = repainted(PIECE, { kind: "colour", colour: "#123456" }, from);
      expect(paintKind(paint)).toBe(from);
      for (const to of KINDS) {
        const next = repainted(PIECE, paint, to);
        expect(paintKind(next)).toBe(to);
        expect(first(next)).toBe("#123456");
        if (next.kind === "gradient") expect(next.ends[0]).not.toEqual(next.ends[1]);
      }
    }
  });

  it("keeps the colours and ends of a gradient when it turns round", () => {
    const line = repainted(PIECE, { kind: "colour", colour: "#123456" }, "gradient");
    expect(repainted(PIECE, repainted(PIECE, line, "round"), "gradient")).toEqual(line);
    const form = repainted(PIECE, line, "form");
    expect("stops" in form && "stops" in line && form.stops).toEqual("stops" in line && line.stops);
  });
});

describe("choices that follow from the piece", () => {
  it("light comes from what is called a light, if it is seen", () => {
    expect(likelyLamp(PIECE)).toBe("p2");
    expect(likelyLamp({ recipe: { parts: [{ id: "p7", name: "hat" }] } } as unknown as Piece)).toBe("p7");
    expect(likelyLamp({ recipe: { parts: [] } } as unknown as Piece)).toBe("p1");
  });

  it("a part is of a material or of a plane, there and back", () => {
    for (const part of [{ material: "hair", scenery: null }, { material: "hair", scenery: "sky" }] as Part[]) {
      const edit = kindEdit(kindOf(part));
      expect(edit).toEqual(part.scenery ? { scenery: "sky" } : { material: "hair" });
    }
  });

  it("clipping is told from one per cent on", () => {
    const seen = { mode: "screen", step: 4, place: null };
    expect([0, 0.009, 0.01, 1].map((clipped) => clips({ ...seen, clipped }))).toEqual([false, false, true, true]);
  });
});
