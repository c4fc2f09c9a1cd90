import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Piece } from "../api/client";
import type { KeptReference } from "../api/references";
import { References } from "./References";

const wire = vi.hoisted(() => {
  const wire = { fetch: (request: Request): Promise<Response> => Promise.reject(new TypeError(request.url)) };
  globalThis.fetch = (input) => wire.fetch(input as Request);
  return wire;
});
const reference = (number: number, more: Partial<KeptReference> = {}): KeptReference => ({ piece: 4, number,
  name: `photo ${number}.png`, note: "", shared: false, width: 60, height: 40, ...more });
const sent: unknown[] = [];
let held: KeptReference[] = [];

beforeEach(() => {
  sent.length = 0;
  vi.stubGlobal("ResizeObserver", class { observe() { /* nothing is laid out */ } disconnect() { /* nor here */ } });
  wire.fetch = async (request) => {
    if (request.method === "POST") sent.push(await request.json());
    return new Response(JSON.stringify(request.url?.includes("/references") ? held : []),
      { headers: { "content-type": "application/json" } });
  };
  vi.stubGlobal("createImageBitmap", () => new Promise(() => undefined));
});
afterEach(() => { cleanup(); vi.unstubAllGlobals(); });

function shown(onClose = vi.fn()) {
  const client = new QueryClient({ defaultOptions: { queries: { staleTime: Infinity } } });
  client.setQueryData(["references", 4], held);
  render(<QueryClientProvider client={client}><References piece={{ id: 4 } as Piece} onClose={onClose} />
  </QueryClientProvider>);
  return onClose;
}

describe("references", () => {
  it("say what they are for while there are none", () => {
    held = [];
    const onClose = shown();
    expect(screen.getByText(/never delivered/)).toBeTruthy();
    fireEvent.keyDown(screen.getByRole("complementary"), { key: "Escape" });
    fireEvent.click(screen.getByRole("button", { name: "Hide" }));
    expect(onClose).toHaveBeenCalledTimes(2);
  });

  it("are looked at one by one, each by its note or its name", () => {
    held = [reference(1), reference(2, { note: "hands" })];
    shown();
    expect(screen.getByTestId("reference").getAttribute("aria-label")).toContain("photo 1.png");
    fireEvent.click(screen.getByRole("button", { name: "hands" }));
    expect(screen.getByTestId("reference").getAttribute("aria-label")).toContain("hands");
    expect(screen.getByRole("button", { name: "hands" }).getAttribute("aria-pressed")).toBe("true");
  });

  it("take a note when one leaves it, and only if it changed", async () => {
    held = [reference(7, { note: "old" })];
    shown();
    const field = screen.getByRole("textbox", { name: "Note" });
    fireEvent.blur(field);
    fireEvent.change(field, { target: { value: " the rim " } });
    fireEvent.blur(field);
    await waitFor(() => expect(sent).toEqual([{ kind: "reference_note", reference: 7, note: "the rim",
      shared: false }]));
  });

  it("are shared and taken away", async () => {
    held = [reference(7)];
    shown();
    fireEvent.click(screen.getByRole("checkbox", { name: "For all of this character" }));
    await waitFor(() => expect(sent.at(-1)).toEqual({ kind: "reference_note", reference: 7, note: "", shared: true }));
    fireEvent.click(screen.getByRole("button", { name: "Take away" }));
    await waitFor(() => expect(sent.at(-1)).toEqual({ kind: "reference_gone", reference: 7 }));
  });

  it("of another piece can be looked at, not changed", () => {
    held = [reference(3, { piece: 9, note: "the coat", shared: true })];
    shown();
    expect(screen.getByText(/the coat, from another piece/)).toBeTruthy();
    expect(screen.queryByRole("textbox", { name: "Note" })).toBeNull();
    expect(screen.queryByRole("button", { name: "Take away" })).toBeNull();
  });
});
