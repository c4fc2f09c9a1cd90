import { act, cleanup, renderHook } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import type { Edit, Part } from "../../api/client";
import { familyOf, rowsOf } from "./family";
import { usePartDrag } from "./usePartDrag";

afterEach(cleanup);

const part = (id: string, parent: string | null = null, more: object = {}) => ({ id, name: id, parent, visible: true,
  ...more }) as unknown as Part;
// The coat holds a collar, which holds a pin, and a cuff; after it come hat and boots.
const PARTS = [part("coat"), part("collar", "coat", { with_parent: true }), part("pin", "collar"), part("cuff", "coat"),
  part("hat"), part("boots")];

type Arranged = Extract<Edit, { kind: "arrange_part" }>;

function dragging(parts = PARTS) {
  const made: Arranged[] = [];
  const rows = rowsOf(parts);
  const { result } = renderHook(() => usePartDrag(rows, parts, (edit) => {
    made.push(edit as Arranged);
    return Promise.resolve();
  }));
  const row = (id: string) => {
    const found = rows.find((r) => r.part.id === id);
    if (!found) throw new Error(id);
    return found;
  };
  const press = (id: string, key: string) => {
    let took = false;
    act(() => { took = result.current.step(row(id), `Arrow${key}`); });
    return took ? made.at(-1) : null;
  };
  return { made, rows, result, row, press };
}

/** Where a part lands: before what, and in what. */
const place = (edit: Arranged | null | undefined) => edit && [edit.before, edit.parent];

describe("a part that is moved by keys", () => {
  it("goes before the one above it, and after the whole family below", () => {
    const { press } = dragging();
    expect(place(press("hat", "Up"))).toEqual(["cuff", null]);
    expect(place(press("hat", "Down"))).toEqual([null, null]);
    expect(place(press("coat", "Down"))).toEqual(["boots", null]);
    expect(place(press("cuff", "Up"))).toEqual(["pin", "coat"]);
  });

  it("goes a step in, beside what is above it, and out of what it is in", () => {
    const { press } = dragging();
    expect(place(press("hat", "Right"))).toEqual(["boots", "coat"]);
    expect(place(press("cuff", "Left"))).toEqual(["hat", null]);
    expect(place(press("pin", "Left"))).toEqual(["cuff", "coat"]);
  });

  it("stays at the ends, and other keys are left to others", () => {
    const { press } = dragging();
    expect(press("coat", "Up")).toBeNull();
    expect(press("coat", "Right")).toBeNull();
    expect(press("boots", "Down")).toBeNull();
    expect(press("hat", "Left")).toBeNull();
    expect(press("hat", "Enter")).toBeNull();
  });

  it("is shaded with its parent only as long as it stays with it", () => {
    const { press } = dragging();
    expect(press("collar", "Down")?.with_parent).toBe(true);
    expect(press("collar", "Left")?.with_parent).toBe(false);
    expect(press("cuff", "Up")?.with_parent).toBe(false);
  });

  it("never comes to lie in itself, wherever it goes", () => {
    const { press, rows } = dragging();
    for (const { part: { id } } of rows) {
      for (const key of ["Up", "Down", "Left", "Right"]) {
        const edit = press(id, key);
        if (!edit) continue;
        const family = familyOf(PARTS, id);
        expect(family.has(edit.parent ?? "")).toBe(false);
        expect(family.has(edit.before ?? "")).toBe(false);
      }
    }
  });
});

describe("a part that is dragged", () => {
  const dragged = (id: string, x: number, y: number, end: "onPointerUp" | "onPointerCancel" = "onPointerUp") => {
    const { made, rows, result, row } = dragging();
    // Rows of 40 px, one below the other.
    result.current.list.current = { querySelectorAll: () => rows.map((_, k) => ({
      getBoundingClientRect: () => ({ top: 40 * k, height: 40 }) })) } as unknown as HTMLDivElement;
    const event = (clientX: number, clientY: number) => ({ clientX, clientY, pointerId: 1,
      preventDefault: () => undefined,
      currentTarget: { setPointerCapture: () => undefined, hasPointerCapture: () => true } }) as unknown as
      React.PointerEvent;
    const start = 40 * rows.findIndex((r) => r.part.id === id) + 20;
    act(() => result.current.handle(row(id)).onPointerDown(event(100, start)));
    act(() => result.current.handle(row(id)).onPointerMove(event(100 + x, y)));
    const landing = result.current.landing;
    act(() => result.current.handle(row(id))[end]());
    expect(result.current.landing).toBeNull();
    return { made, landing };
  };

  it("lands before the row whose upper half is under the pointer, at its own depth", () => {
    expect(place(dragged("boots", 0, 165).made[0])).toEqual(["hat", null]);
    expect(place(dragged("boots", 0, 5).made[0])).toEqual(["coat", null]);
    expect(place(dragged("hat", 0, 400).made[0])).toEqual([null, null]);
  });

  it("is nested by a hand's breadth to the right, no deeper than the row above allows", () => {
    expect(place(dragged("boots", 22, 165).made[0])).toEqual(["hat", "coat"]);
    expect(place(dragged("boots", 400, 165).made[0])).toEqual(["hat", "cuff"]);
    expect(place(dragged("pin", -44, 230).made[0])).toEqual([null, null]);
  });

  it("shows where it would land, and goes back when the system takes the pointer", () => {
    const { made, landing } = dragged("boots", 22, 165, "onPointerCancel");
    expect(landing).toEqual({ part: "boots", at: 4, parent: "coat" });
    expect(made).toEqual([]);
  });
});
