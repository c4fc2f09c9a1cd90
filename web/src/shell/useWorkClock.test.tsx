import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, renderHook } from "@testing-library/react";
import type { ReactNode } from "react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Step } from "../api/client";
import { useWorkClock } from "./useWorkClock";

const wire = vi.hoisted(() => {
  const wire = { told: [] as { step: string; seconds: number }[] };
  globalThis.fetch = async (input) => {
    wire.told.push((await (input as Request).json()) as { step: string; seconds: number });
    return new Response(null, { status: 204 });
  };
  return wire;
});

function working(step: Step = "colour") {
  const client = new QueryClient();
  client.setQueryData(["piece", 7], { id: 7, spent_minutes: { colour: 2 } });
  const wrapper = ({ children }: { children: ReactNode }) => <QueryClientProvider
    client={client}>{children}</QueryClientProvider>;
  const hook = renderHook(({ at }) => useWorkClock(7, at), { wrapper, initialProps: { at: step } });
  return { ...hook, spent: () => client.getQueryData<{ spent_minutes: Record<string, number> }>(["piece",
    7])?.spent_minutes };
}

const pass = (seconds: number) => vi.advanceTimersByTimeAsync(seconds * 1000);
const total = (step: string) => wire.told.filter((t) => t.step === step).reduce((sum, t) => sum + t.seconds, 0);

beforeEach(() => {
  vi.useFakeTimers();
  wire.told.length = 0;
});
afterEach(() => {
  cleanup();
  vi.useRealTimers();
});

describe("the clock of a step", () => {
  it("reports every twenty seconds, and the rest when the step is left", async () => {
    const { unmount, spent } = working();
    await pass(50);
    expect(wire.told).toEqual([{ step: "colour", seconds: 20 }, { step: "colour", seconds: 20 }]);
    expect(spent()?.colour).toBeCloseTo(2 + 40 / 60, 9);
    unmount();
    await pass(1);
    expect(total("colour")).toBe(50);
  });

  it("counts each step's own time", async () => {
    const { rerender, unmount } = working("light");
    await pass(30);
    rerender({ at: "looks" });
    await pass(10);
    unmount();
    await pass(1);
    expect([total("light"), total("looks")]).toEqual([30, 10]);
  });

  it("stops when nobody is there, and goes on at a touch", async () => {
    const { unmount } = working();
    await pass(600);
    const idle = total("colour");
    expect(idle).toBeLessThanOrEqual(90);
    expect(idle).toBeGreaterThanOrEqual(80);
    fireEvent.keyDown(window, { key: "a" });
    await pass(30);
    unmount();
    await pass(1);
    expect(total("colour")).toBeGreaterThanOrEqual(90 + 30 - 1);
    expect(total("colour")).toBeLessThanOrEqual(90 + 30 + 1);
  });

  it("does not count a window that is not seen", async () => {
    const hidden = vi.spyOn(document, "hidden", "get").mockReturnValue(true);
    const { unmount } = working();
    await pass(60);
    expect(wire.told).toEqual([]);
    hidden.mockReturnValue(false);
    await pass(20);
    unmount();
    await pass(1);
    expect(total("colour")).toBe(20);
    hidden.mockRestore();
  });

  it("says what it has when the page goes", async () => {
    working();
    await pass(7);
    fireEvent(window, new Event("pagehide"));
    await pass(0);
    expect(wire.told).toEqual([{ step: "colour", seconds: 7 }]);
  });
});
