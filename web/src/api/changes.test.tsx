import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, renderHook } from "@testing-library/react";
import type { ReactNode } from "react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Edit, Piece } from "./client";
import { useNotice } from "./notice";
import { useChanges, usePiece } from "./pieces";

const wire = vi.hoisted(() => {
  const wire = { fetch: (request: Request): Promise<Response> => Promise.reject(new TypeError(request.url)) };
  globalThis.fetch = (input) => wire.fetch(input as Request);
  return wire;
});

/** A server that knows one piece: its background, and what came in. */
function server(id: number) {
  const state = { revision: 1, background: "#000000", asked: [] as string[], waits: [] as (() => void)[], slow: false };
  const piece = () => ({ id, title: "Kite", revision: state.revision, recipe: { background: state.background,
    parts: [] } });
  const json = (body: unknown, status = 200) => new Response(JSON.stringify(body), { status,
    headers: { "content-type": status < 400 ? "application/json" : "application/problem+json" } });
  wire.fetch = async (request) => {
    const path = new URL(request.url).pathname;
    if (request.method === "GET") return json(piece());
    const { seen, edit } = (await request.json()) as { seen: number; edit?: { colour: string } };
    state.asked.push(`${path.split("/").at(-1)} ${seen} ${edit?.colour ?? ""}`.trim());
    if (state.slow) await new Promise<void>((done) => state.waits.push(done));
    if (seen !== state.revision) return json({ status: 409, title: "The piece has changed meanwhile",
      detail: "It was changed in another window." }, 409);
    if (edit?.colour === "#bad") return json({ status: 422, title: "The request does not fit",
      detail: "That is no colour." }, 422);
    state.revision += 1;
    state.background = edit?.colour ?? "#undone";
    return json(piece());
  };
  return state;
}

let number = 100;

async function opened() {
  number += 1; // queues belong to a piece
  const state = server(number);
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const wrapper = ({ children }: { children: ReactNode }) => <QueryClientProvider
    client={client}>{children}</QueryClientProvider>;
  const hook = renderHook(() => ({ piece: usePiece(number).data, changes: useChanges(number) }), { wrapper });
  await act(() => vi.waitFor(() => expect(hook.result.current.piece).toBeDefined()));
  return { state, now: () => hook.result.current.piece as Piece, changes: () => hook.result.current.changes };
}

const paint = (colour: string): Edit => ({ kind: "set_background", colour });

beforeEach(() => useNotice.setState({ notice: null }));
afterEach(cleanup);

describe("changes of a piece", () => {
  it("go one after the other, each naming the revision that the one before gave", async () => {
    const { state, now, changes } = await opened();
    await act(async () => {
      const made = ["#111111", "#222222", "#333333"].map((colour) => changes().edit(paint(colour)));
      changes().undo();
      await Promise.all(made);
      await vi.waitFor(() => expect(state.asked).toHaveLength(4));
    });
    expect(state.asked).toEqual(["edits 1 #111111", "edits 2 #222222", "edits 3 #333333", "undo 4"]);
    await act(() => vi.waitFor(() => expect(now().revision).toBe(5)));
  });

  it("do not overtake each other while the first is under way", async () => {
    const { state, changes } = await opened();
    state.slow = true;
    await act(async () => {
      const both = [changes().edit(paint("#111111")), changes().edit(paint("#222222"))];
      await vi.waitFor(() => expect(state.waits).toHaveLength(1));
      expect(state.asked).toEqual(["edits 1 #111111"]);
      state.waits[0]?.();
      await vi.waitFor(() => expect(state.waits).toHaveLength(2));
      state.waits[1]?.();
      await Promise.all(both);
    });
    expect(state.asked).toEqual(["edits 1 #111111", "edits 2 #222222"]);
  });

  it("that rewrite a whole are worked out from what their turn finds", async () => {
    const { state, changes } = await opened();
    await act(async () => {
      const both = [changes().edit(paint("#111111")),
        changes().edit((latest) => paint(`${latest.recipe.background}ff`))];
      await Promise.all(both);
    });
    expect(state.asked).toEqual(["edits 1 #111111", "edits 2 #111111ff"]);
  });

  it("made in another window are fetched, said, and lose nothing that follows", async () => {
    const { state, now, changes } = await opened();
    state.revision = 7;
    state.background = "#777777";
    await act(async () => { expect(await changes().edit(paint("#111111"))).toBeNull(); });
    expect(useNotice.getState().notice).toMatchObject({ text: expect.stringContaining("another window") as string });
    await act(() => vi.waitFor(() => expect(now().recipe.background).toBe("#777777")));
    await act(async () => { expect((await changes().edit(paint("#222222")))?.revision).toBe(8); });
    expect(state.asked).toEqual(["edits 1 #111111", "edits 7 #222222"]);
  });

  it("that are refused change nothing, and the next goes on from there", async () => {
    const { state, now, changes } = await opened();
    await act(async () => {
      expect(await changes().edit(paint("#bad"))).toBeNull();
      expect((await changes().edit(paint("#222222")))?.recipe.background).toBe("#222222");
    });
    await act(() => vi.waitFor(() => expect(now().revision).toBe(2)));
    expect(useNotice.getState().notice).toEqual({ text: "That is no colour.", tone: "error" });
    expect(state.asked).toEqual(["edits 1 #bad", "edits 1 #222222"]);
  });
});
