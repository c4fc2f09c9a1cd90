import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import type { Series, SeriesEdit, useSeriesWork } from "../api/series";
import { ColourField } from "../colour/ColourField";
import { Rail } from "../ui/Rail";
import { Seam } from "../theme/Seam";
import { allParts, joined } from "./wall";

/** A colour or a light, changed in all pictures at once: seen on the wall before it is made. */
export function ChangeSide({ series, picked, work, onTry }: { series: Series; picked: number[];
  work: ReturnType<typeof useSeriesWork>; onTry: (edit: SeriesEdit | null) => void }) {
  const parts = allParts(series.members);
  const [part, setPart] = useState(parts[0] ?? "");
  const [base, setBase] = useState("#8a5a44");
  const [azimuth, setAzimuth] = useState(128);
  const [scene, setScene] = useState("");
  const [edit, setEdit] = useState<SeriesEdit | null>(null);
  useEffect(() => onTry(edit), [edit, onTry]);
  const path = series.members.flatMap((m) => m.parts).find((p) => joined(p) === part);
  const concerned = series.members.filter((m) => edit?.change ? m.parts.some((p) => joined(p) === part)
    : !edit?.scene || m.scene === edit.scene).length;
  const recolour = (colour: string) => {
    setBase(colour);
    if (path) setEdit({ change: { part: path, base: colour, material: null }, scene: null, azimuth: null,
      pieces: picked });
  };
  const relight = (degrees: number) => {
    setAzimuth(degrees);
    setEdit({ change: null, scene: scene || null, azimuth: degrees, pieces: picked });
  };
  return (
    <>
      <Typography variant="body2" sx={{ mb: 1.5 }}>What you choose is shown on {picked.length > 0
        ? "the chosen pictures" : "all pictures"} at once; nothing is changed until you say so.</Typography>
      <Typography variant="h2" sx={{ mb: 1 }}>A colour</Typography>
      <TextField select fullWidth label="Part" value={part}
        onChange={(e) => { setPart(e.target.value); setEdit(null); }} disabled={parts.length === 0} sx={{ mb: 1.5 }}>
        {parts.map((p) => <MenuItem key={p} value={p}>{p}</MenuItem>)}
      </TextField>
      <ColourField label="Its base colour" value={base} onShow={recolour} onMake={recolour}
        onCancel={() => undefined} />
      <Seam />
      <Typography variant="h2" sx={{ mb: 1 }}>The light</Typography>
      {(series.shared.scenes ?? []).length > 0 && <TextField select fullWidth label="In" value={scene}
        onChange={(e) => setScene(e.target.value)} sx={{ mb: 1.5 }}
        slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}>
        <MenuItem value="">all scenes</MenuItem>
        {(series.shared.scenes ?? []).map((s) => <MenuItem key={s.name} value={s.name}>{s.name}</MenuItem>)}
      </TextField>}
      <Rail label="From" value={azimuth} min={0} max={360} says={(v) => `${Math.round(v)}°`} onShow={setAzimuth}
        onMake={relight} />
      <Seam />
      <Box sx={{ display: "flex", gap: 1, alignItems: "center" }}>
        <Button variant="contained" disabled={!edit || work.job !== null} onClick={() => {
          if (edit) void work.change({ ...edit, pieces: picked }).then(() => setEdit(null));
        }}>{edit ? `Change in ${picked.length || concerned} ${(picked.length || concerned) === 1 ? "picture"
          : "pictures"}` : "Change"}</Button>
        <Button color="inherit" disabled={!edit} onClick={() => setEdit(null)}>Leave it</Button>
      </Box>
      <Typography variant="body2" sx={{ mt: 1 }}>Each picture can be undone by itself.</Typography>
    </>
  );
}
