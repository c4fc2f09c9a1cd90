import { renderHook } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import type { Piece } from "../api/client";
import * as pieces from "../api/pieces";
import { useLiveEdit } from "./useLiveEdit";

test("edits made while earlier ones are on their way end together, with the last, and none is dropped", async () => {
  const waiting: (() => void)[] = [];
  const sent: unknown[] = [];
  let revision = 1;
  vi.spyOn(pieces, "useChanges").mockReturnValue({ edit: (edit: unknown) => {
    sent.push(edit);
    return new Promise((done) => waiting.push(() => done({ id: 1, revision: ++revision } as Piece)));
  } } as unknown as ReturnType<typeof pieces.useChanges>);
  const { result } = renderHook(() => useLiveEdit({ id: 1, revision: 1 } as Piece));
  const ended: number[] = [];
  for (const k of [0, 1, 2]) {
    void result.current.make({ kind: "set_background", colour: `#00000${k}` }).then(() => ended.push(k));
  }
  expect(sent).toHaveLength(3);
  waiting[0]?.();
  waiting[1]?.();
  await new Promise((r) => setTimeout(r, 5));
  expect(ended).toEqual([]);
  waiting[2]?.();
  await new Promise((r) => setTimeout(r, 5));
  expect(ended.sort()).toEqual([0, 1, 2]);
  vi.restoreAllMocks();
});
