import Box from "@mui/material/Box";
import Slider from "@mui/material/Slider";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { ColourField } from "../../colour/ColourField";
import { Figure } from "../../theme/Figure";
import type { useLiveEdit } from "../useLiveEdit";

export interface FieldCalls {
  onShow: (hex: string) => void;
  onMake: (hex: string) => void;
  onCancel: () => void;
  onPick: () => void;
}

const WORDS = {
  shade: { title: "Shade for all", mode: "multiply" },
  light: { title: "Light for all", mode: "screen" },
};

/** One colour and its strength, for every part. */
export function WashControl({ name, wash, live, field }: {
  name: "shade" | "light"; wash: Schemas["Wash"]; live: ReturnType<typeof useLiveEdit>; field: FieldCalls;
}) {
  const [drag, setDrag] = useState<number | null>(null);
  const strength = drag ?? wash.strength;
  const edit = (v: number) => ({ kind: "set_pass" as const, name, wash: { ...wash, strength: v } });
  const { title, mode } = WORDS[name];
  return (
    <Box>
      <Typography variant="h3" sx={{ display: "flex", justifyContent: "space-between" }}>
        {title}<Figure size={12}>{mode} {Math.round(strength * 100)} %</Figure>
      </Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: "56px 1fr", alignItems: "center", columnGap: 2 }}>
        <ColourField label={title} value={wash.colour} {...field}>
          <Box sx={{ width: 56, height: 32, borderRadius: 1, bgcolor: wash.colour, border: 1, borderColor: "divider" }} />
        </ColourField>
        <Slider aria-label={`${title}: strength`} value={strength} min={0} max={1} step={0.01}
          onChange={(_, v) => { setDrag(v); live.show(edit(v)); }}
          onChangeCommitted={(_, v) => void live.make(edit(v)).then(() => setDrag(null))} />
      </Box>
    </Box>
  );
}
