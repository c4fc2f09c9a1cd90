import Box from "@mui/material/Box";
import type { Schemas } from "../../../api/client";
import { NumberField } from "../../../ui/NumberField";

const MM = { min: 0, max: 100, digits: 1, unit: "mm" } as const;

type Layout = Required<Schemas["StickerLayout"]>;

/** How stickers are laid out. */
export function StickerFields({ layout, onChange }: { layout: Layout; onChange: (layout: Layout) => void }) {
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr 1.25fr 0.9fr", gap: 1 }}>
      <NumberField label="Border" value={layout.border} {...MM} onKeep={(border) => onChange({ ...layout, border })} />
      <NumberField label="Gap" value={layout.gap} {...MM} onKeep={(gap) => onChange({ ...layout, gap })} />
      <NumberField label="At most" value={layout.largest} {...MM} min={5} max={3000}
        onKeep={(largest) => onChange({ ...layout, largest })} />
      <NumberField label="Copies" value={layout.copies} min={1} max={200}
        onKeep={(copies) => onChange({ ...layout, copies })} />
    </Box>
  );
}
