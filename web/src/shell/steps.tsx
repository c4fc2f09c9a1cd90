import type { ComponentType } from "react";
import type { Cut, Step } from "../api/client";
import { ColourStep } from "../steps/colour/ColourStep";
import { DeliverStep } from "../steps/deliver/DeliverStep";
import { FinishStep } from "../steps/finish/FinishStep";
import { LightStep } from "../steps/light/LightStep";
import { LinesStep } from "../steps/lines/LinesStep";
import { LooksStep } from "../steps/looks/LooksStep";
import { PartsStep } from "../steps/parts/PartsStep";
import type { StepProps } from "../steps/StepProps";

interface StepEntry {
  key: Step;
  label: string;
  Screen: ComponentType<StepProps>;
  /** What is unfinished in this step, in a few words. */
  open?: (cut: Cut | undefined) => string | null;
}

/** The steps in the order of the work: the tape, the routes and the keys all follow this table. */
export const STEPS: StepEntry[] = [
  { key: "lines", label: "Lines", Screen: LinesStep },
  {
    key: "parts",
    label: "Parts",
    Screen: PartsStep,
    open: (cut) => (cut?.unclaimed ? `${cut.unclaimed} ${cut.unclaimed === 1 ? "area" : "areas"}` : null),
  },
  { key: "colour", label: "Colour", Screen: ColourStep },
  { key: "light", label: "Light", Screen: LightStep },
  { key: "finish", label: "Finish", Screen: FinishStep },
  { key: "looks", label: "Looks", Screen: LooksStep },
  { key: "deliver", label: "Deliver", Screen: DeliverStep },
];
