import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen, waitFor, within } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Piece } from "../../api/client";
import type { Happened } from "../../api/events";
import { deliveriesOf, roundsOf } from "../../api/rounds";
import { Rounds } from "./Rounds";

vi.mock("../../picture/PictureView", () => ({ PictureView: () => null }));

const wire = vi.hoisted(() => {
  const wire = { events: [] as unknown[], since: [] as unknown[] };
  globalThis.fetch = async (input) => {
    const { method, url } = input as Request;
    if (method === "POST") {
      wire.events.push({ number: wire.events.length + 1, at: "2026-03-02T09:00:00Z",
        event: await (input as Request).json() });
    }
    if (url.endsWith("/since")) return Response.json(wire.since);
    if (url.endsWith("/clock")) return Response.json({ state: "sent", plan: { rounds: 2, occasion: "Ada", minutes: {} },
      spent: {}, pace: { words: "" }, since_break: {} });
    return Response.json(wire.events);
  };
  return wire;
});

const at = (number: number, event: object) => ({ number, at: `2026-03-0${number}T09:00:00Z`, event }) as Happened;
const FILE = { kind: "delivered", format: "png", name: "kite.png", size: 3_500_000, digest: "0".repeat(64), looks: [],
  changes: 3 };
const PIECE = { id: 7, revision: 4, changes: 9, recipe: { looks: [{ id: "k1", name: "Dusk" }], source: { number: 1 },
  other_drawings: [] } } as unknown as Piece;

function shown() {
  render(<QueryClientProvider client={new QueryClient()}><Rounds piece={PIECE} tabs={null} /></QueryClientProvider>);
}

beforeEach(() => { wire.events = [at(1, FILE), at(2, { ...FILE, name: "kite.ora" })]; wire.since = []; });
afterEach(cleanup);

describe("rounds", () => {
  it("are told latest first, and nothing else with them", () => {
    const events = [at(1, FILE), at(2, { kind: "sent", to: "Ada", files: [1] }), at(3, { kind: "filing", tags: [] }),
      at(4, { kind: "verdict", verdict: "approved", look: "piece" }), at(5, { kind: "completion", done: true })];
    expect(roundsOf(events).map((r) => r.number)).toEqual([5, 4, 2]);
    expect(deliveriesOf(events).map((d) => [d.number, d.name])).toEqual([[1, "kite.png"]]);
  });

  it("note which files went to whom", async () => {
    shown();
    fireEvent.click(await screen.findByRole("checkbox", { name: /kite\.ora/ }));
    await waitFor(() => expect(screen.getByLabelText<HTMLInputElement>("To whom").value).toBe("Ada"));
    fireEvent.change(screen.getByLabelText("With what word"), { target: { value: "round one" } });
    fireEvent.click(screen.getByRole("button", { name: "It went out" }));
    expect(await screen.findByText("Sent to Ada, 1 file")).toBeTruthy();
    expect((wire.events.at(-1) as Happened).event).toEqual({ kind: "sent", to: "Ada", files: [2], text: "round one",
      changes: 9 });
    expect(screen.getByRole("status").textContent).toBe("Sent, round 1 of 2");
  });

  it("note what was said, of which look, and list what has changed since", async () => {
    wire.since = [
      { what: "coat", part: "p1", words: "base 12.3 away", step: 12.3, before: "#112233", after: "#445566" },
      { what: "the light", part: null, words: "moved by 9°", step: 0, before: null, after: null }];
    wire.events.push(at(3, { kind: "verdict", verdict: "approved", about: "colours", look: "piece", text: "lovely",
      by: "Ada", shown: { parts: [], subjects: {} } }));
    wire.events.push(at(4, { kind: "remark", points: [[3, 4]], wish: "look here", text: "softer here", by: "" }));
    shown();
    const list = await screen.findByRole("list", { name: "Changed since" });
    expect(within(list).getAllByRole("listitem").map((i) => i.textContent)).toEqual(["coat base 12.3 away",
      "the light moved by 9°"]);
    fireEvent.click(screen.getByRole("radio", { name: "The rough" }));
    fireEvent.mouseDown(screen.getByRole("combobox", { name: "Place" }));
    fireEvent.click(screen.getByRole("option", { name: "Remark 1: softer here" }));
    fireEvent.change(screen.getByLabelText("Who"), { target: { value: "Tarn" } });
    fireEvent.click(screen.getByRole("button", { name: "They want changes" }));
    expect(await screen.findByText("The rough: changes wanted by Tarn")).toBeTruthy();
    expect((wire.events.at(-1) as Happened).event).toMatchObject({ kind: "verdict", about: "rough", look: "piece",
      drawing: null, remark: 4, by: "Tarn", changes: 9 });
  });
});
