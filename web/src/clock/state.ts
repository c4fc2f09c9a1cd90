import { create } from "zustand";
import { persist } from "zustand/middleware";
import type { Doing } from "./beats";

interface Running {
  doing: Doing;
  paused: boolean;
  /** Seconds that the server has not been told yet. */
  pending: number;
  /** Minutes away that may have been work. */
  away: number | null;
}

/** What the clock of this window does now. */
export const useRunning = create<Running>(() => ({ doing: "away", paused: false, pending: 0, away: null }));

export const togglePause = () => useRunning.setState((s) => ({ paused: !s.paused }));

interface Wishes {
  /** The large clock over the picture. */
  large: boolean;
  /** Whether the end of a step is told. */
  alarm: boolean;
  /** Minutes between two breaks, by kind; 0 is never, what is not named is as advised. */
  breaks: Record<string, number>;
  /** Minutes of work a day. */
  day: number;
}

export const useWishes = create<Wishes>()(persist(() => ({ large: false, alarm: true, breaks: {}, day: 240 } as Wishes),
  { name: "wardrobe-clock" }));

export const toggleLarge = () => useWishes.setState((s) => ({ large: !s.large }));
