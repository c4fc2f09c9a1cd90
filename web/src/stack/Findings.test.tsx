import { cleanup, fireEvent, render, screen, within } from "@testing-library/react";
import { useState } from "react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { StackFinding } from "../api/client";
import { useCamera } from "../picture/camera";
import { Findings } from "./Findings";

afterEach(cleanup);

const finding = (code: string, more: Partial<StackFinding> = {}) => ({ code, layer: "coat / shade", box: null,
  count: 1200,
  message: "Why it matters.", index: 4, repair: null, ...more }) as StackFinding;
const LIST = [finding("pinhole", { box: [10, 20, 30, 40], repair: "Fill them from beside" }),
  finding("unnamed", { index: 7, repair: "Name it after its purpose" }),
  finding("not-flat", { layer: "", index: null })];

function Shown({ light, choose }: { light: (index: number | null) => void; choose?: boolean }) {
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set([0]));
  return <Findings findings={LIST} lit={null} onLight={light} {...(choose && { chosen, onChoose: setChosen })} />;
}

const rows = () => screen.getAllByRole("listitem");

describe("findings", () => {
  it("say what, where and why, and count pixels only where it is pixels that count", () => {
    render(<Shown light={() => undefined} />);
    expect(rows().map((r) => r.textContent)).toEqual([
      "Pinholes · coat / shade1,200 px. Why it matters.Show", "No name of its own · coat / shadeWhy it matters.",
      "Shading in the base1,200 px. Why it matters."]);
    expect(screen.queryByRole("checkbox")).toBeNull();
  });

  it("say so when there are none", () => {
    render(<Findings findings={[]} lit={null} onLight={() => undefined} />);
    expect(screen.getByText(/The stack is in order/)).toBeTruthy();
  });

  it("light up their layer while they are pointed at, and go to their place", () => {
    const light = vi.fn();
    const show = vi.spyOn(useCamera.getState(), "show");
    render(<Shown light={light} />);
    const [first] = rows();
    if (!first) throw new Error("no rows");
    fireEvent.pointerEnter(first);
    fireEvent.pointerLeave(first);
    expect(light.mock.calls).toEqual([[4], [null]]);
    fireEvent.click(within(first).getByRole("button", { name: "Show" }));
    expect(show).toHaveBeenCalledWith([10, 20, 30, 40]);
    expect(light).toHaveBeenLastCalledWith(4);
  });

  it("that can be repaired are chosen one by one, by their places in the list", () => {
    render(<Shown light={() => undefined} choose />);
    const boxes = screen.getAllByRole<HTMLInputElement>("checkbox");
    const ticked = () => screen.getAllByRole<HTMLInputElement>("checkbox").map((b) => b.checked);
    expect(boxes.map((b) => b.getAttribute("aria-label"))).toEqual(["Fill them from beside: coat / shade",
      "Name it after its purpose: coat / shade"]);
    expect(ticked()).toEqual([true, false]);
    fireEvent.click(boxes[1] as HTMLElement);
    fireEvent.click(boxes[0] as HTMLElement);
    expect(ticked()).toEqual([false, true]);
  });
});
