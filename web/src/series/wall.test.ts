import { describe, expect, it } from "vitest";
import type { Piece } from "../api/client";
import { portions, type SeriesMember } from "../api/series";
import { extent, inside, nearest, rectangle, shifted, type Place } from "./outline";
import { allParts, asAnswer, findingsOf, frameAt, movedTo, remains, wanted } from "./wall";

const member = (id: number, more: Partial<SeriesMember> = {}): SeriesMember => ({ id, title: `Frame ${id}`, revision: 1,
  step: "parts", state: "in work", scene: "", hold: 1, page: null, character: null, width: 100, height: 120, own: [],
  carried: false, doubts: 0, parts: [["coat"], ["head", "cap"]], findings: null, ...more });

const ALL = { text: "", only: "all", part: null, finding: null } as const;

describe("the wall", () => {
  const some = [member(1), member(2, { carried: true, doubts: 2 }), member(3, { scene: "dusk", own: ["light"] }),
    member(4, { parts: [["lamp"]], state: "done" }), member(5, { carried: true })];
  const ids = (filter: Partial<Parameters<typeof wanted>[1]>, off: number[] = []) =>
    wanted(some, { ...ALL, ...filter }, new Set(off)).map((m) => m.id);

  it("shows what is wanted, in its order", () => {
    expect(ids({})).toEqual([1, 2, 3, 4, 5]);
    expect(ids({ only: "carried" })).toEqual([2, 5]);
    expect(ids({ only: "doubtful" })).toEqual([2]);
    expect(ids({ only: "own" }, [1])).toEqual([1, 3]);
    expect(ids({ only: "open" })).toEqual([1, 2, 3, 5]);
    expect(ids({ text: "DUSK" })).toEqual([3]);
    expect(ids({ text: "head › cap", only: "carried" })).toEqual([2, 5]);
    expect(ids({ part: "lamp" })).toEqual([4]);
    expect(allParts(some)).toEqual(["coat", "head › cap", "lamp"]);
  });

  it("lists what the checks notice, and shows the pictures that have it", () => {
    const seen = [member(1, { findings: ["merge", "flat"] }), member(2, { findings: [] }),
      member(3, { findings: ["flat"] }), member(4)];
    expect(findingsOf(seen)).toEqual([["flat", 2], ["merge", 1]]);
    expect(wanted(seen, { ...ALL, finding: "flat" }, new Set()).map((m) => m.id)).toEqual([1, 3]);
  });

  it("says what remains", () => {
    expect(some.map(remains)).toEqual(["parts kept", "2 areas to look at", "parts kept", "done", "parts to keep"]);
    expect(remains(member(1, { carried: true, doubts: 1 }))).toBe("1 area to look at");
  });

  it("moves a picture before any other or to the end, and loses none", () => {
    const order = [1, 2, 3, 4];
    for (const piece of order) {
      for (const before of [...order, null]) {
        const moved = movedTo(order, piece, before);
        expect([...moved].sort()).toEqual(order);
        if (before === null) expect(moved.at(-1)).toBe(piece);
        else if (before !== piece) expect(moved.indexOf(piece)).toBe(moved.indexOf(before) - 1);
      }
    }
  });

  it("holds each picture for its frames, round and round", () => {
    const holds = [2, 1, 3];
    const shown = Array.from({ length: 12 }, (_, k) => frameAt(holds, k));
    expect(shown).toEqual([0, 0, 1, 2, 2, 2, 0, 0, 1, 2, 2, 2]);
    expect(frameAt(holds, -1)).toBe(2);
    expect(frameAt([], 5)).toBe(0);
  });

  it("makes an answer of a claim, and leaves other edits alone", () => {
    const stroke: [number, number][][] = [[[3, 4]]];
    const made = asAnswer({ kind: "claim_areas", to: "p2", strokes: stroke });
    const latest = { recipe: { parts: [{ id: "p2", name: "coat", base: "#112233" }], claims: [{ to: "p1",
      strokes: [[[1, 1]]] }] } } as unknown as Piece;
    expect(typeof made === "function" && made(latest)).toMatchObject({ kind: "replace_parts", proposed: true,
      claims: [{ to: "p1" }, { to: "p2", strokes: stroke }] });
    expect(asAnswer({ kind: "keep_parts" })).toEqual({ kind: "keep_parts" });
  });
});

describe("many files at once", () => {
  it("are sent by their names, none twice, in portions that are not too large", () => {
    const file = (name: string, size: number) => ({ name, size }) as File;
    const many = Array.from({ length: 60 }, (_, k) => file(`f${String((k * 37) % 60).padStart(2, "0")}`,
      9e5 * (k % 5)));
    const sent = portions([...many, file("z large", 9e7)]);
    expect(sent.flat().map((f) => f.name)).toEqual([...many.map((f) => f.name).sort(), "z large"]);
    for (const some of sent) {
      expect(some.length).toBeLessThanOrEqual(24);
      expect(some.length === 1 || some.reduce((sum, f) => sum + f.size, 0) <= 40e6).toBe(true);
    }
    expect(portions([])).toEqual([]);
  });
});

describe("outlines of panels", () => {
  const square: Place[] = [[0, 0], [10, 0], [10, 10], [0, 10]];

  it("finds the corner within reach that is nearest", () => {
    expect(nearest([square, [[9, 9], [20, 9], [20, 20]]], [9.4, 9.4], 3)).toEqual([1, 0]);
    expect(nearest([square], [5, 5], 3)).toBeNull();
  });

  it("tells inside from outside for any place", () => {
    for (let x = -1.5; x < 12; x += 1) {
      for (let y = -1.5; y < 12; y += 1) {
        expect(inside(square, [x, y])).toBe(x > 0 && x < 10 && y > 0 && y < 10);
      }
    }
    expect(extent(square)).toBe(200);
    expect(extent([...square].reverse())).toBe(200);
  });

  it("draws rectangles that stay on the sheet, whichever corner comes first", () => {
    const drawn = rectangle([8, 9], [-5, 30], 20, 25);
    expect(drawn).toEqual([[0, 9], [8, 9], [8, 25], [0, 25]]);
    expect(rectangle([-5, 30], [8, 9], 20, 25)).toEqual(drawn);
  });

  it("shifts an entry within its list only", () => {
    expect(shifted(["a", "b", "c"], 0, 1)).toEqual(["b", "a", "c"]);
    expect(shifted(["a", "b", "c"], 0, -1)).toEqual(["a", "b", "c"]);
    expect(shifted(["a", "b", "c"], 2, -2)).toEqual(["c", "a", "b"]);
  });
});
