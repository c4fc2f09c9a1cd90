import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { useState } from "react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { moved, PlanSeam } from "./PlanSeam";
import { quietly } from "./quietly";
import { countdown, told } from "./words";

afterEach(cleanup);

const PLAN = { lines: 4, parts: 12, colour: 30 };
const sum = (plan: Record<string, number>) => Object.values(plan).reduce((a, b) => a + b, 0);

function Tape({ onPlan }: { onPlan: (plan: Record<string, number>) => void }) {
  const [draft, setDraft] = useState<Record<string, number> | null>(null);
  return <>
    <PlanSeam before={{ key: "lines", label: "Lines" }} after={{ key: "parts", label: "Parts" }} plan={draft ?? PLAN}
      perPixel={() => 0.1} onDraft={setDraft} onPlan={onPlan} />
    <output>{draft ? draft.lines : "none"}</output>
  </>;
}

describe("a seam of the tape", () => {
  it("moves minutes from one step to the next, and never more than there are", () => {
    for (let k = 0; k < 200; k += 1) {
      const by = (Math.random() - 0.5) * 80;
      const next = moved(PLAN, "lines", "parts", by);
      expect(sum(next)).toBeCloseTo(sum(PLAN), 9);
      expect(Math.min(next.lines ?? -1, next.parts ?? -1)).toBeGreaterThanOrEqual(0);
      expect(next.colour).toBe(30);
      const wanted = Math.min(16, Math.max(0, 4 + by));
      expect(Math.abs((next.lines ?? 0) - wanted)).toBeLessThanOrEqual(0.5);
    }
  });

  it("is dragged: seen at once, planned when let go, left with Escape", () => {
    const onPlan = vi.fn();
    render(<Tape onPlan={onPlan} />);
    const seam = screen.getByRole("separator");
    seam.setPointerCapture = () => undefined;
    fireEvent.pointerDown(seam, { button: 0, clientX: 100, pointerId: 1 });
    fireEvent.pointerMove(seam, { clientX: 150, pointerId: 1 });
    expect(screen.getByRole("status").textContent).toBe("9");
    fireEvent.pointerUp(seam, { clientX: 150, pointerId: 1 });
    expect(onPlan).toHaveBeenCalledWith({ lines: 9, parts: 7, colour: 30 });
    fireEvent.pointerDown(seam, { button: 0, clientX: 100, pointerId: 1 });
    fireEvent.pointerMove(seam, { clientX: 90, pointerId: 1 });
    fireEvent.keyDown(seam, { key: "Escape" });
    expect(screen.getByRole("status").textContent).toBe("none");
    expect(onPlan).toHaveBeenCalledTimes(1);
  });

  it("is moved with the arrow keys and tells where it stands", () => {
    const onPlan = vi.fn();
    render(<Tape onPlan={onPlan} />);
    const seam = screen.getByRole("separator", { name: "Minutes between Lines and Parts" });
    expect(seam.getAttribute("aria-valuetext")).toBe("Lines 4, Parts 12 minutes");
    fireEvent.keyDown(seam, { key: "ArrowLeft" });
    expect(onPlan).toHaveBeenLastCalledWith({ lines: 3, parts: 13, colour: 30 });
  });
});

describe("time in figures", () => {
  it("is as a clock shows it", () => {
    expect([0, 0.5, 12.0833, 60, 61.5, -2.25, -0.001].map(countdown)).toEqual(["0:00", "0:30", "12:05", "1:00:00",
      "1:01:30", "−2:15", "0:00"]);
  });

  it("is told in words that never say none where there was some", () => {
    expect([0, 0.2, 1, 89, 90, 120, 135].map(told)).toEqual(["0 min", "<1 min", "1 min", "89 min", "1 h 30 min", "2 h",
      "2 h 15 min"]);
  });
});

describe("what is said quietly", () => {
  it("waits for the pen to be lifted", () => {
    fireEvent.pointerUp(window);
    const said: string[] = [];
    quietly(() => said.push("at once"));
    fireEvent.pointerDown(window);
    quietly(() => said.push("later"));
    expect(said).toEqual(["at once"]);
    fireEvent.pointerUp(window);
    expect(said).toEqual(["at once", "later"]);
  });
});
