import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Typography from "@mui/material/Typography";
import type { Wishes } from "../api/client";

export const USUAL: Wishes = { areas: true, follow: false, shapes: true, colours: true, finish: true, gone: true,
  rest: false };

const KINDS: [keyof Wishes, string, string][] = [
  ["areas", "Areas", "Flats that cover other areas than before, or part of one: those change hands"],
  ["shapes", "Shapes", "Shade and light that were painted or erased, as touch-ups"],
  ["colours", "Colours", "Of bases and passes"],
  ["finish", "Finish", "Layers of the finish that were renamed, moved, weakened or painted on"],
];

interface Props {
  wishes: Wishes;
  onWishes: (wishes: Wishes) => void;
  layers: boolean;
  onLayers: (on: boolean) => void;
}

/** What of a file comes home. */
export function WishList({ wishes, onWishes, layers, onLayers }: Props) {
  const toggle = (key: keyof Wishes) => () => onWishes({ ...wishes, [key]: !wishes[key] });
  const box = (key: keyof Wishes, label: string, why: string, off = false) => (
    <FormControlLabel key={key} title={why} disabled={off}
      control={<Checkbox checked={wishes[key] && !off} onChange={toggle(key)} />} label={label} />
  );
  return (
    <Box component="fieldset" sx={{ border: 0, m: 0, mt: 1, p: 0, minWidth: 0 }}>
      <Typography variant="h3" component="legend" sx={{ p: 0 }}>What comes home</Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: "repeat(3, 1fr)" }}>
        {KINDS.map(([key, label, why]) => box(key, label, why))}
        <FormControlLabel title="Layers that the piece does not have"
          control={<Checkbox checked={layers} onChange={(_, on) => onLayers(on)} />} label="New layers" />
      </Box>
      <Box sx={{ display: "flex", flexDirection: "column" }}>
        {box("follow", "Work out shade anew on areas that change hands", "Otherwise it stays as it was painted",
          !wishes.areas)}
        {box("gone", "Hide finish layers that are not in the file", "If that brings the picture closer to the file's")}
        {box("rest", "Keep every pixel: what is left becomes one layer over all",
          "It does not follow other colours and lights")}
      </Box>
    </Box>
  );
}
