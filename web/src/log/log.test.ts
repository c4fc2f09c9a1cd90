import { describe, expect, it } from "vitest";
import { asQuery, type LogLine } from "../api/time";
import { byDay } from "./LogLines";

const line = (at: string, words = "Move light"): LogLine => ({ at, piece: 1, title: "Kite", kind: "edit",
  what: "move_light", words, minutes: null });

describe("the log", () => {
  it("has a heading for each day, and every line once", () => {
    const lines = ["2026-03-03T12:00:00Z", "2026-03-03T11:00:00Z", "2026-03-01T12:00:00Z", "2026-02-01T12:00:00Z"]
      .map((at) => line(at));
    const rows = byDay(lines);
    expect(rows.flatMap((r) => ("line" in r ? [r.line] : []))).toEqual(lines);
    expect(rows.filter((r) => "day" in r)).toHaveLength(3);
    expect("day" in (rows[0] ?? {})).toBe(true);
    expect(byDay([])).toEqual([]);
  });

  it("asks for what is wished and nothing else", () => {
    expect(asQuery({ piece: null, character: null, month: null, text: "  " })).toEqual({});
    expect(asQuery({ piece: 3, character: 2, month: "2026-03", text: " quay " })).toEqual({ piece: 3, character: 2,
      month: "2026-03", text: "quay" });
  });
});
