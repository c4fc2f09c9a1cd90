import { create } from "zustand";
import { toProblem } from "./client";

interface Notice {
  text: string;
  tone: "info" | "error";
  undo?: () => void;
}

/** The one line that tells what happened; the newest replaces the one before. */
export const useNotice = create<{ notice: Notice | null; close: () => void }>((set) => ({
  notice: null,
  close: () => set({ notice: null }),
}));

export function tell(text: string, tone: Notice["tone"] = "info"): void {
  useNotice.setState({ notice: { text, tone } });
}

/** Tells what was done, with a way back. */
export function tellUndoable(text: string, undo: () => void): void {
  useNotice.setState({ notice: { text, tone: "info", undo } });
}

export function tellProblem(error: unknown): void {
  tell(toProblem(error).message, "error");
}
