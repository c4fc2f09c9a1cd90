import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { useState } from "react";
import { afterEach, describe, expect, it } from "vitest";
import { Choice, useSides } from "./Choice";
import { bindings } from "./keys";

afterEach(cleanup);

const OPTIONS = [{ value: "pen", label: "Pen" }, { value: "brush", label: "Brush", off: true }, { value: "outline",
  label: "Outline" }];

function Chooser({ start }: { start: string | null }) {
  const [value, setValue] = useState(start);
  return <Choice label="How" value={value} options={OPTIONS} onChange={setValue} />;
}

const checked = () => screen.getAllByRole("radio").filter((r) => r.getAttribute("aria-checked") ===
  "true").map((r) => r.textContent);
const inTabOrder = () => screen.getAllByRole("radio").filter((r) => r.tabIndex === 0).map((r) => r.textContent);

// The pattern for radio groups of the ARIA Authoring Practices Guide (W3C).
describe("one of several", () => {
  it("is one stop for Tab, and arrows choose, round and past what is off", () => {
    render(<Chooser start="pen" />);
    expect(inTabOrder()).toEqual(["Pen"]);
    for (const [key, now] of [["ArrowRight", "Outline"], ["ArrowRight", "Pen"], ["ArrowUp", "Outline"],
      ["ArrowLeft", "Pen"]] as const) {
      fireEvent.keyDown(document.activeElement?.closest("[role=radiogroup]") ??
        screen.getByRole("radiogroup"), { key });
      expect(checked()).toEqual([now]);
      expect(inTabOrder()).toEqual([now]);
      expect(document.activeElement?.textContent).toBe(now);
    }
  });

  it("can be reached when nothing is chosen yet", () => {
    render(<Chooser start={null} />);
    expect(checked()).toEqual([]);
    expect(inTabOrder()).toEqual(["Pen"]);
    fireEvent.click(screen.getByRole("radio", { name: "Outline" }));
    expect(checked()).toEqual(["Outline"]);
  });

  it("leaves other keys, and arrows with Alt, to others", () => {
    render(<Chooser start="pen" />);
    for (const event of [{ key: "x" }, { key: "ArrowRight", altKey: true }])
      fireEvent.keyDown(screen.getByRole("radiogroup"), event);
    expect(checked()).toEqual(["Pen"]);
  });
});

const TURN = bindings("Here", { sides: ["t", "In turn"] });

function Bench() {
  const [side, tabs] = useSides({ sheet: "Sheet", card: "Card" }, TURN.sides, "sheet");
  // As in the steps: each side is a screen of its own, and brings the tabs with it.
  return side === "sheet" ? <section>{tabs}<input aria-label="Name" /></section> : <div>{tabs}</div>;
}

describe("the sides of a bench", () => {
  const turned = () => screen.getAllByRole("tab").find((t) => t.getAttribute("aria-selected") === "true")?.textContent;

  it("are turned by their key, but not while one types", () => {
    render(<Bench />);
    fireEvent.keyDown(screen.getByLabelText("Name"), { key: "t" });
    expect(turned()).toBe("Sheet");
    fireEvent.keyDown(document.body, { key: "t" });
    expect(turned()).toContain("Card");
  });

  it("keep the focus when another screen takes the place of the one before", () => {
    render(<Bench />);
    screen.getAllByRole("tab")[0]?.focus();
    fireEvent.keyDown(screen.getByRole("tablist"), { key: "ArrowRight" });
    expect(turned()).toContain("Card");
    expect(document.activeElement).toBe(screen.getAllByRole("tab")[1]);
  });
});
