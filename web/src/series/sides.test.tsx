import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, fireEvent, render, screen, waitFor } from "@testing-library/react";
import type { ReactNode } from "react";
import { createMemoryRouter, RouterProvider } from "react-router";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Piece } from "../api/client";
import type { Drift, PageSheet, Series, SeriesMember, SeriesPlace } from "../api/series";
import { CheckSide } from "./CheckSide";
import { Doubts } from "./Doubts";
import { FilesSide } from "./FilesSide";
import { Panels, type Hold } from "./Panels";
import { Play } from "./Play";
import { SeriesBar } from "./SeriesBar";
import { SharedSide } from "./SharedSide";

const wire = vi.hoisted(() => {
  const wire = { fetch: (request: Request): Promise<Response> => Promise.reject(new TypeError(request.url)) };
  globalThis.fetch = (input) => wire.fetch(input as Request);
  return wire;
});

const member = (id: number, more: Partial<SeriesMember> = {}): SeriesMember => ({ id, title: `Frame ${id}`, revision: 1,
  step: "parts", state: "in work", scene: "", hold: 1, page: null, character: null, width: 100, height: 120, own: [],
  carried: false, doubts: 0, parts: [["coat"]], findings: null, ...more });
const series = (more: Partial<Series["shared"]> = {}, members = [member(1), member(2, { own: ["passes"] })]): Series =>
  ({ id: 9, title: "Rounds", shared: { lines: null, passes: {}, delivery: null, fill: null, scenes: [], minutes: {},
    fps: 12, ...more }, members, pages: [] }) as unknown as Series;
type Work = Parameters<typeof SharedSide>[0]["work"];
const work = (more: Partial<Record<keyof Work, unknown>> = {}) => ({ job: null, share: vi.fn(), shareFrom: vi.fn(),
  followAgain: vi.fn(), change: vi.fn(), write: vi.fn(), batch: vi.fn(), place: vi.fn(), ...more }) as unknown as Work;

let place: SeriesPlace | null = null;
const asked: string[] = [];

beforeEach(() => {
  asked.length = 0;
  wire.fetch = async (request) => {
    asked.push(`${request.method} ${new URL(request.url, "http://a").pathname}`);
    const answer = request.url.endsWith("/place") ? place : request.url.endsWith("/clock")
      ? { plan: { minutes: { colour: 7 } } } : { id: "j", state: "done", progress: 1, doing: "" };
    return new Response(JSON.stringify(answer), { headers: { "content-type": "application/json" },
      status: request.method === "POST" ? 202 : 200 });
  };
});
afterEach(cleanup);

function show(what: ReactNode) {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const router = createMemoryRouter([{ path: "*", element: what }]);
  render(<QueryClientProvider client={client}><RouterProvider router={router} /></QueryClientProvider>);
  return router;
}

describe("what is shared", () => {
  it("says who follows, and lets the others follow again", () => {
    const w = work();
    show(<SharedSide series={series()} picked={[]} work={w} />);
    expect(screen.getByText("1 of its own")).toBeTruthy();
    expect(screen.getAllByText("left to each")).toHaveLength(4);
    fireEvent.click(screen.getAllByRole("button", { name: "All follow" })[0] as HTMLElement);
    expect(w.followAgain).toHaveBeenCalledWith([2], ["passes"]);
    fireEvent.click(screen.getByRole("button", { name: "Leave to each" }));
    expect(w.share).toHaveBeenCalledWith(expect.objectContaining({ passes: null }));
    fireEvent.click(screen.getAllByRole("button", { name: "Share" })[0] as HTMLElement);
    expect(w.shareFrom).toHaveBeenCalledWith(1, ["lines"]);
  });

  it("takes a plan from a picture", async () => {
    const w = work();
    show(<SharedSide series={series()} picked={[]} work={w} />);
    fireEvent.click(screen.getAllByRole("button", { name: "Share" }).at(-1) as HTMLElement);
    await waitFor(() => expect(w.share).toHaveBeenCalledWith(expect.objectContaining({ minutes: { colour: 7 } })));
    expect(asked).toEqual(["GET /api/pieces/1/clock"]);
  });

  it("adds a scene once, whatever its capitals, and puts pictures into it", async () => {
    const w = work();
    show(<SharedSide series={series({ scenes: [{ name: "Dusk", light: null, background: null }] })} picked={[1, 2]}
      work={w} />);
    const field = screen.getByRole("textbox", { name: "New scene" });
    fireEvent.change(field, { target: { value: " dusk " } });
    fireEvent.click(screen.getByRole("button", { name: "Add" }));
    expect(w.share).not.toHaveBeenCalled();
    fireEvent.change(field, { target: { value: " noon " } });
    fireEvent.click(screen.getByRole("button", { name: "Add" }));
    expect(w.share).toHaveBeenCalledWith(expect.objectContaining({ scenes: [
      { name: "Dusk", light: null, background: null }, { name: "noon", light: null, background: null }] }));
    fireEvent.mouseDown(screen.getByRole("combobox", { name: "The 2 chosen pictures play in" }));
    fireEvent.click(screen.getByRole("option", { name: "Dusk" }));
    await waitFor(() => expect(w.place).toHaveBeenCalledTimes(2));
    expect(w.place).toHaveBeenCalledWith(2, { scene: "Dusk" });
    fireEvent.click(screen.getByRole("button", { name: "Remove the scene Dusk" }));
    expect(w.share).toHaveBeenLastCalledWith(expect.objectContaining({ scenes: [] }));
  });
});

describe("drift", () => {
  const drift: Drift[] = [{ piece: 2, what: "colour", part: ["coat"], by: 9, here: "#112233", usual: "#445566" },
    { piece: 1, what: "light", part: [], by: 40, here: "80°", usual: "40°" },
    { piece: 1, what: "shade", part: ["coat"], by: 0.3, here: "70%", usual: "40%" }];

  it("is put right where a number says how", () => {
    const w = work();
    show(<CheckSide series={series()} drift={drift} work={w} finding={null} onFinding={vi.fn()} />);
    const buttons = screen.getAllByRole("button", { name: /As usual/ });
    expect(buttons).toHaveLength(2); // how shade lies is for a person to say
    fireEvent.click(buttons[0] as HTMLElement);
    expect(w.change).toHaveBeenCalledWith({ change: { part: ["coat"], base: "#445566", material: null }, scene: null,
      azimuth: null, pieces: [2] });
    fireEvent.click(buttons[1] as HTMLElement);
    expect(w.change).toHaveBeenLastCalledWith({ change: null, scene: null, azimuth: 40, pieces: [1] });
  });

  it("says so when there is none", () => {
    show(<CheckSide series={series()} drift={[]} work={work()} finding={null} onFinding={vi.fn()} />);
    expect(screen.getByText("Nothing has drifted.")).toBeTruthy();
  });
});

describe("findings of a series", () => {
  it("are looked for where nobody looked, and filter the wall", () => {
    const [w, chosen] = [work({ lookOver: vi.fn() }), vi.fn()];
    const some = [member(1, { findings: ["flat"] }), member(2, { findings: ["flat", "merge"] }), member(3)];
    show(<CheckSide series={series({}, some)} drift={[]} work={w} finding="merge" onFinding={chosen} />);
    expect(screen.getByText(/picture was not looked over/).textContent).toContain("1 picture");
    fireEvent.click(screen.getByRole("button", { name: "Look over" }));
    expect(w.lookOver).toHaveBeenCalledWith();
    const [flat, merge] = ["flat", "merge"].map((name) => screen.getByRole("button", { name: new RegExp(name) }));
    expect([flat?.textContent, merge?.getAttribute("aria-pressed")]).toEqual(["flat2 pictures", "true"]);
    fireEvent.click(flat as HTMLElement);
    expect(chosen).toHaveBeenLastCalledWith("flat");
    fireEvent.click(merge as HTMLElement);
    expect(chosen).toHaveBeenLastCalledWith(null);
  });
});

describe("files", () => {
  it("are written at a size that can be written, of what is chosen", () => {
    const w = work();
    show(<FilesSide series={series()} picked={[2]} work={w} />);
    const edge = screen.getByRole("textbox", { name: "Longer edge, px" });
    fireEvent.change(edge, { target: { value: "12" } });
    expect((screen.getByRole("button", { name: "Write WebM" }) as HTMLButtonElement).disabled).toBe(true);
    fireEvent.change(edge, { target: { value: "720" } });
    fireEvent.click(screen.getByRole("button", { name: "Write WebM" }));
    expect(w.write).toHaveBeenCalledWith({ format: "webm", long_edge: 720, pieces: [2] });
    // A rate is kept when it is said, not while it is typed.
    const rate = screen.getByRole("textbox", { name: "Frames a second" });
    for (const value of ["2", "24", "240"]) fireEvent.change(rate, { target: { value } });
    fireEvent.keyDown(rate, { key: "Enter" });
    expect(w.share).not.toHaveBeenCalled();
    fireEvent.change(rate, { target: { value: "24" } });
    fireEvent.keyDown(rate, { key: "Enter" });
    expect(w.share).toHaveBeenCalledExactlyOnceWith(expect.objectContaining({ fps: 24 }));
    fireEvent.click(screen.getByRole("checkbox", { name: /Deliver/ }));
    fireEvent.click(screen.getByRole("checkbox", { name: /Flats/ }));
    fireEvent.click(screen.getByRole("button", { name: "Start" }));
    expect(w.batch).toHaveBeenCalledWith({ stages: ["shade", "deliver"], pieces: [2] });
  });
});

describe("a picture in its series", () => {
  const piece = { id: 2, revision: 3, recipe: { parts: [{ id: "p1", name: "coat", base: "#112233" },
    { id: "p2", name: "cap", base: "#445566" }], claims: [] } } as unknown as Piece;
  const told = (more: Partial<SeriesPlace> = {}): SeriesPlace => ({ series: 9, title: "Rounds", number: 2, count: 3,
    before: 1, after: 4, scene: "dusk", page: null, own: [], doubts: [], carried: true, sources: [1], ...more });

  it("leads to its neighbours, by pointer and by key", async () => {
    place = told();
    const router = show(<SeriesBar piece={piece} step="colour" />);
    await screen.findByText("plays in dusk");
    fireEvent.click(screen.getByRole("button", { name: /^Before/ }));
    expect(router.state.location.pathname).toBe("/piece/1/colour");
    fireEvent.keyDown(document.body, { key: "PageDown", altKey: true });
    await waitFor(() => expect(router.state.location.pathname).toBe("/piece/4/colour"));
  });

  it("is not there for a piece that is in none", async () => {
    place = null;
    show(<SeriesBar piece={piece} step="colour" />);
    await waitFor(() => expect(asked).toContain("GET /api/pieces/2/place"));
    expect(screen.queryByRole("region", { name: "In its series" })).toBeNull();
  });

  it("is not asked about again while a piece that is in none is edited", async () => {
    place = null;
    const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
    const at = (revision: number) => <QueryClientProvider client={client}><RouterProvider router={createMemoryRouter([
      { path: "*", element: <SeriesBar piece={{ ...piece, revision }} step="colour" /> }])} /></QueryClientProvider>;
    const { rerender } = render(at(3));
    await waitFor(() => expect(asked).toEqual(["GET /api/pieces/2/place"]));
    for (const revision of [4, 5]) {
      rerender(at(revision));
      await waitFor(() => expect(client.getQueryData(["place", 2, revision])).toBeNull());
    }
    expect(asked).toHaveLength(1);
  });

  it("asks about one doubtful area after the other", async () => {
    place = told({ doubts: [{ place: [5, 6], part: "p1", second: "p2", chance: 0.4, pixels: 90 },
      { place: [50, 60], part: null, second: "p1", chance: 0.6, pixels: 40 }] });
    const edit = vi.fn(() => Promise.resolve());
    const onPoint = vi.fn();
    show(<Doubts piece={piece} edit={edit} onPoint={onPoint} />);
    await screen.findByText(/are doubtful/);
    fireEvent.click(screen.getByRole("button", { name: /^cap/ }));
    const made = (edit.mock.calls[0] as unknown as [(latest: Piece) => unknown])[0];
    expect(made(piece)).toMatchObject({ kind: "replace_parts", proposed: true,
      claims: [{ to: "p2", strokes: [[[5, 6]]] }] });
    fireEvent.click(screen.getByRole("button", { name: "Show" }));
    expect(onPoint).toHaveBeenCalledWith([5, 6]);
    fireEvent.click(screen.getByRole("button", { name: "Later" }));
    fireEvent.click(screen.getByRole("button", { name: /^none of them/ }));
    const second = (edit.mock.calls[1] as unknown as [(latest: Piece) => unknown])[0];
    expect(second(piece)).toMatchObject({ claims: [{ to: "none", strokes: [[[50, 60]]] }] });
    fireEvent.click(screen.getByRole("button", { name: "Keep, and carry on" }));
    await waitFor(() => expect(asked).toContain("POST /api/series/9/carry"));
    expect(edit).toHaveBeenLastCalledWith({ kind: "keep_parts" });
  });

  it("asks nothing once parts are kept or were never carried over", async () => {
    place = told({ sources: [] });
    show(<Doubts piece={piece} edit={vi.fn()} onPoint={vi.fn()} />);
    await waitFor(() => expect(asked).toContain("GET /api/pieces/2/place"));
    expect(screen.queryByRole("status")).toBeNull();
  });
});

describe("pictures one after the other", () => {
  it("run by their holds and stop where one looks", () => {
    vi.useFakeTimers();
    try {
      show(<Play members={[member(1, { hold: 2 }), member(2), member(3)]} fps={10} first={0} onClose={vi.fn()} />);
      const here = () => screen.getAllByRole("img").map((i) => i.getAttribute("alt")).find((alt) => alt);
      expect(here()).toBe("1. Frame 1");
      fireEvent.click(screen.getByRole("button", { name: /^Run/ }));
      const seen = Array.from({ length: 5 }, () => {
        act(() => { vi.advanceTimersByTime(100); });
        return here();
      });
      expect(seen).toEqual(["1. Frame 1", "2. Frame 2", "3. Frame 3", "1. Frame 1", "1. Frame 1"]);
      fireEvent.click(screen.getByRole("button", { name: /^Stop/ }));
      act(() => { vi.advanceTimersByTime(1000); });
      expect(here()).toBe("1. Frame 1");
      fireEvent.keyDown(screen.getByRole("dialog"), { key: "ArrowLeft" });
      expect(here()).toBe("3. Frame 3");
      fireEvent.keyDown(screen.getByRole("dialog"), { key: "o" });
      expect(screen.getByRole("button", { name: /^Neighbours/ }).getAttribute("aria-pressed")).toBe("true");
      expect(screen.getAllByRole("presentation").length).toBeGreaterThan(0);
    } finally {
      vi.useRealTimers();
    }
  });
});

describe("panels on their sheet", () => {
  const page = { id: 3, series: 9, title: "Page 1", revision: 1, sheet: { asset: "a", width: 400, height: 400,
    reading: "left to right", letters: true, panels: [{ outline: [[20, 20], [380, 20], [380, 180], [20, 180]],
      piece: 1 }, { outline: [[20, 200], [380, 200], [380, 380], [20, 380]], piece: 2 }],
    balloons: [[[60, 40], [120, 40], [120, 90], [60, 90]]] } } as unknown as PageSheet;

  function sheet(act_: Hold) {
    vi.stubGlobal("ResizeObserver", class {
      constructor(private readonly tell: (entries: unknown[]) => void) {}
      observe() { this.tell([{ contentRect: { width: 432, height: 432 } }]); }
      disconnect() { /* nothing to stop */ }
    });
    HTMLElement.prototype.setPointerCapture = () => undefined;
    const told = { panels: vi.fn(), add: vi.fn(), balloon: vi.fn(), choose: vi.fn() };
    show(<Panels page={page} act={act_} chosen={null} onChoose={told.choose} onPanels={told.panels} onAdd={told.add}
      onBalloon={told.balloon} />);
    const at = screen.getByTestId("sheet");
    const scale = Number.parseFloat(at.style.width || getComputedStyle(at).width) / 400 || 1;
    at.getBoundingClientRect = () => ({ left: 0, top: 0, width: 400 * scale, height: 400 * scale }) as DOMRect;
    const pen = (kind: "Down" | "Move" | "Up", x: number, y: number) => fireEvent[`pointer${kind}`](at, {
      clientX: x * scale, clientY: y * scale, button: 0, pointerId: 1 });
    return { told, pen };
  }
  afterEach(() => vi.unstubAllGlobals());

  it("move by their corners and stay on the sheet", () => {
    const { told, pen } = sheet("corners");
    pen("Down", 379, 379);
    pen("Move", 500, 350);
    pen("Up", 500, 350);
    const [outlines] = told.panels.mock.calls[0] as [number[][][]];
    expect(outlines[0]).toEqual(page.sheet.panels?.[0]?.outline);
    expect(outlines[1]?.[2]).toEqual([400, 350]);
    pen("Down", 200, 300);
    expect(told.choose).toHaveBeenLastCalledWith(1);
    pen("Down", 200, 190);
    expect(told.choose).toHaveBeenLastCalledWith(null);
  });

  it("are drawn, unless it was a mere click; balloons are drawn round and taken away", () => {
    const panel = sheet("panel");
    panel.pen("Down", 40, 40);
    panel.pen("Up", 41, 41);
    expect(panel.told.add).not.toHaveBeenCalled();
    panel.pen("Down", 300, 300);
    panel.pen("Move", 100, 150);
    panel.pen("Up", 100, 150);
    expect(panel.told.add).toHaveBeenCalledWith([[100, 150], [300, 150], [300, 300], [100, 300]]);
    cleanup();
    const balloon = sheet("balloon");
    balloon.pen("Down", 100, 100);
    balloon.pen("Move", 300, 200);
    balloon.pen("Up", 300, 200);
    const [round] = balloon.told.add.mock.calls[0] as [number[][]];
    expect(round).toHaveLength(40);
    for (const [x = 0, y = 0] of round) expect(((x - 200) / 100) ** 2 + ((y - 150) / 50) ** 2).toBeCloseTo(1);
    cleanup();
    const away = sheet("away");
    away.pen("Down", 90, 60);
    expect(away.told.balloon).toHaveBeenCalledWith(0);
  });
});
