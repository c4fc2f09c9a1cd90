import { act, cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Piece } from "../../../api/client";
import { NumberField } from "../../../ui/NumberField";
import { cropMarks, cutOff, cutWords, dpiOf, lie, paperName, scaled, slugOf, spotOf, USUAL, type Box } from "./paper";
import { PaperView } from "./PaperView";

const SIZE = [1000, 1500] as const;
const WHOLE: Box = [0, 0, 1000, 1500];

describe("a picture on its paper", () => {
  it("lies as the files have it, fitted or placed", () => {
    const [x, y, w, h] = lie(USUAL, SIZE, WHOLE);
    expect([x, y, w, h].map((v) => Math.round(v * 100) / 100)).toEqual([12.67, 10, 184.67, 277]);
    expect(dpiOf([x, y, w, h], SIZE)).toBeCloseTo((1000 * 25.4) / w);
    const figure: Box = [200, 100, 400, 1200];
    const lying = lie(USUAL, SIZE, figure);
    const scale = lying[2] / 1000;
    expect(lying[0] + 400 * scale).toBeCloseTo(105);
    expect(1200 * scale).toBeCloseTo(277);
    for (const subject of [WHOLE, figure]) {
      const spot = { x: 40, y: 90, width: 120 };
      const there = lie({ ...USUAL, placed: spot }, SIZE, subject);
      const back = spotOf(there, SIZE, subject);
      expect([back.x, back.y, back.width]).toEqual([40, 90, 120].map((v) => expect.closeTo(v) as unknown));
    }
  });

  it("grows about a point that stays, and tells what is cut off", () => {
    const spot = { x: 100, y: 120, width: 80 };
    for (const times of [0.5, 1.7]) {
      const next = scaled(spot, times, [60, 40]);
      expect(next.width).toBeCloseTo(80 * times);
      expect([(next.x - 60) / times, (next.y - 40) / times]).toEqual([expect.closeTo(40), expect.closeTo(80)]);
    }
    expect(scaled(spot, 1e6, [0, 0]).width).toBe(10_000);
    expect(cutOff(USUAL, [-21, 0, 210, 297])).toEqual([0.1, 0, 0, 0]);
    expect(cutWords(cutOff(USUAL, [-21, 10, 252, 378]))).toBe(
      "The sheet cuts off 8\u00a0% on the left, 8\u00a0% on the right, 24\u00a0% below.");
    expect(cutWords([0, 0, 0.001, 0])).toBeNull();
  });

  it("knows papers by their size, and where to cut", () => {
    const papers = { A4: [210, 297], "8 × 10 in": [203.2, 254] };
    expect([paperName(papers, 297, 210), paperName(papers, 203.2, 254), paperName(papers, 200, 200)]).toEqual(["A4",
      "8 × 10 in", null]);
    const marked = { ...USUAL, bleed: 4, marks: true };
    expect([slugOf(USUAL), slugOf({ ...USUAL, bleed: 4 }), slugOf(marked)]).toEqual([0, 4, 9]);
    const lines = cropMarks(marked);
    expect(lines).toHaveLength(8);
    for (const [x0, y0, x1, y1] of lines) {
      expect(x1 <= -4 || x0 >= 214 || y1 <= -4 || y0 >= 301).toBe(true);
    }
    expect(cropMarks(USUAL)).toEqual([]);
  });
});

describe("the sheet", () => {
  beforeEach(() => {
    vi.stubGlobal("ResizeObserver", class {
      constructor(private readonly tell: (entries: unknown[]) => void) {}
      observe() { this.tell([{ contentRect: { width: 452, height: 626 } }]); }
      disconnect() { /* nothing to stop */ }
    });
    HTMLElement.prototype.setPointerCapture = () => undefined;
  });
  afterEach(() => { cleanup(); vi.unstubAllGlobals(); });

  it("is seen at its true size, nearer, and whole again", () => {
    const piece = { id: 1, title: "Kite", revision: 2, width: 1000, height: 1500, recipe: { background: "#ffffff" } };
    render(<PaperView piece={piece as unknown as Piece} setup={USUAL} subject={WHOLE} kind="picture"
      onPlace={() => Promise.resolve()} />);
    const sheet = document.querySelector("[data-sheet]") as HTMLElement;
    const place = () => [sheet.style.left, sheet.style.top, sheet.style.width].map(Number.parseFloat);
    const whole = place();
    expect((whole[0] ?? 0) * 2 + (whole[2] ?? 0)).toBeCloseTo(452);
    fireEvent.keyDown(window, { key: "1", code: "Digit1" });
    expect(place()[2]).toBeCloseTo(210 * 96 / 25.4); // an inch is 96 px (CSS Values and Units Level 4)
    const [left = 0, , width = 0] = place();
    fireEvent.keyDown(window, { key: "+", code: "Equal" });
    const [nearer = 0, , wider = 0] = place();
    expect(wider).toBeCloseTo(width * 1.25);
    expect((226 - nearer) / wider).toBeCloseTo((226 - left) / width); // its middle stays there
    fireEvent.keyDown(window, { key: "0", code: "Digit0" });
    expect(place()).toEqual(whole);
  });

  it("has its picture moved and made larger by hand", async () => {
    const piece = { id: 1, title: "Kite", revision: 2, width: 1000, height: 1500, recipe: { background: "#ffffff" } };
    const placed = vi.fn((spot: { x: number; y: number; width: number }) => Promise.resolve(spot));
    render(<PaperView piece={piece as unknown as Piece} setup={USUAL} subject={WHOLE} kind="picture"
      onPlace={placed} />);
    const sheet = document.querySelector("[data-sheet]") as HTMLElement;
    sheet.getBoundingClientRect = () => ({ left: 0, top: 0 }) as DOMRect;
    const scale = Number.parseFloat(getComputedStyle(sheet).width) / 210;
    const drag = (what: Element, from: [number, number], to: [number, number]) => {
      fireEvent.pointerDown(what, { button: 0, clientX: from[0] * scale, clientY: from[1] * scale });
      fireEvent.pointerMove(screen.getByTestId("paper"), { clientX: to[0] * scale, clientY: to[1] * scale });
      fireEvent.pointerUp(screen.getByTestId("paper"));
    };
    drag(screen.getByRole("img", { name: "Kite on its paper" }), [100, 100], [110, 80]);
    expect(placed).toHaveBeenLastCalledWith({ x: 115, y: 128.5, width: 184.67 });
    await act(() => Promise.resolve()); // the piece has answered
    drag(document.querySelector("[data-corner='0']") as Element, [12.67, 10], [58.83, 79.25]);
    const [next] = placed.mock.calls.at(-1) ?? [{ x: 0, y: 0, width: 0 }];
    expect([next.x, next.y]).toEqual([105, 148.5]);
    expect(next.width).toBeCloseTo(92.33, 0);
  });
});

describe("a number that is typed", () => {
  afterEach(cleanup);

  it("is kept when it is said, and only if it can be", () => {
    const keep = vi.fn();
    render(<NumberField label="Bleed" value={3} min={0} max={25} digits={1} onKeep={keep} />);
    const field = screen.getByRole("textbox", { name: "Bleed" }) as HTMLInputElement;
    const type = (value: string, key: string) => {
      fireEvent.change(field, { target: { value } });
      fireEvent.keyDown(field, { key });
    };
    type("4,56", "Enter");
    expect(keep).toHaveBeenLastCalledWith(4.6);
    type("90", "Enter");
    type("", "Enter");
    type("3", "Enter");
    expect(keep).toHaveBeenCalledTimes(1);
    type("8", "Escape");
    expect([field.value, keep.mock.calls.length]).toEqual(["3", 1]);
  });
});
