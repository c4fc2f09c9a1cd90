import { PictureView } from "../../picture/PictureView";
import { useSides } from "../../ui/Choice";
import { Workplace } from "../../shell/Workplace";
import type { StepProps } from "../StepProps";
import { useLiveEdit } from "../useLiveEdit";
import { LIGHT } from "./keys";
import { Lights } from "./Lights";
import { LookOver } from "./LookOver";
import { OwnLesson } from "./OwnLesson";
import { PartForms } from "./PartForms";
import { TouchUps } from "./TouchUps";

export function LightStep({ piece }: StepProps) {
  const live = useLiveEdit(piece);
  const count = piece.recipe.touch_ups.length;
  const [side, tabs] = useSides({ lights: "Lights", forms: "Forms", "touch-ups": count > 0 ? `Touch-ups ${count}`
    : "Touch-ups", look: "Look over", practise: "Practise" }, LIGHT.sides, "lights");
  if (side === "forms") return <PartForms piece={piece} live={live} tabs={tabs} />;
  if (side === "touch-ups") return <TouchUps piece={piece} live={live} tabs={tabs} />;
  if (side === "practise") return <OwnLesson piece={piece} live={live} tabs={tabs} />;
  if (side === "look") return <LookOver piece={piece} live={live} tabs={tabs} />;
  return (
    <Workplace title="Light" lead="One light for the whole piece. Drag the pucks; every shape follows."
      picture={<PictureView piece={piece} kind="picture" />}>
      {tabs}
      <Lights piece={piece} live={live} />
    </Workplace>
  );
}
