import { useSides } from "../../ui/Choice";
import type { StepProps } from "../StepProps";
import { LINES } from "./keys";
import { Drawing } from "./Drawing";
import { Framing } from "./Framing";
import { Gaps } from "./Gaps";
import { Hatching } from "./Hatching";
import { Versions } from "./Versions";

const SIDES = { frame: "Frame", drawing: "Drawing", versions: "Versions", hatching: "Hatching", gaps: "Gaps" };

const LEADS: Record<keyof typeof SIDES, string> = {
  frame: "What of the drawing is used, and which way up.",
  drawing: "How the drawing becomes lines. Drag the seam to compare.",
  versions: "Lay a corrected drawing under the piece, and go back to any before.",
  hatching: "Strokes that shade or texture are printed, but cut no areas.",
  gaps: "Where areas meet that belong apart. Point at one to see it close.",
};

const SCREENS = { frame: Framing, drawing: Drawing, versions: Versions, hatching: Hatching, gaps: Gaps };

export function LinesStep({ piece }: StepProps) {
  const [side, tabs] = useSides(SIDES, LINES.sides, "gaps");
  const Screen = SCREENS[side];
  return <Screen piece={piece} lead={LEADS[side]} choice={tabs} />;
}
