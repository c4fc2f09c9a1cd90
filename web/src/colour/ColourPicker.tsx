import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Slider from "@mui/material/Slider";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import { Figure } from "../theme/Figure";
import { Starters } from "./Starters";
import { hexOfHsb, hexOfLch, hsbOf, lchOf, readColour, type Hsb, type Lch } from "./convert";

interface Props {
  value: string;
  onShow: (hex: string) => void;
  onMake: (hex: string) => void;
  onPick?: () => void;
  onReference?: () => void;
  starters?: string;
}

const MOST_CHROMA = 0.32;
const RAILS = [
  { key: "l", label: "Lightness", max: 1, step: 0.005, digits: 3 },
  { key: "c", label: "Chroma", max: MOST_CHROMA, step: 0.002, digits: 3 },
  { key: "h", label: "Hue", max: 360, step: 1, digits: 0 },
] as const;

function rail(lch: Lch, key: keyof Lch, max: number): string {
  const stops = Array.from({ length: 13 }, (_, i) => hexOfLch({ ...lch, [key]: (max * i) / 12 }));
  return `linear-gradient(90deg, ${stops.join(", ")})`;
}

/** Lightness, chroma and hue on rails that show where they lead; the same colour in numbers below. */
export function ColourPicker({ value, onShow, onMake, onPick, onReference, starters }: Props) {
  const [lch, setLch] = useState(() => lchOf(value));
  const [from, setFrom] = useState(value);
  if (from !== value) {
    setFrom(value);
    if (hexOfLch(lch) !== value) setLch({ ...lchOf(value), h: lchOf(value).c < 0.004 ? lch.h : lchOf(value).h });
  }
  const hex = hexOfLch(lch);
  const set = (next: Lch, done: boolean) => {
    setLch(next);
    (done ? onMake : onShow)(hexOfLch(next));
  };
  return (
    <Box sx={{ width: 316, p: 2 }}>
      <Box sx={{ display: "flex", height: 44, mb: 1.5, borderRadius: 1, overflow: "hidden", border: 1,
        borderColor: "divider" }}>
        <Box sx={{ flex: 1, bgcolor: value }} title="Before" />
        <Box sx={{ flex: 2, bgcolor: hex }} title="Now" />
      </Box>
      {RAILS.map(({ key, label, max, step, digits }) => (
        <Box key={key} sx={{ display: "grid", gridTemplateColumns: "76px 1fr 48px", alignItems: "center",
          columnGap: 1.25, height: 38 }}>
          <Box component="span" id={`rail-${key}`} sx={{ fontSize: 13 }}>{label}</Box>
          <Slider aria-labelledby={`rail-${key}`} value={lch[key]} min={0} max={max} step={step}
            onChange={(_, v) => set({ ...lch, [key]: v }, false)}
              onChangeCommitted={(_, v) => set({ ...lch, [key]: v }, true)}
            sx={{
              "& .MuiSlider-track": { display: "none" },
              "& .MuiSlider-rail": { height: 14, opacity: 1, borderRadius: 1, background: rail(lch, key, max) },
              "& .MuiSlider-thumb": { width: 10, height: 24, borderRadius: 1, bgcolor: "#fff",
                border: "2px solid #1b1b1b", boxShadow: "none" },
            }} />
          <Figure>{lch[key].toFixed(digits)}</Figure>
        </Box>
      ))}
      <Numbers hex={hex} onMake={onMake} />
      {starters && <Starters value={value} family={starters} onMake={onMake} />}
      {onPick && (
        <Box sx={{ display: "flex", gap: 1, mt: 1.5 }}>
          <Button variant="outlined" fullWidth onClick={onPick}>From the picture</Button>
          {onReference && <Button variant="outlined" fullWidth onClick={onReference}>From another</Button>}
        </Box>
      )}
    </Box>
  );
}

function Numbers({ hex, onMake }: { hex: string; onMake: (hex: string) => void }) {
  const hsb = hsbOf(hex);
  const [text, setText] = useState<string | null>(null);
  const read = text === null ? hex : readColour(text);
  const finish = () => {
    if (text !== null && read) onMake(read);
    setText(null);
  };
  const part = (key: keyof Hsb, label: string, scale: number) => (
    <NumberBox key={key} label={label} value={Math.round(hsb[key] * scale)} max={scale === 1 ? 360 : scale}
      onMake={(v) => onMake(hexOfHsb({ ...hsb, [key]: v / scale }))} />
  );
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "1.5fr 1fr 1fr 1fr", gap: 1, mt: 1.5 }}>
      <TextField label="Hex or name" title="#rrggbb, a CSS name, oklch(0.7 0.1 60), hsb(20 40% 90%)" value={text ?? hex}
        error={!read} onChange={(e) => setText(e.target.value)}
        onBlur={finish} onKeyDown={(e) => e.key === "Enter" && finish()}
          slotProps={{ htmlInput: { spellCheck: false } }} />
      {part("h", "H °", 1)}
      {part("s", "S %", 100)}
      {part("b", "B %", 100)}
    </Box>
  );
}

function NumberBox({ label, value, max, onMake }: { label: string; value: number; max: number;
  onMake: (v: number) => void }) {
  const [text, setText] = useState<string | null>(null);
  const number = Number(text);
  const fits = text === null || (text.trim() !== "" && number >= 0 && number <= max);
  const finish = () => {
    if (text !== null && fits) onMake(number);
    setText(null);
  };
  return (
    <TextField label={label} value={text ?? String(value)} error={!fits} onChange={(e) => setText(e.target.value)}
      onBlur={finish} onKeyDown={(e) => e.key === "Enter" && finish()}
        slotProps={{ htmlInput: { inputMode: "decimal" } }} />
  );
}
