import Typography from "@mui/material/Typography";
import { Choice } from "../../ui/Choice";
import { ACTS, type Act } from "./acts";

export function Acts({ act, onChange }: { act: Act; onChange: (act: Act) => void }) {
  return (
    <>
      <Choice label="What the pen does" wide={3} value={act} onChange={onChange}
        options={ACTS.map(({ key, label, keyed }) => ({ value: key, label, keyed }))} />
      <Typography variant="body2" sx={{ mt: 0.75, minHeight: 36 }}>{ACTS.find((a) => a.key === act)?.hint}</Typography>
    </>
  );
}
