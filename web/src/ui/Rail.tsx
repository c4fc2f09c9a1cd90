import Box from "@mui/material/Box";
import Slider from "@mui/material/Slider";
import type { ReactNode } from "react";
import { Figure } from "../theme/Figure";

/** A number that is dragged: shown while dragging, made at the end. */
export function Rail({ label, value, min, max, step = 1, says, onShow, onMake, after }: {
  label: string; value: number; min: number; max: number; step?: number;
  says: (v: number) => string; onShow: (v: number) => void; onMake: (v: number) => void;
  /** Beside the figure: a way back to the usual. */
  after?: ReactNode;
}) {
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "80px 1fr 64px auto", alignItems: "center", columnGap: 2,
      minHeight: 38 }}>
      <span>{label}</span>
      <Slider aria-label={label} value={value} min={min} max={max} step={step} onChange={(_, v) => onShow(v)}
        onChangeCommitted={(_, v) => onMake(v)} />
      <Box sx={{ textAlign: "right" }}><Figure>{says(value)}</Figure></Box>
      {after}
    </Box>
  );
}

export const perCent = (v: number) => `${Math.round(100 * v)} %`;
export const times = (v: number) => (v === 0 ? "none" : `× ${v.toFixed(2)}`);
