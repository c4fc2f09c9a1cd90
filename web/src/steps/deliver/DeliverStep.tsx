import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import { useState, type ReactNode } from "react";
import { Key } from "../../shell/GlanceBar";
import { useKeys } from "../../shell/useKeys";
import type { StepProps } from "../StepProps";
import { Files } from "./Files";
import { Setup } from "./Setup";
import { StackSide } from "./StackSide";
import { TakeBack } from "./TakeBack";

const SIDES = ["stack", "setup", "files", "back"] as const;
type Side = (typeof SIDES)[number];

export interface SideProps extends StepProps {
  tabs: ReactNode;
}

export function DeliverStep({ piece }: StepProps) {
  const [side, setSide] = useState<Side>("stack");
  useKeys("t", () => setSide((s) => SIDES[(SIDES.indexOf(s) + 1) % SIDES.length] ?? "stack"));
  const tabs = (
    <ToggleButtonGroup exclusive fullWidth size="small" value={side} aria-label="What to work on" sx={{ mb: 1.5, flexShrink: 0 }} onChange={(_, v: Side | null) => v && setSide(v)}>
      <ToggleButton value="stack">Stack</ToggleButton>
      <ToggleButton value="setup">Set up<Key>T</Key></ToggleButton>
      <ToggleButton value="files">Files</ToggleButton>
      <ToggleButton value="back">Take back</ToggleButton>
    </ToggleButtonGroup>
  );
  if (side === "setup") return <Setup piece={piece} tabs={tabs} />;
  if (side === "files") return <Files piece={piece} tabs={tabs} />;
  if (side === "back") return <TakeBack piece={piece} tabs={tabs} />;
  return <StackSide piece={piece} tabs={tabs} />;
}
