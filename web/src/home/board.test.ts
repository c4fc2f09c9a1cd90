import { describe, expect, it } from "vitest";
import type { PieceCard } from "../api/client";
import { dueWords, found, grouped, rowsOf, STATES, type Order, type State } from "./board";

const card = (id: number, more: Partial<PieceCard> = {}): PieceCard => ({ id, title: `Piece ${id}`,
  planned_minutes: 40, spent_minutes: 0, step: "lines", revision: 1, demo: false, due: null, occasion: "", tags: [],
  away: false, state: "in work", changed: "2026-03-02T09:00:00Z", character: null, series: null, ...more });

const STATE_KEYS = Object.keys(STATES) as State[];
const many = Array.from({ length: 60 }, (_, k) => card(k + 1, {
  state: STATE_KEYS[k % STATE_KEYS.length] ?? "done", away: k % 11 === 0, tags: k % 3 ? [] : ["fair"],
  due: k % 4 ? `2026-03-${String((k % 27) + 1).padStart(2, "0")}` : null, occasion: k % 5 ? "" : "Harbour" }));
const day = { today: "2026-03-10", order: many.filter((p) => !p.away && p.state === "in work").map((p) => p.id),
  fits: [1, 8] };

describe("finding pieces", () => {
  it("needs every word somewhere, in any case", () => {
    const pieces = [card(1, { title: "Osk at dusk", tags: ["bell"] }), card(2, { character: "Osk" }), card(3)];
    const ids = (text: string) => found(pieces, { text, only: null, tag: null }).map((p) => p.id);
    expect(ids("osk")).toEqual([1, 2]);
    expect(ids("BELL osk")).toEqual([1]);
    expect(ids("  ")).toEqual([1, 2, 3]);
    expect(ids("nobody")).toEqual([]);
  });

  it("shows what is put away only when it is asked for", () => {
    expect(found(many, { text: "", only: null, tag: null }).some((p) => p.away)).toBe(false);
    expect(found(many, { text: "", only: "away", tag: null }).every((p) => p.away)).toBe(true);
    const sent = found(many, { text: "", only: "sent", tag: "fair" });
    expect(sent.length).toBeGreaterThan(0);
    expect(sent.every((p) => p.state === "sent" && p.tags.includes("fair") && !p.away)).toBe(true);
  });
});

describe("groups", () => {
  it.each(["next", "state", "date", "change"] as Order[])("hold each piece once, ordered by %s", (order) => {
    const ids = grouped(many, order, day).flatMap((g) => g.pieces.map((p) => p.id));
    expect([...ids].sort((a, b) => a - b)).toEqual(many.map((p) => p.id));
    for (const group of grouped(many, order, day)) expect(group.pieces.length).toBeGreaterThan(0);
  });

  it("begin with what fits today, in the order of the day", () => {
    const [first, second] = grouped(many, "next", { ...day, order: [15, 8, 22], fits: [8, 15] });
    expect(first?.head).toBe("Fits today");
    expect(first?.pieces.map((p) => p.id)).toEqual([15, 8]);
    expect(second?.pieces.map((p) => p.id)).toEqual([22]);
  });

  it("put the earliest date first", () => {
    const late = grouped(many, "date", day).find((g) => g.head === "Late");
    const dates = late?.pieces.map((p) => p.due ?? "") ?? [];
    expect(dates).toEqual([...dates].sort());
    expect(dates.every((d) => d < day.today)).toBe(true);
  });

  it("fill rows one after the other", () => {
    const groups = grouped(many, "state", day);
    for (const columns of [1, 3, 5]) {
      const rows = rowsOf(groups, columns);
      expect(rows.flatMap((r) => (r.kind === "tiles" ? r.pieces : [])).length).toBe(many.length);
      expect(rows.filter((r) => r.kind === "head").length).toBe(groups.length);
      expect(Math.max(...rows.map((r) => (r.kind === "tiles" ? r.pieces.length : 0)))).toBeLessThanOrEqual(columns);
    }
  });
});

describe("a date", () => {
  it("is told from today", () => {
    const on = (due: string) => dueWords(due, "2026-03-10");
    expect(["2026-03-10", "2026-03-11", "2026-03-09", "2026-03-01", "2026-03-20", "2026-04-20"].map(on)).toEqual([
      "due today", "due tomorrow", "1 day late", "9 days late", "due in 10 days", "due 2026-04-20"]);
    expect(dueWords("2026-03-30", "2026-03-28")).toBe("due in 2 days"); // the clocks change between them
  });
});
