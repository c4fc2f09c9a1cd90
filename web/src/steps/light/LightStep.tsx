import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import { useState } from "react";
import { PictureView } from "../../picture/PictureView";
import { Key } from "../../shell/GlanceBar";
import { useKeys } from "../../shell/useKeys";
import { Workplace } from "../../shell/Workplace";
import type { StepProps } from "../StepProps";
import { useLiveEdit } from "../useLiveEdit";
import { Lights } from "./Lights";
import { LookOver } from "./LookOver";
import { PartForms } from "./PartForms";
import { TouchUps } from "./TouchUps";

type Side = "lights" | "forms" | "touch-ups" | "look";

const SIDES: Side[] = ["lights", "forms", "touch-ups", "look"];

export function LightStep({ piece }: StepProps) {
  const [side, setSide] = useState<Side>("lights");
  const live = useLiveEdit(piece);
  useKeys("t", () => setSide((s) => SIDES[(SIDES.indexOf(s) + 1) % SIDES.length] ?? "lights"));
  const count = piece.recipe.touch_ups.length;
  const tabs = (
    <ToggleButtonGroup exclusive fullWidth size="small" value={side} aria-label="What to work on" sx={{ mb: 1.5 }} onChange={(_, v: Side | null) => v && setSide(v)}>
      <ToggleButton value="lights">Lights</ToggleButton>
      <ToggleButton value="forms">Forms<Key>T</Key></ToggleButton>
      <ToggleButton value="touch-ups">Touch-ups{count > 0 ? ` ${count}` : ""}</ToggleButton>
      <ToggleButton value="look">Look over</ToggleButton>
    </ToggleButtonGroup>
  );
  if (side === "forms") return <PartForms piece={piece} live={live} tabs={tabs} />;
  if (side === "touch-ups") return <TouchUps piece={piece} live={live} tabs={tabs} />;
  if (side === "look") return <LookOver piece={piece} tabs={tabs} />;
  return (
    <Workplace title="Light" lead="One light for the whole piece. Drag the pucks; every shape follows." picture={<PictureView piece={piece} kind="picture" />}>
      {tabs}
      <Lights piece={piece} live={live} />
    </Workplace>
  );
}
