import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import { useState } from "react";
import { Key } from "../../shell/GlanceBar";
import { useKeys } from "../../shell/useKeys";
import type { StepProps } from "../StepProps";
import { Drawing } from "./Drawing";
import { Gaps } from "./Gaps";

type Side = "drawing" | "gaps";

const LEADS: Record<Side, string> = {
  drawing: "How the drawing becomes lines. Drag the seam to compare.",
  gaps: "Where areas meet that belong apart. Point at one to see it close.",
};

export function LinesStep({ piece }: StepProps) {
  const [side, setSide] = useState<Side>("gaps");
  useKeys("l", () => setSide((s) => (s === "gaps" ? "drawing" : "gaps")));
  const choice = (
    <ToggleButtonGroup exclusive fullWidth size="small" value={side} aria-label="What to work on" sx={{ mb: 1.5 }}
      onChange={(_, v: Side | null) => v && setSide(v)}>
      <ToggleButton value="drawing">Drawing{side === "gaps" && <Key>L</Key>}</ToggleButton>
      <ToggleButton value="gaps">Gaps{side === "drawing" && <Key>L</Key>}</ToggleButton>
    </ToggleButtonGroup>
  );
  const Side = side === "gaps" ? Gaps : Drawing;
  return <Side piece={piece} lead={LEADS[side]} choice={choice} />;
}
