import type { Piece, Step } from "../api/client";
import { useClock, type ClockState } from "../api/time";
import { useRunning } from "./state";

export interface Standing {
  state: ClockState;
  /** Minutes by step, with what this second adds. */
  spent: Record<string, number>;
  total: number;
  planned: number;
}

/** How the piece stands, to the second.
 *
 * @param each how many seconds pass before what is told changes: what shows minutes need not be drawn each second
 */
export function useStanding(piece: Piece, step: Step, each = 1): Standing | null {
  const { data: state } = useClock(piece.id);
  const pending = useRunning((s) => Math.floor(s.pending / each) * each);
  if (!state) return null;
  const spent = { ...state.spent, [step]: (state.spent[step] ?? 0) + pending / 60 };
  return { state, spent, total: sum(spent), planned: sum(state.plan.minutes) };
}

export const sum = (minutes: Record<string, number>) => Object.values(minutes).reduce((a, b) => a + b, 0);
