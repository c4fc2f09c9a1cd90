import Box from "@mui/material/Box";
import ToggleButton from "@mui/material/ToggleButton";
import Typography from "@mui/material/Typography";
import { Key } from "../../shell/GlanceBar";
import { ACTS, type Act } from "./acts";

export function Acts({ act, onChange }: { act: Act; onChange: (act: Act) => void }) {
  return (
    <>
      <Box role="group" aria-label="What the pen does" sx={{ display: "grid", gridTemplateColumns: "repeat(3, 1fr)", gap: 0.75 }}>
        {ACTS.map(({ key, label, hotkey }) => (
          <ToggleButton key={key} value={key} selected={act === key} size="small" onClick={() => onChange(key)} sx={{ px: 0.5, whiteSpace: "nowrap" }}>
            {label}<Key>{hotkey.toUpperCase()}</Key>
          </ToggleButton>
        ))}
      </Box>
      <Typography variant="body2" sx={{ mt: 0.75, minHeight: 36 }}>{ACTS.find((a) => a.key === act)?.hint}</Typography>
    </>
  );
}
