import InputAdornment from "@mui/material/InputAdornment";
import TextField from "@mui/material/TextField";
import type { SxProps } from "@mui/material/styles";
import { useState } from "react";

interface Props {
  label: string;
  value: number;
  min: number;
  max: number;
  /** Digits after the point. */
  digits?: number;
  unit?: string;
  onKeep: (value: number) => void;
  disabled?: boolean;
  sx?: SxProps;
}

/** A number that is typed: kept by Enter or when the field is left, given up by Escape. */
export function NumberField({ label, value, min, max, digits = 0, unit, onKeep, disabled = false, sx }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const shown = typed ?? String(Number(value.toFixed(digits)));
  const number = Number(shown.replace(",", "."));
  const bad = shown.trim() === "" || !(number >= min && number <= max);
  const keep = () => {
    const rounded = Number(number.toFixed(digits));
    if (typed !== null && !bad && rounded !== Number(value.toFixed(digits))) onKeep(rounded);
    if (!bad) setTyped(null);
  };
  return (
    <TextField label={label} value={shown} error={bad} disabled={disabled} sx={sx}
      onChange={(e) => setTyped(e.target.value)} onBlur={keep} onKeyDown={(e) => {
        if (e.key === "Enter") keep();
        if (e.key === "Escape" && typed !== null) { e.stopPropagation(); setTyped(null); }
      }} slotProps={{ htmlInput: { inputMode: "decimal" }, inputLabel: { shrink: true }, input: unit ? {
        endAdornment: <InputAdornment position="end">{unit}</InputAdornment> } : {} }} />
  );
}
