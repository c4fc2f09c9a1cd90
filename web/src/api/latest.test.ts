import { describe, expect, it } from "vitest";
import { latestWins } from "./latest";

/** Runs that end when they are told to. */
function runs() {
  const begun: { wish: number; wanted: () => boolean; end: () => Promise<void>; fail: () => Promise<void> }[] = [];
  const latest = latestWins<number>((wish, wanted) => new Promise((done, failed) => {
    const rest = () => new Promise<void>((r) => { setTimeout(r); });
    begun.push({ wish, wanted, end: () => { done(); return rest(); }, fail: () => { failed(new Error("x"));
      return rest(); } });
  }));
  return { begun, latest, order: () => begun.map((b) => b.wish) };
}

describe("the latest wish", () => {
  it("is the only one that follows the one under way", async () => {
    const { begun, latest, order } = runs();
    for (const wish of [1, 2, 3, 4]) latest.wish(wish);
    expect(order()).toEqual([1]);
    await begun[0]?.end();
    expect(order()).toEqual([1, 4]);
    await begun[1]?.end();
    expect(order()).toEqual([1, 4]);
    expect(latest.idle()).toBe(true);
    latest.wish(5);
    expect(order()).toEqual([1, 4, 5]);
  });

  it("is not run when it has been forgotten, and one under way knows", async () => {
    const { begun, latest, order } = runs();
    latest.wish(1);
    latest.wish(2);
    expect(begun[0]?.wanted()).toBe(true);
    latest.forget();
    expect(begun[0]?.wanted()).toBe(false);
    latest.wish(3);
    await begun[0]?.end();
    expect(order()).toEqual([1, 3]);
    expect(begun[1]?.wanted()).toBe(true);
  });
});
