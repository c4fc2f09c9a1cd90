import { useEffect, useRef, type RefObject } from "react";
import { pressed } from "../ui/keys";
import { isTyping } from "../ui/useKeys";
import { useCamera } from "./camera";
import { LOOKING } from "./keys";

const KEY_PAN = 80;
const KEY_ZOOM = 1.25;
const PAN: Record<string, [number, number]> = {
  ArrowLeft: [KEY_PAN, 0], ArrowRight: [-KEY_PAN, 0], ArrowUp: [0, KEY_PAN], ArrowDown: [0, -KEY_PAN],
};

/** Wheel, pinch, space-drag, middle-drag and keys. Returns whether a pan or pinch is going on. */
export function useNavigation(frame: RefObject<HTMLDivElement | null>, flip: boolean): RefObject<boolean> {
  const busy = useRef(false);
  useEffect(() => {
    const element = frame.current;
    if (!element) return;
    const { zoomBy, panBy, fit, actual } = useCamera.getState();
    const touches = new Map<number, { x: number; y: number }>();
    let space = false;
    let dragging: number | null = null;

    const place = (e: { clientX: number; clientY: number }): [number, number] => {
      const rect = element.getBoundingClientRect();
      return [e.clientX - rect.left, e.clientY - rect.top];
    };
    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      // A trackpad's pinch arrives with ctrl set and small steps; a shifted wheel pans.
      if (e.shiftKey && !e.ctrlKey) panBy(-e.deltaY - e.deltaX, 0, flip);
      else zoomBy(Math.exp(-e.deltaY * (e.ctrlKey ? 0.01 : 0.0018)), flip, ...place(e));
    };
    const down = (e: PointerEvent) => {
      if (e.pointerType === "touch") {
        touches.set(e.pointerId, { x: e.clientX, y: e.clientY });
        if (touches.size === 2) busy.current = true;
      }
      if (e.button === 1 || (e.button === 0 && space)) {
        e.preventDefault();
        dragging = e.pointerId;
        busy.current = true;
        element.setPointerCapture(e.pointerId);
      }
    };
    const move = (e: PointerEvent) => {
      if (dragging === e.pointerId) panBy(e.movementX, e.movementY, flip);
      const before = touches.get(e.pointerId);
      if (!before) return;
      if (touches.size === 2) {
        const other = [...touches].find(([id]) => id !== e.pointerId)?.[1];
        if (other) {
          const was = Math.hypot(before.x - other.x, before.y - other.y);
          const is = Math.hypot(e.clientX - other.x, e.clientY - other.y);
          panBy((e.clientX - before.x) / 2, (e.clientY - before.y) / 2, flip);
          const [mx, my] = place({ clientX: (e.clientX + other.x) / 2, clientY: (e.clientY + other.y) / 2 });
          zoomBy(is / Math.max(was, 1), flip, mx, my);
        }
      }
      touches.set(e.pointerId, { x: e.clientX, y: e.clientY });
    };
    const up = (e: PointerEvent) => {
      touches.delete(e.pointerId);
      if (dragging === e.pointerId) dragging = null;
      if (touches.size === 0 && dragging === null) busy.current = false;
    };
    const keydown = (e: KeyboardEvent) => {
      if (e.defaultPrevented || isTyping(e.target) || e.ctrlKey || e.metaKey || e.altKey) return;
      const onPicture = e.target === document.body || e.target === element;
      const by = PAN[pressed(LOOKING.pan, e) ?? ""];
      if (e.key === " " && onPicture) {
        space = true;
        element.style.cursor = "grab";
      } else if (by && onPicture) panBy(...by, flip);
      else if (pressed(LOOKING.zoomIn, e)) zoomBy(KEY_ZOOM, flip);
      else if (pressed(LOOKING.zoomOut, e)) zoomBy(1 / KEY_ZOOM, flip);
      else if (pressed(LOOKING.fit, e)) fit();
      else if (pressed(LOOKING.actual, e)) actual();
      else return;
      e.preventDefault();
    };
    const keyup = (e: KeyboardEvent) => {
      if (e.key !== " ") return;
      space = false;
      element.style.cursor = "";
    };
    element.addEventListener("wheel", wheel, { passive: false });
    element.addEventListener("pointerdown", down, true);
    element.addEventListener("pointermove", move, true);
    element.addEventListener("pointerup", up, true);
    element.addEventListener("pointercancel", up, true);
    window.addEventListener("keydown", keydown);
    window.addEventListener("keyup", keyup);
    return () => {
      element.removeEventListener("wheel", wheel);
      element.removeEventListener("pointerdown", down, true);
      element.removeEventListener("pointermove", move, true);
      element.removeEventListener("pointerup", up, true);
      element.removeEventListener("pointercancel", up, true);
      window.removeEventListener("keydown", keydown);
      window.removeEventListener("keyup", keyup);
    };
  }, [frame, flip]);
  return busy;
}
