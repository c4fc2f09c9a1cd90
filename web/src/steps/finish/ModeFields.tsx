import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import Switch from "@mui/material/Switch";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { FinishDraft, FinishLayer, Piece, Point } from "../../api/client";
import { useMeta, useModes } from "../../api/pieces";
import { clips } from "../../modes/clips";
import { ModesOnPicture } from "../../modes/ModesOnPicture";
import { Figure } from "../../theme/Figure";
import { Line } from "./ShapeFields";

/** The blend mode, what it does to what lies below, and all modes beside each other. */
export function ModeFields({ piece, look, layer, onMake, onPlace }: {
  piece: Piece; look: string; layer: FinishLayer; onMake: (more: Partial<FinishDraft>) => void;
    onPlace: (place: Point | null) => void;
}) {
  const modes = useMeta().data?.modes ?? [];
  const seen = useModes(piece, look, layer.id).data;
  const [open, setOpen] = useState(false);
  const mine = seen?.find((s) => s.mode === layer.mode);
  return (
    <>
      <Line label="Mode">
        <Box sx={{ display: "grid", gridTemplateColumns: "1fr auto auto", columnGap: 1 }}>
          <Select value={layer.mode} inputProps={{ "aria-label": "Mode" }}
            onChange={(e) => onMake({ mode: e.target.value })}>
            {modes.map((mode) => <MenuItem key={mode} value={mode}>{mode}</MenuItem>)}
          </Select>
          <Button variant="outlined" size="small" aria-expanded={open} onClick={() => setOpen(!open)}>Compare</Button>
          <FormControlLabel sx={{ ml: 0, mr: 0 }} label={<Typography variant="body2">over the lines</Typography>}
            control={<Switch size="small" checked={layer.over_lines ?? false}
              onChange={(_, over_lines) => onMake({ over_lines })} />} />
        </Box>
      </Line>
      {mine && mine.step > 0 && (
        <Typography variant="body2" sx={{ ml: "96px", mb: 0.5 }} data-testid="layer-step">
          A step of <Figure>{mine.step.toFixed(1)}</Figure> where it is full
          {clips(mine) && <>; <Figure>{Math.round(100 * mine.clipped)} %</Figure> runs out of range{" "}
            <Button size="small" onPointerEnter={() => onPlace(mine.place as Point | null)}
              onPointerLeave={() => onPlace(null)} onFocus={() => onPlace(mine.place as Point | null)}
              onBlur={() => onPlace(null)} onClick={() => onPlace(mine.place as Point | null)}>Where</Button></>}
        </Typography>
      )}
      {open && <ModesOnPicture piece={piece} look={look} name={layer.id} mode={layer.mode ?? "normal"}
        onChoose={(mode) => onMake({ mode: mode as FinishDraft["mode"] })} />}
    </>
  );
}
