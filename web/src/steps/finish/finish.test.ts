import { describe, expect, it } from "vitest";
import type { Edit, FinishLayer, Piece } from "../../api/client";
import { aimed, changeOf, gradient, op, say, STARTS, swatch } from "./finish";

const LENGTHS = new Set(["reach", "height", "width", "radius", "size"]);
const piece = (width: number, height: number) => ({ width, height }) as Piece;

describe("what a layer can begin as", () => {
  it("looks alike in small and large drawings: lengths grow with the picture", () => {
    for (const start of STARTS) {
      const [small, large] = [start.make(piece(1000, 700)), start.make(piece(4000, 2800))];
      const lengths = (draft: typeof small) => [...draft.operations.flatMap((o) => Object.values(o.amounts ?? {})),
        ...Object.entries(draft.shape).filter(([name]) => LENGTHS.has(name)).map(([, v]) => Number(v))];
      for (const [k, length] of lengths(small).entries())
        expect((lengths(large)[k] ?? 0) / length).toBeCloseTo(4, 0);
      const rest = (draft: typeof small) => ({ ...draft, operations: [], paint: null, texture: null, shape: Object
        .fromEntries(Object.entries(draft.shape).filter(([name]) => !LENGTHS.has(name) && name !== "at")) });
      expect(rest(large)).toEqual(rest(small));
    }
  });

  it("lies within the picture, whatever its format, and has a name of its own", () => {
    for (const [width, height] of [[64, 4000], [4000, 64], [2480, 3508]] as const) {
      for (const start of STARTS) {
        const { paint, name, strength } = start.make(piece(width, height));
        expect(name.length).toBeGreaterThan(0);
        expect(strength).toBeGreaterThan(0);
        expect(strength).toBeLessThanOrEqual(1);
        if (paint.kind !== "gradient") continue;
        expect(paint.ends[0][0]).toBeLessThanOrEqual(width);
        expect(paint.ends[0][1]).toBeLessThanOrEqual(height);
        expect(paint.ends[0]).not.toEqual(paint.ends[1]);
      }
    }
    expect(new Set(STARTS.map((s) => s.make(piece(9, 9)).name)).size).toBe(STARTS.length);
    expect(new Set(STARTS.map((s) => s.label)).size).toBe(STARTS.length);
  });
});

describe("whose finish an edit is of", () => {
  const add: Edit = { kind: "add_finish", layers: [] };

  it("is the piece's as it is, and a look's by its targets, in each of several", () => {
    expect(aimed(add, "piece")).toBe(add);
    expect(aimed(add, "k3")).toEqual({ ...add, targets: ["k3"] });
    const both: Edit = { kind: "several", edits: [{ kind: "set_focus", places: [] }, add] };
    expect(aimed(both, "k3")).toEqual({ kind: "several", edits: [{ kind: "set_focus", places: [], targets: ["k3"] },
      { ...add, targets: ["k3"] }] });
    expect(aimed(both, "piece")).toBe(both);
  });
});

describe("a layer of the finish", () => {
  it("is sent whole, but for its id", () => {
    const draft = STARTS[0]?.make(piece(100, 100));
    if (!draft) throw new Error("nothing to begin as");
    const edit = changeOf("f3", { ...draft, id: "f3" } as FinishLayer);
    expect(edit).toMatchObject({ kind: "change_finish", layer: "f3", to: { name: draft.name } });
    expect(edit).not.toHaveProperty("to.id");
    expect(Object.keys((edit as { to: object }).to).sort()).toEqual(Object.keys(draft).sort());
  });

  it("says its mode and strength, and shows what it is made of", () => {
    expect(say({ mode: "screen", strength: 0.625 } as FinishLayer)).toBe("screen 63 %");
    expect(swatch({ kind: "colour", colour: "#102030" })).toBe("#102030");
    const ramp = gradient([[0, 0], [9, 0]], false, ["#000000", 1], ["#808080", 0.5], ["#ffffff", 0]);
    expect(ramp.stops.map((s) => s.at)).toEqual([0, 0.5, 1]);
    expect(swatch(ramp)).toBe("linear-gradient(90deg, color-mix(in srgb, #000000 100%, transparent) 0%, "
      + "color-mix(in srgb, #808080 50%, transparent) 50%, color-mix(in srgb, #ffffff 0%, transparent) 100%)");
    expect(swatch({ ...ramp, round: true })).toMatch(/^radial-gradient\(circle, /);
    expect(op("blur")).toEqual({ kind: "blur", amounts: {} });
  });
});
