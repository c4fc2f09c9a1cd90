import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { useRef } from "react";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { fit, toPicture, useCamera, type Camera } from "./camera";
import { useNavigation } from "./useNavigation";

const PICTURE = { width: 2000, height: 1000 };
const BOX = { width: 800, height: 600 };

function Shown({ flip, told }: { flip: boolean; told: (busy: boolean) => void }) {
  const frame = useRef<HTMLDivElement>(null);
  const busy = useNavigation(frame, flip);
  return (
    <div ref={frame} data-testid="frame" onPointerMove={() => told(busy.current)}><input aria-label="Name" /></div>
  );
}

let busy = false;
const now = (): Camera => useCamera.getState().camera ?? fit(PICTURE, BOX);
const frame = () => screen.getByTestId("frame");

function shown(flip = false) {
  render(<Shown flip={flip} told={(b) => { busy = b; }} />);
  // Nothing is laid out here: the frame is said to be the window.
  frame().getBoundingClientRect = () => ({ left: 0, top: 0, ...BOX }) as DOMRect;
  frame().setPointerCapture = () => undefined;
}

beforeEach(() => {
  useCamera.setState({ camera: null });
  useCamera.getState().measure(PICTURE, BOX);
  busy = false;
});
afterEach(cleanup);

const pointer = (kind: "pointerDown" | "pointerMove" | "pointerUp" | "pointerCancel", id: number, x: number, y: number,
  more: object = {}) => fireEvent[kind](frame(), { pointerId: id, clientX: x, clientY: y, ...more });

/** The events of the stand-in for a browser know no place. */
const wheel = (more: object) => fireEvent(frame(), Object.assign(
  new Event("wheel", { bubbles: true, cancelable: true }),
  { deltaX: 0, deltaY: 0, clientX: 0, clientY: 0, shiftKey: false, ctrlKey: false, ...more }));

describe("the wheel", () => {
  it("zooms about the point under it, which stays where it is", () => {
    for (const flip of [false, true]) {
      useCamera.setState({ camera: null });
      shown(flip);
      const [x, y] = [200, 150];
      for (const deltaY of [-400, -700, 300]) {
        const before = toPicture(now(), BOX, flip, x, y);
        wheel({ deltaY, clientX: x, clientY: y });
        const after = toPicture(now(), BOX, flip, x, y);
        expect(after[0]).toBeCloseTo(before[0], 6);
        expect(after[1]).toBeCloseTo(before[1], 6);
      }
      expect(now().zoom).toBeGreaterThan(fit(PICTURE, BOX).zoom);
      cleanup();
    }
  });

  it("comes back to where it was when it turns as far back", () => {
    shown();
    const { zoom } = now();
    for (const deltaY of [-240, 100, 140]) wheel({ deltaY, clientX: 400, clientY: 300 });
    expect(now().zoom).toBeCloseTo(zoom, 9);
  });

  it("pans with Shift, and keeps some of the picture in the window", () => {
    shown();
    const before = now();
    wheel({ deltaY: 50, shiftKey: true });
    expect(now().cx).toBeCloseTo(before.cx + 50 / before.zoom, 6);
    expect(now().zoom).toBe(before.zoom);
    for (let k = 0; k < 100; k++) wheel({ deltaY: 500, shiftKey: true });
    expect(now().cx).toBeLessThanOrEqual(PICTURE.width);
  });
});

describe("two fingers", () => {
  const touch = { pointerType: "touch" };

  it("pinch about their middle, and no tool works meanwhile", () => {
    shown();
    pointer("pointerDown", 1, 300, 300, touch);
    pointer("pointerMove", 1, 301, 300, touch);
    expect(busy).toBe(false);
    pointer("pointerDown", 2, 500, 300, touch);
    const { zoom } = now();
    const middle = toPicture(now(), BOX, false, 400, 300);
    pointer("pointerMove", 1, 200, 300, touch);
    pointer("pointerMove", 2, 600, 300, touch);
    expect(busy).toBe(true);
    expect(now().zoom / zoom).toBeCloseTo(400 / 199, 6);
    const after = toPicture(now(), BOX, false, 400, 300);
    // One finger moves after the other.
    expect(Math.hypot(after[0] - middle[0], after[1] - middle[1])).toBeLessThan(3);
    pointer("pointerUp", 1, 200, 300, touch);
    pointer("pointerMove", 2, 610, 300, touch);
    expect(busy).toBe(true); // the gesture goes on until the last finger is up
    pointer("pointerCancel", 2, 610, 300, touch);
    pointer("pointerMove", 3, 10, 10);
    expect(busy).toBe(false);
  });
});

describe("keys of looking", () => {
  it("zoom, fit and show actual size; arrows pan, the other way when flipped", () => {
    for (const flip of [false, true]) {
      useCamera.setState({ camera: null });
      shown(flip);
      fireEvent.keyDown(document.body, { key: "+" });
      expect(now().zoom).toBeCloseTo(1.25 * fit(PICTURE, BOX).zoom, 9);
      fireEvent.keyDown(document.body, { key: "-" });
      expect(now().zoom).toBeCloseTo(fit(PICTURE, BOX).zoom, 9);
      const { cx, zoom } = now();
      fireEvent.keyDown(document.body, { key: "ArrowRight" });
      expect(now().cx).toBeCloseTo(cx + ((flip ? -1 : 1) * 80) / zoom, 6);
      fireEvent.keyDown(document.body, { key: "1" });
      expect(now().zoom).toBe(1 / window.devicePixelRatio);
      fireEvent.keyDown(document.body, { key: "0" });
      expect(useCamera.getState().camera).toBeNull();
      cleanup();
    }
  });

  it("go into a text that is typed, and browser keys to the browser", () => {
    shown();
    fireEvent.keyDown(screen.getByLabelText("Name"), { key: "1" });
    fireEvent.keyDown(document.body, { key: "+", ctrlKey: true });
    expect(useCamera.getState().camera).toBeNull();
  });

  it("hold the picture: with Space a drag pans it", () => {
    shown();
    const drag = () => {
      pointer("pointerDown", 1, 100, 100, { button: 0 });
      pointer("pointerMove", 1, 140, 100, { movementX: 40, movementY: 0 });
      pointer("pointerUp", 1, 140, 100);
    };
    drag();
    expect(useCamera.getState().camera).toBeNull();
    const { cx, zoom } = now();
    fireEvent.keyDown(document.body, { key: " " });
    expect(frame().style.cursor).toBe("grab");
    drag();
    expect(now().cx).toBeCloseTo(cx - 40 / zoom, 6);
    fireEvent.keyUp(document.body, { key: " " });
    expect(frame().style.cursor).toBe("");
    const held = now().cx;
    drag();
    expect(now().cx).toBe(held);
    pointer("pointerDown", 1, 100, 100, { button: 1 });
    pointer("pointerMove", 1, 90, 100, { movementX: -10, movementY: 0 });
    expect(busy).toBe(true);
    pointer("pointerUp", 1, 90, 100);
    expect(now().cx).toBeCloseTo(held + 10 / zoom, 6);
  });
});
