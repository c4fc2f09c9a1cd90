import { useSides } from "../../ui/Choice";
import type { StepProps } from "../StepProps";
import { FINISH } from "./keys";
import { LayersSide } from "./LayersSide";
import { LinesSide } from "./LinesSide";
import { ShadesSide } from "./ShadesSide";

const SIDES = { layers: "Layers", lines: "Lines", shades: "Shade in ink" };

/** What is laid over the picture as a whole, and the colours of its lines. */
export function FinishStep({ piece }: StepProps) {
  const [side, tabs] = useSides(SIDES, FINISH.sides, "layers");
  if (side === "lines") return <LinesSide piece={piece} tabs={tabs} />;
  if (side === "shades") return <ShadesSide piece={piece} tabs={tabs} />;
  return <LayersSide piece={piece} tabs={tabs} />;
}
