import { useSides } from "../../ui/Choice";
import type { StepProps } from "../StepProps";
import { FINISH } from "./keys";
import { LayersSide } from "./LayersSide";
import { LinesSide } from "./LinesSide";

const SIDES = { layers: "Layers", lines: "Lines" };

/** What is laid over the picture as a whole, and the colours of its lines. */
export function FinishStep({ piece }: StepProps) {
  const [side, tabs] = useSides(SIDES, FINISH.sides, "layers");
  return side === "lines" ? <LinesSide piece={piece} tabs={tabs} /> : <LayersSide piece={piece} tabs={tabs} />;
}
