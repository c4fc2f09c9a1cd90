import { act, cleanup, fireEvent, render, renderHook, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { best, extentOf, middleOf, QUESTION_KEYS } from "../../api/checks";
import { askedKind, type Finding, type Schemas } from "../../api/client";
import { FindingRow } from "./FindingRow";
import { discOf } from "./HueWheel";
import { nearest, paintFinding, paintPlaces } from "./paintFindings";
import { useMaps } from "./useMaps";

afterEach(cleanup);

const finding = (more: Partial<Finding> = {}) => ({ check: "flat", question: "reads", subject: "part", ids: ["p1"],
  names: ["coat"], measured: 12, limit: 8, unit: "% of the figure", words: "Coat is 12 % of the figure.", weight: 0.4,
  box: null, marks: [], repair: null, dismissed: null, ...more }) as Finding;
const CHECK = { key: "flat", question: "reads", label: "A large part is flat", why: "It looks cut out of paper.",
  repairs: true, limit: { value: 8, unit: "% of the figure", source: "common practice",
    basis: "common practice, no published source" } } as Schemas["CheckInfo"];

describe("the place of a finding", () => {
  it("is the middle of its box, or its only dot; what goes around its marks is shown", () => {
    expect(middleOf(finding({ box: [10, 20, 30, 41] }))).toEqual([25, 40.5]);
    expect(middleOf(finding({ marks: [[[5, 6]]] }))).toEqual([5, 6]);
    expect(middleOf(finding({ marks: [[[5, 6]], [[7, 8]]] }))).toBeNull();
    expect(extentOf(finding({ box: [1, 2, 3, 4], marks: [[[50, 60]]] }))).toEqual([1, 2, 3, 4]);
    expect(extentOf(finding({ marks: [[[5, 6], [9, 2]], [[7, 8]]] }))).toEqual([5, 2, 4, 6]);
    expect(extentOf(finding())).toBeNull();
  });

  it("is found by pointing near it", () => {
    const list = [finding(), finding({ box: [0, 0, 20, 20] }), finding({ marks: [[[40, 10]]] })];
    expect(nearest(list, 12, 9, 8)).toBe(list[1]);
    expect(nearest(list, 39, 12, 8)).toBe(list[2]);
    expect(nearest(list, 25, 25, 8)).toBeNull();
  });

  it("is drawn with a seam around its box, a line along its marks, and a dot for single ones", () => {
    const calls: string[] = [];
    const ctx = new Proxy({} as CanvasRenderingContext2D, {
      get: (_, name) => (...args: unknown[]) => { calls.push(`${String(name)}(${args.join()})`); },
      set: () => true,
    });
    paintFinding(ctx, finding({ box: [10, 20, 30, 40], marks: [[[1, 2], [3, 4]], [[5, 6]]] }), 2);
    expect(calls.filter((c) => c === "lineTo(3,4)")).toHaveLength(2); // a casing and the line
    expect(calls.filter((c) => c.startsWith("arc(5,6,"))).toHaveLength(2);
    expect(calls).toContain("strokeRect(6,16,38,48)"); // 4 px of the picture are 8 of the window
    calls.length = 0;
    paintPlaces(ctx, [finding({ box: [0, 0, 2, 2] }), finding()], 1);
    expect(calls.filter((c) => c.startsWith("arc("))).toEqual(Array(2).fill(`arc(1,1,7,0,${2 * Math.PI})`));
  });
});

describe("a row", () => {
  const acts = () => ({ onChoose: vi.fn(), onStep: vi.fn(), onShow: vi.fn(), onPreview: vi.fn(), onRepair: vi.fn(),
    onDismiss: vi.fn(), onAskWhy: vi.fn(), mending: false });

  it("says what and how much; when it is chosen also why and from where on", () => {
    const on = acts();
    const { rerender } = render(<FindingRow finding={finding()} check={CHECK} on={false} dismissing={false} {...on} />);
    expect(screen.queryByText(/cut out of paper/)).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: /A large part is flat/ }));
    expect(on.onChoose).toHaveBeenCalledOnce();
    rerender(<FindingRow finding={finding()} check={CHECK} on dismissing={false} {...on} />);
    expect(screen.getByText(/cut out of paper/).textContent).toContain("From 8 % of the figure on (common practice)");
    expect(screen.queryByRole("button", { name: /Show/ })).toBeNull(); // it has no place
  });

  it("shows its repair while one points at it, and makes it", () => {
    const on = acts();
    const repair = { label: "Lay a gradient on coat", edit: {} } as Finding["repair"];
    render(<FindingRow finding={finding({ repair })} check={CHECK} on={false} dismissing={false} {...on} />);
    const button = screen.getByRole("button", { name: /Lay a gradient/ });
    fireEvent.pointerEnter(button);
    fireEvent.pointerLeave(button);
    expect(on.onPreview.mock.calls).toEqual([[true], [false]]);
    fireEvent.click(button);
    expect(on.onRepair).toHaveBeenCalledOnce();
  });

  it("says that a repair is looked for, if there can be one", () => {
    const on = { ...acts(), mending: true };
    const { rerender } = render(<FindingRow finding={finding()} check={CHECK} on={false} dismissing={false} {...on} />);
    expect(screen.getByRole<HTMLButtonElement>("button", { name: /Looking for a repair/ }).disabled).toBe(true);
    rerender(<FindingRow finding={finding()} check={{ ...CHECK, repairs: false }} on={false} dismissing={false}
      {...on} />);
    expect(screen.queryByRole("button", { name: /repair/ })).toBeNull();
  });

  it("is left with a word or without one, and counts again", () => {
    const on = acts();
    const { rerender } = render(<FindingRow finding={finding()} check={CHECK} on dismissing {...on} />);
    fireEvent.click(screen.getByRole("button", { name: "It is meant so" }));
    fireEvent.change(screen.getByRole("textbox", { name: "Reason" }), { target: { value: "  night  " } });
    fireEvent.submit(screen.getByRole("form", { name: "Why it is left" }));
    expect(on.onDismiss.mock.calls).toEqual([["It is meant so"], ["night"]]);
    fireEvent.keyDown(screen.getByRole("textbox", { name: "Reason" }), { key: "Escape" });
    expect(on.onAskWhy).toHaveBeenCalledOnce();
    const dismissed = { number: 3, reason: "night" } as Finding["dismissed"];
    rerender(<FindingRow finding={finding({ dismissed })} check={CHECK} on dismissing={false} {...on} />);
    expect(screen.getByText("Left as it is: night")).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: /Let it count again/ }));
    expect(on.onDismiss.mock.lastCall).toEqual([null]);
  });

  it("goes to the next by the arrows", () => {
    const on = acts();
    render(<FindingRow finding={finding()} check={CHECK} on dismissing={false} {...on} />);
    const button = screen.getByRole("button", { name: /A large part/ });
    for (const key of ["ArrowDown", "ArrowUp", "a"]) fireEvent.keyDown(button, { key });
    expect(on.onStep.mock.calls).toEqual([[1], [-1]]);
  });
});

describe("the hue wheel", () => {
  it("puts greys in the middle, hues counter-clockwise from the right, and gives discs their area", () => {
    const grey = discOf({ hue: 0, chroma: 0, share: 0.04, colour: "#808080" });
    expect([grey.x, grey.y]).toEqual([120, 120]);
    const [right, up] = [0, 90].map((hue) => discOf({ hue, chroma: 40, share: 0.01, colour: "#aa5533" }));
    expect(right?.x).toBeGreaterThan(150);
    expect(up?.y).toBeLessThan(90);
    expect(grey.r / (right?.r ?? 1)).toBeCloseTo(2);
    expect(discOf({ hue: 0, chroma: 500, share: 0, colour: "#ff0000" }).x).toBeLessThan(240);
  });
});

describe("what is known of the findings", () => {
  const answer = (words: string | null, fresh = true) => ({ data: words === null ? undefined : [finding({ words })],
    fresh: words !== null && fresh });
  const known = (quick: ReturnType<typeof answer>, ...mended: ReturnType<typeof answer>[]) => {
    const others = QUESTION_KEYS.slice(1).map(() => ({ data: [], fresh: true }));
    return best([quick, ...others, ...mended.flatMap((m) => [m, ...others])]);
  };

  it("is the newest answer; one with its repairs comes before one without", () => {
    expect(known(answer("now")).all.map((f) => f.words)).toEqual(["now"]);
    expect(known(answer("now"), answer("mended")).all.map((f) => f.words)).toEqual(["mended"]);
    const while_ = known(answer("now"), answer("before", false));
    expect(while_.all.map((f) => f.words)).toEqual(["now"]);
    expect([...while_.mending]).toEqual(["reads"]);
    const old = known(answer("before", false), answer("before, mended", false));
    expect([old.all[0]?.words, old.answered, old.mending.size]).toEqual(["before, mended", 5, 0]);
    expect(known(answer(null), answer(null)).all).toEqual([]);
  });
});

describe("maps", () => {
  const press = (type: "keydown" | "keyup", key: string) => act(() => {
    document.dispatchEvent(new KeyboardEvent(type, { key, bubbles: true }));
  });

  it("stay after a tap, change to another, and go by a second tap", () => {
    const { result } = renderHook(() => useMaps());
    for (const [key, map] of [["v", "values"], ["c", "chroma"], ["c", null], ["o", "outline"]] as const) {
      press("keydown", key);
      press("keyup", key);
      expect(result.current[0]).toBe(map);
    }
  });

  it("last as long as their key is held", () => {
    let now = 0;
    const clock = vi.spyOn(performance, "now").mockImplementation(() => now);
    const { result } = renderHook(() => useMaps());
    press("keydown", "a");
    expect(result.current[0]).toBe("attention");
    now = 900;
    press("keyup", "a");
    expect(result.current[0]).toBeNull();
    clock.mockRestore();
  });

  it("and sides are asked for by their own names", () => {
    expect(askedKind("values")).toEqual({ kind: "values" });
    expect(askedKind("outline:k2")).toEqual({ kind: "outline", look: "k2" });
    expect(askedKind("side:look k1")).toEqual({ kind: "picture", side: "look k1" });
    expect(askedKind("side:back 3~now")).toEqual({ kind: "picture", side: "back 3", against: "now" });
    expect(askedKind("picture:shade")).toEqual({ kind: "picture", last: "shade" });
  });
});
