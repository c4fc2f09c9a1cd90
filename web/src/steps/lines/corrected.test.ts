import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { JobState } from "../../api/client";
import { bringDrawing, leaveDrawing, useBringing } from "./corrected";

const wire = vi.hoisted(() => {
  const wire = { fetch: (request: Request): Promise<Response> => Promise.reject(new TypeError(request.url)) };
  globalThis.fetch = (input, init) => wire.fetch(input instanceof Request ? input
    : new Request(new URL(String(input), "http://localhost/"), { method: init?.method ?? "GET" }));
  return wire;
});

const OFFER = { kept: 0.98, changed: [], redrawn: [], agreement: 0.9 };

/** A server on which each drawing becomes a job of its own; jobs end as they are told to. */
function server() {
  const state = { ends: new Map<string, Partial<JobState>>(), deleted: [] as string[], brought: 0 };
  const job = (id: string) => ({ id, kind: "drawing", state: "running", progress: 0.4, doing: "Cutting areas", seen: 0,
    ...state.ends.get(id) });
  wire.fetch = (request) => {
    const path = new URL(request.url).pathname;
    if (request.method === "POST") state.brought += 1;
    const id = request.method === "POST" ? `j${state.brought}` : path.split("/").at(-1) ?? "";
    if (request.method === "DELETE") {
      state.deleted.push(id);
      return Promise.resolve(new Response(null, { status: 204 }));
    }
    return Promise.resolve(new Response(JSON.stringify(job(id)), { headers: { "content-type": "application/json" } }));
  };
  return state;
}

const file = (name: string) => new File(["ink"], name);
const now = () => useBringing.getState();
const passing = () => vi.advanceTimersByTimeAsync(1000);

beforeEach(() => { vi.useFakeTimers(); });
afterEach(async () => {
  leaveDrawing();
  await passing();
  vi.useRealTimers();
});

describe("a corrected drawing that is brought in", () => {
  it("is followed, offered, and left", async () => {
    const state = server();
    void bringDrawing(4, file("b.png"));
    await passing();
    expect(now()).toMatchObject({ piece: 4, file: "b.png", offer: null, job: { doing: "Cutting areas" } });
    state.ends.set("j1", { state: "done", answer: OFFER as unknown as JobState["answer"] });
    await passing();
    expect(now()).toMatchObject({ offer: OFFER, job: null, error: null });
    leaveDrawing();
    expect(now()).toMatchObject({ piece: null, offer: null });
    expect(state.deleted).toEqual([]);
  });

  it("is told in words when it cannot be laid on", async () => {
    const state = server();
    state.ends.set("j1", { state: "failed", problem: { status: 422, title: "This is another drawing",
      detail: "Only 4% of its lines lie on those of the piece." } });
    void bringDrawing(4, file("b.png"));
    await passing();
    expect(now().offer).toBeNull();
    expect(now().error).toContain("Only 4% of its lines");
  });

  it("gives way to one that is brought after it, of whatever name, and its late answer is not heard", async () => {
    const state = server();
    void bringDrawing(4, file("b.png"));
    await passing();
    void bringDrawing(4, file("b.png"));
    state.ends.set("j1", { state: "failed", problem: { status: 422, title: "No", detail: "Too late." } });
    await passing();
    expect(now()).toMatchObject({ error: null, job: { id: "j2" } });
    state.ends.set("j2", { state: "done", answer: OFFER as unknown as JobState["answer"] });
    await passing();
    expect(now()).toMatchObject({ offer: OFFER, error: null });
  });

  it("is cancelled when it is left under way", async () => {
    const state = server();
    void bringDrawing(4, file("b.png"));
    await passing();
    leaveDrawing();
    state.ends.set("j1", { state: "done", answer: OFFER as unknown as JobState["answer"] });
    await passing();
    expect(state.deleted).toEqual(["j1"]);
    expect(now().offer).toBeNull();
  });
});
