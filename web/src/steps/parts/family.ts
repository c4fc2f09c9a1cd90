import type { Part } from "../../api/client";

export interface Row {
  part: Part;
  depth: number;
  /** Hidden itself, or with what it belongs to. */
  hidden: boolean;
}

/** The parts in their order, each right under what it belongs to. */
export function rowsOf(parts: Part[]): Row[] {
  const rows: Row[] = [];
  const add = (part: Part, depth: number, hidden: boolean) => {
    const off = hidden || part.visible === false;
    rows.push({ part, depth, hidden: off });
    for (const child of parts) if (child.parent === part.id) add(child, depth + 1, off);
  };
  for (const part of parts) if (!part.parent) add(part, 0, false);
  return rows;
}

export function familyOf(parts: Part[], id: string): Set<string> {
  const members = new Set([id]);
  for (let size = 0; size < members.size;) {
    size = members.size;
    for (const part of parts) if (part.parent && members.has(part.parent)) members.add(part.id);
  }
  return members;
}
