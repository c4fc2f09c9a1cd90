import { cleanup, renderHook } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Edit } from "../../api/client";
import { useNudge } from "./useNudge";

beforeEach(() => { vi.useFakeTimers(); });
afterEach(() => {
  cleanup();
  vi.useRealTimers();
});

function nudged() {
  const [shown, made]: [Edit[], Edit[]] = [[], []];
  const live = { show: (e: Edit) => shown.push(e), make: (e: Edit) => { made.push(e); return Promise.resolve(); } };
  const hook = renderHook(() => useNudge(live as Parameters<typeof useNudge>[0]));
  const edit = (part: string, to: string, times: number) => ({ kind: "nudge_colour", part, name: "shade", to, times });
  return { shown, made, press: (part: string, to: string) => hook.result.current(part, "shade", to), edit, hook };
}

describe("nudges of a colour", () => {
  it("in quick succession are one change, shown as it grows", () => {
    const { shown, made, press, edit } = nudged();
    for (let k = 0; k < 4; k++) { press("p1", "darker"); vi.advanceTimersByTime(300); }
    expect(shown).toEqual([1, 2, 3, 4].map((times) => edit("p1", "darker", times)));
    expect(made).toEqual([]);
    vi.advanceTimersByTime(1000);
    expect(made).toEqual([edit("p1", "darker", 4)]);
    press("p1", "darker");
    vi.advanceTimersByTime(1000);
    expect(made).toEqual([edit("p1", "darker", 4), edit("p1", "darker", 1)]);
  });

  it("another way, or of another part, end the one before", () => {
    const { made, press, edit } = nudged();
    press("p1", "darker");
    press("p1", "warmer");
    press("p2", "warmer");
    expect(made).toEqual([edit("p1", "darker", 1), edit("p1", "warmer", 1)]);
    vi.advanceTimersByTime(1000);
    expect(made).toHaveLength(3);
  });

  it("are made when the screen is left, and are not lost", () => {
    const { made, press, edit, hook } = nudged();
    press("p1", "richer");
    hook.unmount();
    expect(made).toEqual([edit("p1", "richer", 1)]);
    vi.advanceTimersByTime(1000);
    expect(made).toHaveLength(1);
  });

  it("do not go on for ever", () => {
    const { made, press, edit } = nudged();
    for (let k = 0; k < 200; k++) press("p1", "lighter");
    vi.advanceTimersByTime(1000);
    expect(made).toEqual([edit("p1", "lighter", 60)]);
  });
});
