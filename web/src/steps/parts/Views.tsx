import Box from "@mui/material/Box";
import ToggleButton from "@mui/material/ToggleButton";
import type { PartView } from "../../api/client";

export const VIEWS: { key: PartView; label: string }[] = [
  { key: "parts", label: "Tints" },
  { key: "unclaimed", label: "Unclaimed" },
  { key: "bases", label: "Bases" },
  { key: "borders", label: "Borders" },
];

/** Ways to see the parts, on the picture itself. */
export function Views({ view, onChange }: { view: PartView; onChange: (view: PartView) => void }) {
  return (
    <Box role="group" aria-label="Ways to see the parts" sx={{ position: "absolute", left: 12, top: 12, display: "flex", gap: 0.5, bgcolor: "background.paper", borderRadius: 1, p: 0.5 }}>
      {VIEWS.map(({ key, label }) => (
        <ToggleButton key={key} value={key} size="small" selected={view === key} onClick={() => onChange(key)} sx={{ border: 0 }}>{label}</ToggleButton>
      ))}
    </Box>
  );
}
