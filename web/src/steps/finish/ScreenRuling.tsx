import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Line } from "./ShapeFields";

const CM = 2.54; // in an inch

/** The spacing of a screen as printers say it: lines in a centimetre of paper at the piece's resolution. */
export function ScreenRuling({ spacing, dpi, onMake }: {
  spacing: number; dpi: number; onMake: (spacing: number) => void;
}) {
  const now = (dpi / CM / spacing).toFixed(1);
  const [typed, setTyped] = useState<string | null>(null);
  const asked = Number((typed ?? now).replace(",", "."));
  const pixels = dpi / CM / asked;
  const bad = !(pixels >= 2 && pixels <= 400);
  const keep = () => {
    if (typed !== null && !bad && typed !== now) onMake(pixels);
    setTyped(null);
  };
  return (
    <Line label="Lines a cm">
      <TextField size="small" value={typed ?? now} error={bad} onChange={(e) => setTyped(e.target.value)} onBlur={keep}
        onKeyDown={(e) => {
          if (e.key === "Enter") keep();
          if (e.key === "Escape") setTyped(null);
        }}
        helperText={bad ? `At ${dpi} px an inch from ${(dpi / CM / 400).toFixed(1)} to ${(dpi / CM / 2).toFixed(0)}.`
          : `Printed at ${dpi} px an inch.`}
        slotProps={{ htmlInput: { "aria-label": "Lines a cm", inputMode: "decimal", maxLength: 8 } }} />
    </Line>
  );
}
