import { lazy, type ComponentType } from "react";
import type { Cut, Step } from "../api/client";
import type { StepProps } from "../steps/StepProps";

/** What is known of a piece without going to its steps. */
interface Known {
  cut: Cut | undefined;
  findings: number;
}

interface StepEntry {
  key: Step;
  label: string;
  Screen: ComponentType<StepProps>;
  /** What is unfinished in this step, in a few words. */
  open?: (known: Known) => string | null;
}

type Load = () => Promise<ComponentType<StepProps>>;
const loads: Load[] = [];

/** A screen that is fetched when it is first gone to. */
function screen(load: Load): ComponentType<StepProps> {
  loads.push(load);
  return lazy(async () => ({ default: await load() }));
}

/** Fetch the other steps while nothing else is to be done, so that going to them takes no time. */
export function fetchSteps(): void {
  for (const load of loads) void load().catch(() => undefined);
}

/** The steps in the order of the work: the tape, the routes and the keys all follow this table. */
export const STEPS: StepEntry[] = [
  { key: "lines", label: "Lines", Screen: screen(async () => (await import("../steps/lines/LinesStep")).LinesStep) },
  {
    key: "parts",
    label: "Parts",
    Screen: screen(async () => (await import("../steps/parts/PartsStep")).PartsStep),
    open: ({ cut }) => (cut?.unclaimed ? `${cut.unclaimed} ${cut.unclaimed === 1 ? "area" : "areas"}` : null),
  },
  { key: "colour", label: "Colour",
    Screen: screen(async () => (await import("../steps/colour/ColourStep")).ColourStep) },
  { key: "light", label: "Light", Screen: screen(async () => (await import("../steps/light/LightStep")).LightStep) },
  { key: "finish", label: "Finish",
    Screen: screen(async () => (await import("../steps/finish/FinishStep")).FinishStep) },
  { key: "looks", label: "Looks", Screen: screen(async () => (await import("../steps/looks/LooksStep")).LooksStep) },
  { key: "check", label: "Check", Screen: screen(async () => (await import("../steps/check/CheckStep")).CheckStep),
    open: ({ findings }) => (findings ? String(findings) : null) },
  { key: "deliver", label: "Deliver",
    Screen: screen(async () => (await import("../steps/deliver/DeliverStep")).DeliverStep) },
];
