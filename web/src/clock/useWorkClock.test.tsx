import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, renderHook } from "@testing-library/react";
import type { ReactNode } from "react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Step } from "../api/client";
import { useNotice } from "../api/notice";
import type { Beat } from "./beats";
import { useRunning, useWishes } from "./state";
import { useWorkClock } from "./useWorkClock";

const wire = vi.hoisted(() => {
  const wire = { told: [] as Beat[], spent: {} as Record<string, number>, planned: 1, worked: 0, down: false };
  globalThis.fetch = async (input) => {
    if (wire.down) throw new TypeError("no server");
    const beat = (await (input as Request).json()) as Beat;
    wire.told.push(beat);
    wire.spent[beat.step] = (wire.spent[beat.step] ?? 0) + beat.since / 60;
    wire.worked += beat.since / 60;
    return Response.json({ plan: { kind: "plan", minutes: { [beat.step]: wire.planned } }, state: "in work",
      spent: { ...wire.spent }, pace: { words: "2 minutes behind." }, since_break: { eyes: wire.worked } });
  };
  return wire;
});

const ADVICE = [{ key: "eyes", label: "Eyes", text: "Look far away.", every: 3, rest: 0.3, source: "" }];

function working(step: Step = "colour") {
  const client = new QueryClient();
  client.setQueryData(["meta"], { advice: ADVICE });
  const wrapper = ({ children }: { children: ReactNode }) => <QueryClientProvider
    client={client}>{children}</QueryClientProvider>;
  const hook = renderHook(({ at }) => useWorkClock(7, at), { wrapper, initialProps: { at: step } });
  return { ...hook, state: () => client.getQueryData<{ spent: Record<string, number> }>(["clock", 7]) };
}

/** Seconds pass while a hand moves now and then. */
const pass = async (seconds: number, hand = true) => {
  for (let k = 0; k < seconds; k += 10) {
    if (hand) fireEvent.pointerMove(window);
    await vi.advanceTimersByTimeAsync(Math.min(10, seconds - k) * 1000);
  }
};
const total = (step: string, doing?: string) => wire.told.filter((t) => t.step === step && (!doing
  || t.doing === doing)).reduce((sum, t) => sum + t.since, 0);

beforeEach(() => {
  vi.useFakeTimers({ toFake: ["setInterval", "clearInterval", "setTimeout", "clearTimeout", "performance", "Date"] });
  vi.spyOn(document, "hasFocus").mockReturnValue(true);
  Object.assign(wire, { told: [], spent: {}, planned: 1, worked: 0, down: false });
  useRunning.setState({ paused: false, away: null, pending: 0 });
  useWishes.setState({ alarm: true, breaks: {} });
  useNotice.setState({ notice: null });
});
afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
  vi.useRealTimers();
});

describe("the clock of a step", () => {
  it("tells every ten seconds, and the rest when the step or the page is left", async () => {
    const { rerender, unmount, state } = working("light");
    await pass(34);
    expect(total("light")).toBe(30);
    expect(state()?.spent.light).toBeCloseTo(0.5, 9);
    rerender({ at: "looks" });
    await pass(6);
    unmount();
    await vi.advanceTimersByTimeAsync(10);
    expect(total("light") + total("looks")).toBeCloseTo(40, 0);
    expect(total("looks")).toBeGreaterThanOrEqual(4);
  });

  it("counts nothing in a window that is not looked at, and nothing while it is stopped", async () => {
    const { unmount } = working();
    vi.spyOn(document, "hasFocus").mockReturnValue(false);
    await pass(60);
    expect(wire.told).toEqual([]);
    vi.spyOn(document, "hasFocus").mockReturnValue(true);
    useRunning.setState({ paused: true });
    await pass(60);
    expect(wire.told).toEqual([]);
    useRunning.setState({ paused: false });
    await pass(20);
    unmount();
    expect(total("colour", "work")).toBeGreaterThanOrEqual(15);
  });

  it("asks afterwards about time away", async () => {
    working();
    await pass(20);
    await pass(900, false);
    expect(useRunning.getState().doing).toBe("away");
    await pass(10);
    expect(useRunning.getState().away).toBe(10); // fifteen minutes without what was looking
    expect(total("colour", "look")).toBeCloseTo(210, -1);
  });

  it("loses nothing while the server is away", async () => {
    const { unmount } = working();
    await pass(10);
    wire.down = true;
    await pass(30);
    wire.down = false;
    await pass(20);
    unmount();
    await vi.advanceTimersByTimeAsync(10);
    expect(total("colour")).toBeCloseTo(60, 0);
  });

  it("says once that a step's time is used up, and that a break is due, if that is wished", async () => {
    working();
    await pass(70);
    expect(useNotice.getState().notice?.text).toBe("The time planned for Colour is used up. 2 minutes behind.");
    useNotice.setState({ notice: null });
    await pass(60);
    expect(useNotice.getState().notice).toBeNull();
    await pass(60);
    expect(useNotice.getState().notice?.text).toBe("3 minutes since a break. Look far away.");
    useNotice.setState({ notice: null });
    wire.worked = 0;
    useWishes.setState({ breaks: { eyes: 0 } });
    await pass(300);
    expect(useNotice.getState().notice).toBeNull();
  });
});
