import { useRef, useState } from "react";
import type { Edit, Part } from "../../api/client";
import { familyOf, type Row } from "./family";

const INDENT_PX = 22;

export interface Landing {
  part: string;
  /** The row it comes before; the number of rows for the end. */
  at: number;
  parent: string | null;
}

/** Where a part lands: before the row under the pointer, in what the row above is or belongs to. */
function land(rows: Row[], parts: Part[], part: string, at: number, depth: number): Landing {
  const family = familyOf(parts, part);
  let above = rows.slice(0, at).reverse().find((r) => !family.has(r.part.id));
  let parent: string | null = null;
  if (above && depth > above.depth) parent = above.part.id;
  else {
    while (above && above.depth > Math.max(0, depth)) {
      const up: string | null | undefined = above.part.parent;
      above = rows.find((r) => r.part.id === up);
    }
    parent = above?.part.parent ?? null;
  }
  return { part, at, parent };
}

/** Drag a part by its handle: up and down to change what is in front, right to nest it. */
export function usePartDrag(rows: Row[], parts: Part[], edit: (edit: Edit) => Promise<unknown>) {
  const [landing, setLanding] = useState<Landing | null>(null);
  const list = useRef<HTMLDivElement>(null);
  const start = useRef({ x: 0, depth: 0 });

  const commit = ({ part, at, parent }: Landing) => {
    const family = familyOf(parts, part);
    const before = rows.slice(at).find((r) => !family.has(r.part.id))?.part.id ?? null;
    const now = parts.find((p) => p.id === part);
    void edit({ kind: "arrange_part", part, before, parent, with_parent: parent !== null && parent === now?.parent
      && (now?.with_parent ?? false) });
  };
  const handle = (row: Row) => ({
    onPointerDown: (e: React.PointerEvent) => {
      e.preventDefault();
      e.currentTarget.setPointerCapture(e.pointerId);
      start.current = { x: e.clientX, depth: row.depth };
      setLanding({ part: row.part.id, at: rows.indexOf(row), parent: row.part.parent ?? null });
    },
    onPointerMove: (e: React.PointerEvent) => {
      if (!e.currentTarget.hasPointerCapture(e.pointerId) || !list.current) return;
      const tops = [...list.current.querySelectorAll("[data-part-row]")].map((el) => el.getBoundingClientRect());
      const at = tops.findIndex((r) => e.clientY < r.top + r.height / 2);
      const depth = start.current.depth + Math.round((e.clientX - start.current.x) / INDENT_PX);
      setLanding(land(rows, parts, row.part.id, at < 0 ? rows.length : at, depth));
    },
    onPointerUp: () => {
      if (landing) commit(landing);
      setLanding(null);
    },
    onPointerCancel: () => setLanding(null),
  });
  /** The same by keys: Alt with the arrows. */
  const step = (row: Row, key: string): boolean => {
    const at = rows.indexOf(row);
    const family = familyOf(parts, row.part.id);
    const below = rows.findIndex((r, k) => k > at && !family.has(r.part.id));
    if (key === "ArrowUp" && at > 0) commit(land(rows, parts, row.part.id, at - 1, row.depth));
    else if (key === "ArrowDown" && below > 0) commit(land(rows, parts, row.part.id, below + 1, row.depth));
    else if (key === "ArrowRight" && at > 0) commit(land(rows, parts, row.part.id, at, row.depth + 1));
    else if (key === "ArrowLeft" && row.depth > 0) commit(land(rows, parts, row.part.id, below > 0 ? below
      : rows.length, row.depth - 1));
    else return false;
    return true;
  };
  return { list, landing, handle, step };
}
