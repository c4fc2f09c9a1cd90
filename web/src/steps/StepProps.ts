import type { ReactNode } from "react";
import type { Piece } from "../api/client";

/** What every step's screen is given. */
export interface StepProps {
  piece: Piece;
}

/** What one side of a step's bench is given: the tabs by which one turns to the others. */
export interface SideProps extends StepProps {
  tabs: ReactNode;
}
