import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen, within } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Inking, InkShade, Piece } from "../../api/client";
import { Rail } from "../../ui/Rail";
import { RuleFields } from "./RuleFields";
import { ScreenRuling } from "./ScreenRuling";
import { newShade, sayShade } from "./shades";
import { nearestStretch, stretchName } from "./stretches";

afterEach(cleanup);

describe("a screen", () => {
  const field = () => screen.getByRole<HTMLInputElement>("textbox", { name: "Lines a cm" });

  it("is said in lines a cm and worked out in px, there and back", () => {
    const make = vi.fn<(spacing: number) => void>();
    render(<ScreenRuling spacing={10} dpi={254} onMake={make} />);
    expect(field().value).toBe("10.0");
    for (const [typed, spacing] of [["20", 5], ["12,5", 8], ["0.5", 200]] as const) {
      fireEvent.change(field(), { target: { value: typed } });
      fireEvent.keyDown(field(), { key: "Enter" });
      expect(make.mock.lastCall?.[0]).toBeCloseTo(spacing, 10);
    }
    expect(make).toHaveBeenCalledTimes(3);
  });

  it("takes nothing that cannot be drawn, and drops what is left half typed", () => {
    const make = vi.fn();
    render(<ScreenRuling spacing={10} dpi={254} onMake={make} />);
    for (const typed of ["", "x", "0", "-3", "51", "0.2", "1e9"]) {
      fireEvent.change(field(), { target: { value: typed } });
      expect(field().getAttribute("aria-invalid")).toBe("true");
      expect(screen.getByText("At 254 px an inch from 0.3 to 50.")).toBeTruthy();
      fireEvent.keyDown(field(), { key: "Enter" });
      expect(field().value).toBe("10.0");
    }
    fireEvent.change(field(), { target: { value: "25" } });
    fireEvent.keyDown(field(), { key: "Escape" });
    fireEvent.blur(field());
    expect(make).not.toHaveBeenCalled();
  });
});

const INK = { darkness: 20, saturation: 1, light: 0.5, materials: [{ material: "hair", darkness: 44, saturation: 0.5,
  light: 0 }] } as unknown as Inking;
const PARTS = { recipe: { parts: [{ material: "hair" }, { material: "skin" }] } } as unknown as Piece;

describe("the rule of lines", () => {
  const shown = (ink: Inking) => {
    const make = vi.fn();
    const client = new QueryClient();
    client.setQueryData(["meta"], { materials: ["skin", "hair", "metal"].map((key) => ({ key, label: key })) });
    const of = (now: Inking) => <QueryClientProvider client={client}><RuleFields piece={PARTS} ink={now}
      onShow={() => undefined} onMake={make} /></QueryClientProvider>;
    const { rerender } = render(of(ink));
    return { make, rerender: (now: Inking) => rerender(of(now)) };
  };
  const choose = (name: RegExp) => {
    fireEvent.mouseDown(screen.getByRole("combobox"));
    fireEvent.click(within(screen.getByRole("listbox")).getByRole("option", { name }));
  };
  const value = () => Number(screen.getByRole<HTMLInputElement>("slider", { name: "Value" }).value);
  const set = (to: number) => fireEvent.change(screen.getByRole("slider", { name: "Value" }),
    { target: { value: to } });

  it("is that of all until a material is chosen, of those that are worn", () => {
    const { make } = shown(INK);
    expect(value()).toBe(20);
    set(30);
    expect(make).toHaveBeenLastCalledWith({ darkness: 30 });
    fireEvent.mouseDown(screen.getByRole("combobox"));
    expect(screen.getAllByRole("option").map((o) => o.textContent)).toEqual(["all materials", "skin",
      "hair, otherwise"]);
  });

  it("of a material begins as that of all, leaves the others alone, and goes again", () => {
    const { make, rerender } = shown(INK);
    choose(/skin/);
    expect(value()).toBe(20);
    expect(screen.queryByRole("button", { name: "As all" })).toBeNull();
    set(8);
    const skin = { material: "skin", darkness: 8, saturation: 1, light: 0.5 };
    expect(make).toHaveBeenLastCalledWith({ materials: [INK.materials[0], skin] });
    rerender({ ...INK, materials: [...INK.materials, skin] as Inking["materials"] });
    choose(/hair/);
    expect(value()).toBe(44);
    fireEvent.click(screen.getByRole("button", { name: "As all" }));
    expect(make).toHaveBeenLastCalledWith({ materials: [skin] });
  });
});

describe("what is said of ink", () => {
  it("begins as fine as suits the drawing and is told in a few words", () => {
    const shade = (width: number) => newShade({ width, height: 900 } as Piece, "shade");
    expect([shade(100).spacing, shade(3508).spacing, shade(12000).spacing]).toEqual([6, 22, 75]);
    const say = (more: Partial<InkShade>) => sayShade({ ...shade(1000), ...more });
    expect(say({})).toBe("as crossed lines across the form");
    expect(say({ style: "lines", follow: "straight" })).toBe("as lines");
    expect(say({ style: "dots" })).toBe("as dots");
    expect(say({ style: "solid" })).toBe("in black");
  });

  it("names a line by what it bounds, and finds the nearest within reach", () => {
    const line = (part: string, beside: string, places: number[][]) => ({ part, beside, places }) as
      unknown as Parameters<typeof stretchName>[0];
    const parts = [{ id: "p1", name: "hat" }] as Parameters<typeof stretchName>[1];
    expect(stretchName(line("p1", "itself", []), parts)).toBe("inside hat");
    expect(stretchName(line("p1", "ground", []), parts)).toBe("hat on the ground");
    expect(stretchName(line("p1", "p9", []), parts)).toBe("hat on p9");
    const all = [line("p1", "ground", [[0, 0], [10, 0]]), line("p1", "itself", [[10, 8]])];
    expect(nearestStretch(all, 10, 5, 20)).toBe("p1 itself");
    expect(nearestStretch(all, 10, 3, 20)).toBe("p1 ground");
    expect(nearestStretch(all, 40, 40, 20)).toBeNull();
  });
});

describe("a rail", () => {
  it("shows while it moves, makes at the end, and says its value", () => {
    const [show, make] = [vi.fn(), vi.fn()];
    render(<Rail label="Amount" value={0.25} min={0} max={1} step={0.05} says={(v) => `${v * 100} parts`} onShow={show}
      onMake={make} />);
    expect(screen.getByText("25 parts")).toBeTruthy();
    fireEvent.change(screen.getByRole("slider", { name: "Amount" }), { target: { value: 0.5 } });
    expect(show).toHaveBeenCalledWith(0.5);
    expect(make).toHaveBeenCalledWith(0.5);
  });
});
