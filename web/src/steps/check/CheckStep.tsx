import { useSides } from "../../ui/Choice";
import type { StepProps } from "../StepProps";
import { Compare } from "./Compare";
import { FindingsSide } from "./FindingsSide";
import { CHECK_SIDES } from "./keys";

const SIDES = { findings: "Findings", compare: "Compare" };

/** Look at what has been made as someone else would. */
export function CheckStep({ piece }: StepProps) {
  const [side, tabs] = useSides(SIDES, CHECK_SIDES.sides, "findings");
  const Side = side === "compare" ? Compare : FindingsSide;
  return <Side piece={piece} tabs={tabs} />;
}
