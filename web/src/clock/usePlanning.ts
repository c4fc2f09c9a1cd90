import { useQueryClient } from "@tanstack/react-query";
import { useEvents } from "../api/events";
import { clockKey, type Plan } from "../api/time";

/** Change what is planned of a piece: what is not named stays. */
export function usePlanning(piece: number, now: Plan | undefined) {
  const client = useQueryClient();
  const { note } = useEvents(piece, false);
  const plan = async (change: Partial<Plan>): Promise<boolean> => {
    if (!now) return false;
    const good = await note({ ...now, ...change, kind: "plan" });
    await client.invalidateQueries({ queryKey: clockKey(piece) });
    return good;
  };
  return { plan };
}

export type Planning = ReturnType<typeof usePlanning>;
