import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import { useState } from "react";
import { Key } from "../../shell/GlanceBar";
import { useKeys } from "../../shell/useKeys";
import type { StepProps } from "../StepProps";
import { Drawing } from "./Drawing";
import { Framing } from "./Framing";
import { Gaps } from "./Gaps";
import { Hatching } from "./Hatching";

type Side = "frame" | "drawing" | "hatching" | "gaps";

const SIDES: Side[] = ["frame", "drawing", "hatching", "gaps"];

const LEADS: Record<Side, string> = {
  frame: "What of the drawing is used, and which way up.",
  drawing: "How the drawing becomes lines. Drag the seam to compare.",
  hatching: "Strokes that shade or texture are printed, but cut no areas.",
  gaps: "Where areas meet that belong apart. Point at one to see it close.",
};

const SCREENS = { frame: Framing, drawing: Drawing, hatching: Hatching, gaps: Gaps };

export function LinesStep({ piece }: StepProps) {
  const [side, setSide] = useState<Side>("gaps");
  useKeys("l", () => setSide((s) => SIDES[(SIDES.indexOf(s) + 1) % SIDES.length] ?? "gaps"));
  const choice = (
    <ToggleButtonGroup exclusive fullWidth size="small" value={side} aria-label="What to work on" sx={{ mb: 1.5 }}
      onChange={(_, v: Side | null) => v && setSide(v)}>
      <ToggleButton value="frame">Frame</ToggleButton>
      <ToggleButton value="drawing">Drawing</ToggleButton>
      <ToggleButton value="hatching">Hatching</ToggleButton>
      <ToggleButton value="gaps">Gaps<Key>L</Key></ToggleButton>
    </ToggleButtonGroup>
  );
  const Screen = SCREENS[side];
  return <Screen piece={piece} lead={LEADS[side]} choice={choice} />;
}
