import type { Piece } from "../api/client";

/** What every step's screen is given. */
export interface StepProps {
  piece: Piece;
}
