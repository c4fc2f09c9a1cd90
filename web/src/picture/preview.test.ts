import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Edit } from "../api/client";
import { useCamera } from "./camera";
import { endPreview, usePreview, wishPreview } from "./preview";

interface Asked { edit: Edit; draft: boolean; answer: () => Promise<void> }

let asked: Asked[] = [];

const light = (azimuth: number) => ({ kind: "move_light", light: { azimuth } }) as unknown as Edit;
const base = (colour: string): Edit => ({ kind: "change_part", part: "p1", base: colour });

beforeEach(() => {
  vi.useFakeTimers();
  asked = [];
  useCamera.getState().measure({ width: 1000, height: 800 }, { width: 500, height: 400 });
  vi.stubGlobal("createImageBitmap", (blob: unknown) => Promise.resolve(blob));
  vi.stubGlobal("fetch", (_: string, init: RequestInit) => new Promise((done) => {
    const { edit, draft } = JSON.parse(init.body as string) as Asked;
    asked.push({ edit, draft, answer: async () => {
      done({ ok: true, status: 200, headers: new Headers(), blob: () => Promise.resolve(JSON.stringify(edit)) });
      await vi.advanceTimersByTimeAsync(0);
    } });
  }));
});

afterEach(async () => {
  endPreview(false);
  for (let k = 0; k < asked.length; k++) await asked[k]?.answer();
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

const seen = () => usePreview.getState().tile?.bitmap as unknown;

describe("a drag", () => {
  it("has one request under way, and of all wishes since then only the newest follows", async () => {
    for (let k = 0; k < 50; k++) wishPreview(1, base(`#0000${(k + 16).toString(16)}`));
    expect(asked).toHaveLength(1);
    await asked[0]?.answer();
    expect(seen()).toBe(JSON.stringify(base("#000010"))); // shown although it is old: the picture never starves
    expect(asked.map((a) => a.edit)).toEqual([base("#000010"), base("#000041")]);
    await asked[1]?.answer();
    expect(seen()).toBe(JSON.stringify(base("#000041")));
    expect(asked).toHaveLength(2);
  });

  it("is shown roughly while the hand moves and as it will be when the hand rests", async () => {
    wishPreview(1, light(10));
    await asked[0]?.answer();
    wishPreview(1, light(20));
    await asked[1]?.answer();
    expect(asked.map((a) => a.draft)).toEqual([true, true]);
    await vi.advanceTimersByTimeAsync(200);
    expect(asked.map((a) => [a.edit, a.draft])).toEqual([[light(10), true], [light(20), true], [light(20), false]]);
    await asked[2]?.answer();
    await vi.advanceTimersByTimeAsync(1000);
    expect(asked).toHaveLength(3);
  });

  it("that is given up leaves nothing behind, not even from a request under way", async () => {
    wishPreview(1, base("#112233"));
    wishPreview(1, base("#445566"));
    endPreview(false);
    await asked[0]?.answer();
    expect(seen()).toBeUndefined();
    expect(asked).toHaveLength(1);
  });

  it("that is made stays on the screen until the picture is there, and nothing later takes its place", async () => {
    wishPreview(1, base("#112233"));
    await asked[0]?.answer();
    wishPreview(1, base("#445566"));
    endPreview(true);
    await asked[1]?.answer();
    expect(seen()).toBe(JSON.stringify(base("#112233")));
  });

  it("outlives a request that fails", async () => {
    vi.stubGlobal("fetch", () => Promise.reject(new TypeError("no network")));
    wishPreview(1, base("#112233"));
    await vi.advanceTimersByTimeAsync(0);
    expect(seen()).toBeUndefined();
    vi.stubGlobal("fetch", () => Promise.resolve({ ok: true, status: 200, headers: new Headers(),
      blob: () => Promise.resolve("late") }));
    wishPreview(1, base("#445566"));
    await vi.advanceTimersByTimeAsync(0);
    expect(seen()).toBe("late");
  });
});
