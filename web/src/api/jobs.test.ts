import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Problem, type JobState } from "./client";
import { follow, send } from "./jobs";

// The client takes the fetch that is there when it is made.
const wire = vi.hoisted(() => {
  const wire = { fetch: (): Promise<Response> => Promise.reject(new TypeError("not set")) };
  globalThis.fetch = () => wire.fetch();
  return wire;
});

const job = (state: JobState["state"], progress: number, more: Partial<JobState> = {}) => ({ id: "j1", kind: "deliver",
  state, progress, seen: 0, ...more }) as JobState;

/** The server's answers one after the other; null is no answer at all. */
function answers(...bodies: (JobState | null)[]) {
  const asked = vi.fn(() => {
    const body = bodies.shift() ?? null;
    return body ? Promise.resolve(new Response(JSON.stringify(body), {
      headers: { "content-type": "application/json" } })) : Promise.reject(new TypeError("Failed to fetch"));
  });
  wire.fetch = asked;
  return asked;
}

beforeEach(() => { vi.useFakeTimers(); });
afterEach(() => { vi.useRealTimers(); });

describe("a job", () => {
  it("is followed to its end, and each state is told", async () => {
    answers(job("running", 0.4), job("done", 1));
    const told: number[] = [];
    const checked = expect(follow(job("waiting", 0), (j) => told.push(j.progress))).resolves.toMatchObject({ state:
      "done" });
    await vi.advanceTimersByTimeAsync(60_000);
    await checked;
    expect(told).toEqual([0, 0.4, 1]);
  });

  it("outlives a server that is started again", async () => {
    const asked = answers(null, null, job("done", 1));
    const checked = expect(follow(job("running", 0.2), () => undefined)).resolves.toMatchObject({ state: "done" });
    await vi.advanceTimersByTimeAsync(60_000);
    await checked;
    expect(asked).toHaveBeenCalledTimes(3);
  });

  it("is given up on when no server comes back, in words", async () => {
    const asked = answers();
    const checked = expect(follow(job("running", 0.2), () => undefined)).rejects.toBeInstanceOf(Problem);
    await vi.advanceTimersByTimeAsync(60_000);
    await checked;
    expect(asked.mock.calls.length).toBeLessThan(30);
  });

  it("that fails throws the problem that it failed with", async () => {
    answers(job("failed", 0.5, { problem: { status: 507, title: "No room",
      detail: "The disk is full. The piece is unharmed." } as never }));
    const checked = expect(follow(job("running", 0), () => undefined)).rejects.toMatchObject({ status: 507,
      message: expect.stringContaining("The disk is full") as string });
    await vi.advanceTimersByTimeAsync(60_000);
    await checked;
  });
});

describe("a file that is sent", () => {
  it("gives a job, or the server's own words", async () => {
    answers(job("waiting", 0));
    await expect(send("/api/pieces", { file: new File(["x"], "a.png"), title: "A" })).resolves.toMatchObject({ id:
      "j1" });
    wire.fetch = () => Promise.resolve(new Response(JSON.stringify({ status: 413, title: "Too large",
      detail: "The file has 300 MB; 200 MB are taken." }), { status: 413 }));
    await expect(send("/api/pieces", {})).rejects.toMatchObject({ status: 413,
      message: expect.stringContaining("300 MB") as string });
    wire.fetch = () => Promise.resolve(new Response("<html>", { status: 502 }));
    await expect(send("/api/pieces", {})).rejects.toBeInstanceOf(Problem);
  });
});
