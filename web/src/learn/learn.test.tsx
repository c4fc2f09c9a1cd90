import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, fireEvent, render, renderHook, screen, within } from "@testing-library/react";
import type { ReactNode } from "react";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Course, Lesson, LessonAnswer, LessonResult } from "../api/learn";
import { ColourMade, LightTold, Ordered } from "./answers";
import { useDrawing } from "./drawing";
import { LearnPage } from "./LearnPage";
import { Outcome } from "./Outcome";

const LESSON: Lesson = { key: "values", level: 3, seed: 5, needed: 63, label: "Six values in order", what: "",
  ask: "order", asked: null, question: "Put them in order, darkest first.", look: "Squint.", light: null, rim: null,
  swatches: ["#777777", "#111111", "#cccccc", "#444444", "#eeeeee", "#222222"], step: 0, turn: 0, width: 640,
  height: 640, choices: 0 };
const RESULT: LessonResult = { score: 72.4, needed: 63, passed: true, level: 4, said: ["The light is right to 2°."],
  figures: { azimuth: -7.4, amount: 0.31, wanted: 0.38 }, near: [0.5, 0.82, 1], pieces: [], right_light: null,
  right_colour: null, right_order: [] };

const props = (lesson: Partial<Lesson>, result: LessonResult | null = null) => ({ lesson: { ...LESSON, ...lesson },
  result, solved: false, busy: false, onAnswer: vi.fn<(answer: LessonAnswer) => void>(), onSolved: vi.fn(),
  onNext: vi.fn() });

function inside(what: ReactNode, client = new QueryClient()) {
  return render(<QueryClientProvider client={client}><MemoryRouter>{what}</MemoryRouter></QueryClientProvider>);
}

beforeEach(() => {
  vi.stubGlobal("ResizeObserver", class { observe() {} unobserve() {} disconnect() {} });
  vi.stubGlobal("fetch", () => new Promise(() => undefined));
  vi.spyOn(HTMLCanvasElement.prototype, "getContext").mockReturnValue(null);
});
afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

describe("an order", () => {
  it("is made by clicks, darkest first, and can be taken back one by one", () => {
    const given = props({});
    inside(<Ordered {...given} />);
    const measure = screen.getByRole<HTMLButtonElement>("button", { name: /Measure/ });
    const pool = () => within(screen.getByRole("group", { name: "Six colours" })).queryAllByRole("button");
    const mine = () => within(screen.getByRole("group", { name: "Your order" })).queryAllByRole("button");
    for (const k of [2, 6, 4, 1]) fireEvent.click(screen.getByRole("button", { name: `Colour ${k}` }));
    expect([pool().length, mine().length, measure.disabled]).toEqual([2, 4, true]);
    fireEvent.click(screen.getByRole("button", { name: "Number 2: colour 6" }));
    expect([pool().length, mine().length]).toEqual([3, 3]);
    for (const k of [6, 3, 5]) fireEvent.click(screen.getByRole("button", { name: `Colour ${k}` }));
    fireEvent.click(measure);
    expect(given.onAnswer).toHaveBeenCalledExactlyOnceWith({ order: [1, 3, 0, 5, 2, 4] });
  });

  it("is answered by the key only once it is whole", () => {
    const given = props({});
    inside(<Ordered {...given} />);
    fireEvent.keyDown(document.body, { key: "Enter", code: "Enter" });
    expect(given.onAnswer).not.toHaveBeenCalled();
    for (const k of [1, 2, 3, 4, 5, 6]) fireEvent.click(screen.getByRole("button", { name: `Colour ${k}` }));
    fireEvent.keyDown(document.body, { key: "Enter", code: "Enter" });
    expect(given.onAnswer).toHaveBeenCalledWith({ order: [0, 1, 2, 3, 4, 5] });
  });

  it("shows the right one below when it was measured, and no longer changes", () => {
    inside(<Ordered {...props({}, { ...RESULT, near: [], right_order: [1, 5, 3, 0, 2, 4] })} />);
    const right = screen.getByRole("group", { name: "The right order" });
    expect(within(right).getByLabelText("Right, number 1: colour 2")).toBeTruthy();
    expect(screen.queryByRole("button", { name: /Measure/ })).toBeNull();
  });
});

describe("a light and a colour", () => {
  it("is told by where the puck stands", () => {
    const given = props({ key: "light", ask: "light", question: "Where?" });
    inside(<LightTold {...given} />);
    const puck = screen.getByRole("slider", { name: "Light" });
    for (const key of ["ArrowLeft", "ArrowLeft", "ArrowDown"]) fireEvent.keyDown(puck, { key });
    fireEvent.click(screen.getByRole("button", { name: /Measure/ }));
    expect(given.onAnswer).toHaveBeenCalledWith({ light: { azimuth: 100, height: 55 } });
  });

  it("is made of the base, and not measured before it was changed", () => {
    const given = props({ key: "shade colour", ask: "colour", swatches: ["#c98f4a"], step: 18.5, turn: -7 });
    inside(<ColourMade {...given} />);
    expect(screen.getByText(/18.5 \(CIEDE2000\) darker, its hue moved 7° back on the wheel/)).toBeTruthy();
    const measure = screen.getByRole<HTMLButtonElement>("button", { name: /Measure/ });
    expect(measure.disabled).toBe(true);
    const hex = screen.getByRole("textbox", { name: /Hex/ });
    fireEvent.change(hex, { target: { value: "#804f33" } });
    fireEvent.keyDown(hex, { key: "Enter" });
    fireEvent.blur(hex);
    fireEvent.click(measure);
    expect(given.onAnswer).toHaveBeenCalledWith({ colour: "#804f33" });
  });
});

describe("what was measured", () => {
  it("is said in words, figures and what comes next", () => {
    const given = props({ key: "ball", ask: "draw", asked: "shade", level: 3 }, RESULT);
    inside(<Outcome {...given} />);
    const status = screen.getByRole("status");
    expect(status.textContent).toContain("72of 100: passed. Level 4 comes next.");
    expect(status.textContent).toContain("50 %  82 %  100 %");
    expect(status.textContent).toContain("−7°");
    expect(status.textContent).toContain("31 % of 38 %");
    fireEvent.click(screen.getByRole("button", { name: /Next/ }));
    fireEvent.click(screen.getByRole("button", { name: /The right answer/ }));
    expect([given.onNext, given.onSolved].map((f) => f.mock.calls.length)).toEqual([1, 1]);
  });
});

describe("a drawing", () => {
  it("keeps strokes, whether they take away, and gives the last one back", async () => {
    const { result } = renderHook(() => useDrawing({ width: 640, height: 480 }, true, "#000"));
    const draw = async (...points: [number, number][]) => {
      await act(async () => {
        const event = new MouseEvent("pointerdown") as PointerEvent;
        const [first = [0, 0], ...rest] = points;
        result.current.tool?.down?.(...first, event);
        for (const point of rest) result.current.tool?.move?.(...point, event);
        result.current.tool?.up?.(0, 0, event);
        await Promise.resolve();
      });
    };
    await draw([10, 10], [60, 10], [60, 80.04]);
    await draw([1, 1], [9, 9]); // encloses nothing
    expect(result.current.strokes).toEqual([{ points: [[10, 10], [60, 10], [60, 80]], widths: [], erases: false }]);
    act(() => { fireEvent.keyDown(document.body, { key: "o", code: "KeyO" }); });
    act(() => { fireEvent.keyDown(document.body, { key: "w", code: "KeyW" }); });
    await draw([30, 30], [40, 40]);
    const last = result.current.strokes.at(-1);
    expect([last?.erases, last?.points.length, last?.widths.length]).toEqual([true, 2, 2]);
    act(() => { fireEvent.keyDown(document.body, { key: "z", code: "KeyZ", ctrlKey: true }); });
    expect(result.current.strokes).toHaveLength(1);
  });
});

describe("the course", () => {
  it("says how far one is in each skill, and what to go on with", () => {
    const client = new QueryClient({ defaultOptions: { queries: { staleTime: Infinity } } });
    const course: Course = { following: "tube", answered: 3, skills: [{ key: "turning", label: "Where a form turns",
      level: 4, needed: 70, scores: [40, 81.2, 66], off: 7.5, lessons: [
        { key: "ball", label: "Ball", ask: "draw", answered: 3, best: 81.2 },
        { key: "tube", label: "Tube", ask: "draw", answered: 0, best: null }] },
    { key: "colour", label: "Shade colours", level: 1, needed: 45, scores: [], off: null, lessons: [
      { key: "values", label: "Six values", ask: "order", answered: 0, best: null }] },
    { key: "own", label: "Your own pieces", level: 1, needed: 45, scores: [], off: null, lessons: [] }] };
    client.setQueryData(["course"], course);
    const piece = (id: number, changed: string, away = false, series: number | null = null) => ({ id, revision: 4, away,
      title: `Kite ${id}`, changed, series });
    client.setQueryData(["pieces"], [piece(1, "2026-01-02"), piece(2, "2026-01-06", true),
      piece(3, "2026-01-05", false, 7), piece(4, "2026-01-04", false, 7)]);
    inside(<LearnPage />, client);
    const [turning, colour, own] = within(screen.getByRole("list", { name: "Skills" })).getAllByRole("listitem");
    expect(turning?.textContent).toContain("Level 4, passed from 70");
    expect(turning?.textContent).toContain("off by 7.5° at the median");
    expect(turning?.textContent).toContain("3 answered, the last with 66");
    expect(colour?.textContent).toContain("Not practised yet.");
    expect(within(own as HTMLElement).getAllByRole("link").map((a) => [a.textContent, a.getAttribute("href")])).toEqual(
      [["Kite 3", "/piece/3/light#practise"], ["Kite 1", "/piece/1/light#practise"]]);
    expect(screen.getByRole("img", { name: "Scores: 40, 81, 66" })).toBeTruthy();
    expect(screen.getByRole("link", { name: "Go on: Tube" }).getAttribute("href")).toBe("/learn/tube");
    expect(screen.getByRole("link", { name: "Progress, CSV" }).getAttribute("href")).toBe("/api/learn/progress.csv");
  });
});
