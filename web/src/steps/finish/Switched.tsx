import Box from "@mui/material/Box";
import Switch from "@mui/material/Switch";
import Typography from "@mui/material/Typography";

/** A setting that is on or off, as wide as the bench. */
export function Switched({ label, on, onChange }: { label: string; on: boolean; onChange: (on: boolean) => void }) {
  return (
    <Box component="label" sx={{ display: "flex", alignItems: "center", minHeight: 44, cursor: "pointer" }}>
      <Box sx={{ flex: 1 }}><Typography variant="h3" component="span">{label}</Typography></Box>
      <Switch checked={on} onChange={(_, value) => onChange(value)} />
    </Box>
  );
}
