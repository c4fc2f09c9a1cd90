import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { useState } from "react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Piece } from "../../api/client";
import type { Corrected } from "./corrected";
import { Outcome, paintPlaces } from "./Outcome";
import { VersionList } from "./VersionList";

afterEach(cleanup);

const PIECE = { recipe: { parts: [{ id: "p1", name: "coat" }, { id: "p2", name: "scarf" }] } } as unknown as Piece;

function offer(more: Partial<Corrected> = {}): Corrected {
  return { edit: { kind: "several", edits: [] }, dx: 0, dy: 0, clockwise: 0, scale: 1, agreement: 0.91, sure: true,
    kept: 1, changed: [], redrawn: [], ...more } as unknown as Corrected;
}

const CHANGED = [
  { box: [10, 20, 30, 40], place: [20, 30], pixels: 900, before: "p1", after: "p2" },
  { box: [90, 20, 12, 14], place: [95, 30], pixels: 100, before: "ground", after: "none" },
] as unknown as Corrected["changed"];
const REDRAWN = [{ box: [5, 6, 70, 8], new: true, pixels: 80 }, { box: [7, 60, 9, 9], new: false, pixels: 30 }] as
  unknown as Corrected["redrawn"];

function Shown({ told, onTake }: { told: Corrected; onTake: () => void }) {
  const [pointed, point] = useState<string | null>(null);
  return <Outcome piece={PIECE} offer={told} file="b.png" pointed={pointed} onPoint={point} onTake={onTake}
    onLeave={() => undefined} />;
}

const words = () => screen.getByRole("region", { name: "The corrected drawing" }).textContent ?? "";
const places = () => screen.getAllByTestId("place").map((p) => p.textContent);

describe("the outcome of a corrected drawing", () => {
  it("says how it lies, in as few words as that takes", () => {
    const { rerender } = render(<Shown told={offer()} onTake={() => undefined} />);
    expect(words()).toContain("It lies just as the one before did.");
    expect(words()).toContain("100 % of the figure keeps its part");
    rerender(<Shown told={offer({ dx: 12, dy: -3.25, kept: 0.9987, sure: false })} onTake={() => undefined} />);
    expect(words()).toContain("shifted by 12.0, -3.3 px.");
    expect(words()).not.toContain("turned");
    // Not quite all is never rounded up to all.
    expect(words()).toContain("99.8 %");
    expect(words()).toContain("look whether it is the same drawing");
    rerender(<Shown told={offer({ clockwise: -1.5, scale: 1.021 })} onTake={() => undefined} />);
    expect(words()).toContain("turned by 1.50° counter-clockwise, scaled to 102.1 %");
  });

  it("names what changes hands and what is drawn anew, and says so when nothing is", () => {
    const { rerender } = render(<Shown told={offer({ changed: CHANGED, redrawn: REDRAWN })}
      onTake={() => undefined} />);
    expect(places()).toEqual(["coat to scarf30 × 40 px", "the ground to no part12 × 14 px", "new lines70 × 8 px",
      "lines are gone9 × 9 px"]);
    rerender(<Shown told={offer()} onTake={() => undefined} />);
    expect(screen.queryAllByTestId("place")).toEqual([]);
    expect(screen.getByText("Nothing: every place keeps its part.")).toBeTruthy();
  });

  it("goes through the places by keys, round at both ends, and is taken by one", () => {
    const take = vi.fn();
    render(<Shown told={offer({ changed: CHANGED, redrawn: REDRAWN })} onTake={take} />);
    const lit = () => screen.getAllByTestId("place").findIndex((p) => p.getAttribute("aria-current") === "true");
    for (const [key, at] of [[".", 0], [".", 1], [",", 0], [",", 3], [".", 0]] as const) {
      fireEvent.keyDown(document.body, { key });
      expect(lit()).toBe(at);
    }
    fireEvent.keyDown(document.body, { key: "c" });
    expect(take).toHaveBeenCalledTimes(1);
  });

  it("boxes every place on the picture, with room, and what is drawn anew dashed", () => {
    const drawn: unknown[] = [];
    let dash: number[] = [];
    const ctx = { setLineDash: (d: number[]) => { dash = d; },
      strokeRect: (...box: number[]) => drawn.push([...box, dash.length > 0]) } as unknown as CanvasRenderingContext2D;
    paintPlaces(ctx, 2, offer({ changed: CHANGED.slice(0, 1), redrawn: REDRAWN.slice(0, 1) }), "c0");
    expect(drawn).toEqual([[7, 17, 36, 46, false], [7, 17, 36, 46, false], [2, 3, 76, 14, false],
      [2, 3, 76, 14, true]]);
    expect(dash).toEqual([]);
  });
});

describe("the versions of a drawing", () => {
  const drawing = (number: number, more: object = {}) => ({ asset: "a", number, remark: "", ...more });
  const shifted = { laid: { width: 90, height: 80, matrix: [[1, 0, -5], [0, 1, 7]] } };
  const turned = { laid: { width: 30, height: 20, matrix: [[0, -2, 9], [2, 0, 1]] } };
  const piece = { recipe: { source: { ...drawing(2, shifted), width: 60, height: 50 },
    other_drawings: [drawing(1, { remark: "approved" }), drawing(3, turned)] } } as unknown as Piece;

  it("are listed from the newest, with how each lies and its own size", () => {
    const use = vi.fn();
    render(<VersionList piece={piece} onUse={use} onRemark={() => undefined} />);
    expect(screen.getAllByRole("listitem").map((item) => item.textContent)).toEqual([
      "3turned 90.0°, at 200.0 %, 30 × 20 pxUse", "2shifted by -5, 7 px, 90 × 80 pxin use",
      "1as it came in, 60 × 50 pxUse"]);
    fireEvent.click(screen.getByRole("button", { name: "Use version 1" }));
    expect(use).toHaveBeenCalledWith(1);
    expect(screen.queryByRole("button", { name: "Use version 2" })).toBeNull();
  });

  it("keep a remark when it is left or entered, and not when it is as it was", () => {
    const remark = vi.fn();
    render(<VersionList piece={piece} onUse={() => undefined} onRemark={remark} />);
    const field = screen.getByRole("textbox", { name: "Remark on version 1" });
    fireEvent.blur(field);
    fireEvent.change(field, { target: { value: "  approved " } });
    fireEvent.keyDown(field, { key: "Enter" });
    expect(remark).not.toHaveBeenCalled();
    fireEvent.change(field, { target: { value: "approved in May" } });
    fireEvent.keyDown(field, { key: "Escape" });
    expect((field as HTMLInputElement).value).toBe("approved");
    fireEvent.change(field, { target: { value: "with a scarf" } });
    fireEvent.blur(field);
    expect(remark.mock.calls).toEqual([[1, "with a scarf"]]);
  });
});
