import { describe, expect, it } from "vitest";
import type { Happened } from "../../api/events";
import { remarksOf, verdictOf } from "../../api/review";
import { drawLine, paintRemarks, remarkAt } from "./paintRemarks";

const at = "2026-03-04T10:00:00Z";
const remark = (number: number, points: [number, number][], more: object = {}) => ({ number, at, event: {
  kind: "remark", points, wish: "look here", text: "", by: "", look: "piece", changes: 0, ...more } }) as Happened;
const settled = (number: number, of: number, done = true) => ({ number, at, event: { kind: "resolution", remark: of,
  done } }) as Happened;
const verdict = (number: number, said: string, look = "piece") => ({ number, at, event: { kind: "verdict",
  verdict: said, look, text: "", by: "", changes: 0 } }) as Happened;

const EVENTS = [remark(1, [[10, 10]]), settled(2, 1), remark(3, [[50, 50], [60, 80]], { by: "Ina" }),
  verdict(4, "changes wanted"), settled(5, 3), settled(6, 3, false), verdict(7, "approved", "k1")];

function recorded(paint: (ctx: CanvasRenderingContext2D) => void): string[] {
  const calls: string[] = [];
  paint(new Proxy({} as CanvasRenderingContext2D, {
    get: (_, name) => (...args: unknown[]) => { calls.push(`${String(name)}(${args.join()})`); }, set: () => true }));
  return calls;
}

describe("a review", () => {
  it("is what its events come to", () => {
    expect(remarksOf(EVENTS).map((r) => [r.number, r.done, r.by])).toEqual([[1, true, ""], [3, false, "Ina"]]);
    expect(verdictOf(EVENTS, "piece")?.verdict).toBe("changes wanted");
    expect(verdictOf(EVENTS, "k1")?.verdict).toBe("approved");
    expect(verdictOf([], "piece")).toBeNull();
  });

  it("is numbered on the picture in the order of its remarks", () => {
    const calls = recorded((ctx) => paintRemarks(ctx, remarksOf(EVENTS), 3, 2));
    expect(calls.filter((c) => c.startsWith("fillText"))).toEqual(["fillText(1,10,10)", "fillText(2,50,50)"]);
    expect(calls.filter((c) => c === "lineTo(60,80)")).toHaveLength(2);
    const [ring, dot] = calls.filter((c) => c.startsWith("arc(50,50,"));
    expect([ring, dot]).toEqual([`arc(50,50,7.5,0,${2 * Math.PI})`, `arc(50,50,5.5,0,${2 * Math.PI})`]);
  });

  it("has no line where a pin was set, and finds a pin by pointing", () => {
    expect(recorded((ctx) => drawLine(ctx, [[1, 2]], "#000", 1))).toEqual([]);
    const all = remarksOf(EVENTS);
    expect(remarkAt(all, 12, 8, 5)?.number).toBe(1);
    expect(remarkAt(all, 60, 80, 5)).toBeNull(); // a line is met where it begins
  });
});
