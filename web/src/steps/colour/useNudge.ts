import { useCallback, useEffect, useRef } from "react";
import type { Edit, NudgeKey, PassKey } from "../../api/client";

const REST_MS = 650;

interface Live { show: (edit: Edit) => void; make: (edit: Edit) => Promise<unknown> }
type Nudge = Extract<Edit, { kind: "nudge_colour" }>;

/** Presses of one key on one swatch are one change, made when the hand rests. */
export function useNudge(live: Live): (part: string, name: string, to: string) => void {
  const pending = useRef<Nudge | null>(null);
  const timer = useRef(0);
  const flush = useCallback(() => {
    clearTimeout(timer.current);
    const edit = pending.current;
    pending.current = null;
    if (edit) void live.make(edit);
  }, [live]);
  useEffect(() => () => flush(), [flush]);
  return useCallback((part, name, to) => {
    const before = pending.current;
    if (before && (before.part !== part || before.name !== name || before.to !== to)) flush();
    const times = pending.current ? Math.min(60, (pending.current.times ?? 1) + 1) : 1;
    pending.current = { kind: "nudge_colour", part, name: name as PassKey | "base", to: to as NudgeKey, times };
    live.show(pending.current);
    clearTimeout(timer.current);
    timer.current = window.setTimeout(flush, REST_MS);
  }, [live, flush]);
}
