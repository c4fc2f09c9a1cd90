import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { MemoryRouter, useLocation } from "react-router";
import { afterEach, describe, expect, it } from "vitest";
import type { Piece } from "../api/client";
import { STEPS } from "./steps";
import { Tape } from "./Tape";

afterEach(cleanup);

const SHARES = { lines: 0.1, parts: 0.3, colour: 0.2, light: 0.2, finish: 0.1, looks: 0.05,
  check: 0.025, deliver: 0.025 };

function Place() {
  return <output>{useLocation().pathname}</output>;
}

function shown(spent: Record<string, number>, unclaimed = 0) {
  const piece = { id: 4, title: "Kite", rests: { cut: "k" } } as unknown as Piece;
  const client = new QueryClient({ defaultOptions: { queries: { staleTime: Infinity } } });
  const minutes = Object.fromEntries(Object.entries(SHARES).map(([step, share]) => [step, 40 * share]));
  client.setQueryData(["clock", 4], { plan: { kind: "plan", minutes, due: null, occasion: "", rounds: 0,
    leave_out: [] }, spent, pace: { behind: 0, words: "On time." }, since_break: {} });
  client.setQueryData(["cut", 4, "k"], { unclaimed });
  render(<QueryClientProvider client={client}><MemoryRouter initialEntries={["/piece/4/colour"]}>
    <Tape piece={piece} step="colour" /><Place />
  </MemoryRouter></QueryClientProvider>);
}

const step = (name: string) => screen.getByRole("button", { name: new RegExp(`^${name}`) });

describe("the tape", () => {
  it("is as long for each step as its planned minutes, in the order of the work", () => {
    shown({});
    const steps = STEPS.map(({ label }) => step(label));
    expect(steps.map((s) => s.textContent)).toEqual(["Lines0 of 4 min", "Parts0 of 12 min", "Colour0 of 8 min",
      "Light0 of 8 min", "Finish0 of 4 min", "Looks0 of 2 min", "Check0 of 1 min", "Deliver0 of 1 min"]);
    const grow = steps.map((s) => Number(getComputedStyle(s).flexGrow || getComputedStyle(s).flex.split(" ")[0]));
    for (const [k, { key }] of STEPS.entries()) expect(grow[k]).toBeCloseTo(40 * SHARES[key as keyof typeof SHARES], 9);
  });

  it("tells the minutes spent, of a step and in all, and never says none where there were some", () => {
    shown({ lines: 0.2, parts: 13.4, colour: 0 });
    expect(step("Lines").textContent).toBe("Lines<1 of 4 min");
    expect(step("Parts").textContent).toBe("Parts13 of 12 min");
    expect(screen.getByRole("button", { name: /left/ }).textContent).toBe("26:24left");
  });

  it("says where one is and what is unfinished, and leads everywhere", () => {
    shown({}, 1);
    expect(step("Colour").getAttribute("aria-current")).toBe("step");
    expect(screen.getAllByRole("button").filter((s) => s.hasAttribute("aria-current"))).toHaveLength(1);
    expect(step("Parts").textContent).toContain("1 area");
    fireEvent.click(step("Parts"));
    expect(screen.getByRole("status").textContent).toBe("/piece/4/parts");
    fireEvent.click(screen.getByRole("link", { name: /Kite/ }));
    expect(screen.getByRole("status").textContent).toBe("/");
  });

  it("counts areas in words that fit their number", () => {
    shown({}, 3);
    expect(step("Parts").textContent).toContain("3 areas");
  });
});
