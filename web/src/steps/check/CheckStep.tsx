import { useSides } from "../../ui/Choice";
import type { StepProps } from "../StepProps";
import { Compare } from "./Compare";
import { FindingsSide } from "./FindingsSide";
import { CHECK_SIDES } from "./keys";
import { Review } from "./Review";

const SIDES = { findings: "Findings", compare: "Compare", review: "Review" };
const SCREENS = { findings: FindingsSide, compare: Compare, review: Review };

/** Look at what has been made as someone else would. */
export function CheckStep({ piece }: StepProps) {
  const [side, tabs] = useSides(SIDES, CHECK_SIDES.sides, "findings");
  const Side = SCREENS[side];
  return <Side piece={piece} tabs={tabs} />;
}
