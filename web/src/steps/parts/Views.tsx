import Box from "@mui/material/Box";
import type { PartView } from "../../api/client";
import { Choice } from "../../ui/Choice";

export const VIEWS: { key: PartView; label: string }[] = [
  { key: "parts", label: "Tints" },
  { key: "unclaimed", label: "Unclaimed" },
  { key: "bases", label: "Bases" },
  { key: "borders", label: "Borders" },
];

/** Ways to see the parts, on the picture itself. */
export function Views({ view, onChange }: { view: PartView; onChange: (view: PartView) => void }) {
  return (
    <Box sx={{ position: "absolute", left: 12, top: 12, bgcolor: "background.paper", borderRadius: 1, p: 0.5,
      "& button": { border: 0 } }}>
      <Choice label="Ways to see the parts" value={view} onChange={onChange}
        options={VIEWS.map(({ key, label }) => ({ value: key, label }))} />
    </Box>
  );
}
