import { create } from "zustand";
import { toProblem, type JobState, type Schemas } from "../../api/client";
import { cancel, follow, send } from "../../api/jobs";

export type Corrected = Schemas["CorrectedDrawing"];
export type ChangedHands = Schemas["ChangedHands"];

interface Bringing {
  /** The piece that a drawing is brought to. */
  piece: number | null;
  file: string;
  job: JobState | null;
  offer: Corrected | null;
  error: string | null;
  /** What was brought later counts. */
  turn: number;
}

let turns = 0;

const NONE: Bringing = { piece: null, file: "", job: null, offer: null, error: null, turn: 0 };

/** The corrected drawing that is being brought in: it waits while other sides are looked at. */
export const useBringing = create<Bringing>(() => NONE);

export async function bringDrawing(piece: number, file: File): Promise<void> {
  const mine: Bringing = { ...NONE, piece, file: file.name, turn: turns += 1 };
  useBringing.setState(mine);
  const tell = (change: Partial<Bringing>) => {
    if (useBringing.getState().turn === mine.turn) useBringing.setState(change);
  };
  try {
    const done = await follow(await send(`/api/pieces/${piece}/drawings`, { file }), (job) => tell({ job }));
    const found = done.answer && "kept" in done.answer ? done.answer : null;
    tell(done.state === "done" ? { offer: found, job: null } : NONE);
  } catch (problem) {
    tell({ error: toProblem(problem).message, job: null });
  }
}

export function leaveDrawing(): void {
  const { job } = useBringing.getState();
  if (job) void cancel(job);
  useBringing.setState(NONE);
}
