import Box from "@mui/material/Box";
import Slider from "@mui/material/Slider";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Edit, Passes, Schemas } from "../../api/client";
import { ColourField } from "../../colour/ColourField";
import { Figure } from "../../theme/Figure";
import type { FieldCalls, Live } from "./live";

export type WashKey = Schemas["SetPass"]["name"];

/** The wash of a pass as a recipe holds it. */
export function washOf(passes: Passes, name: WashKey): Schemas["Wash"] {
  const key = name.replace(" ", "_") as "shade" | "deep_shade" | "light" | "glint" | "wash";
  return passes[key] ?? { colour: "#888888", strength: 0 };
}

/** One colour and its strength, for every part. */
export function WashControl({ name, title, mode, passes, live, field }: {
  name: WashKey; title: string; mode: string; passes: Passes; live: Live;
  field: (edit: (hex: string) => Edit) => FieldCalls;
}) {
  const [drag, setDrag] = useState<number | null>(null);
  const wash = washOf(passes, name);
  const strength = drag ?? wash.strength;
  const edit = (v: number) => ({ kind: "set_pass" as const, name, wash: { ...wash, strength: v } });
  return (
    <Box>
      <Typography variant="h3" sx={{ display: "flex", justifyContent: "space-between" }}>
        {title} for all<Figure size={12}>{mode} {Math.round(strength * 100)} %</Figure>
      </Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: "56px 1fr", alignItems: "center", columnGap: 2 }}>
        <ColourField label={`${title} for all`} value={wash.colour}
          {...field((colour) => ({ kind: "set_pass", name, wash: { ...wash, colour } }))}>
          <Box sx={{ width: 56, height: 32, borderRadius: 1, bgcolor: wash.colour, border: 1,
            borderColor: "divider" }} />
        </ColourField>
        <Slider aria-label={`${title} for all: strength`} value={strength} min={0} max={1} step={0.01}
          onChange={(_, v) => { setDrag(v); live.show(edit(v)); }}
          onChangeCommitted={(_, v) => void live.make(edit(v)).then(() => setDrag(null))} />
      </Box>
    </Box>
  );
}

/** A number of a rule. */
export function Amount({ setting, passes, live }: { setting: Schemas["Setting"]; passes: Passes; live: Live }) {
  const [drag, setDrag] = useState<number | null>(null);
  const { name, label, low, high, usual, unit } = setting;
  const value = drag ?? passes.amounts?.[name] ?? usual;
  const edit = (v: number) => ({ kind: "set_passes" as const,
    passes: { ...passes, amounts: { ...passes.amounts, [name]: v } } });
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "1fr 110px 48px", alignItems: "center", columnGap: 1.5,
      minHeight: 38 }}>
      <span>{label}</span>
      <Slider aria-label={`${name}: ${label}`} value={value} min={low} max={high} step={unit === "%" ? 0.01 : 1}
        onChange={(_, v) => { setDrag(v); live.show(edit(v)); }}
        onChangeCommitted={(_, v) => void live.make(edit(v)).then(() => setDrag(null))} />
      <Figure>{unit === "%" ? `${Math.round(100 * value)} %` : `${Math.round(value)}${unit}`}</Figure>
    </Box>
  );
}
