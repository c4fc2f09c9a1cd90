import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import Switch from "@mui/material/Switch";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { FinishDraft, FinishLayer, Piece, Point } from "../../api/client";
import { useFinishModes, useMeta } from "../../api/pieces";
import { Figure } from "../../theme/Figure";
import { clips } from "./modes";
import { Line } from "./ShapeFields";

const EDGE = 150; // px of the longer edge of a picture in a mode

/** The blend mode, what it does to what lies below, and all modes beside each other. */
export function ModeFields({ piece, look, layer, onMake, onPlace }: {
  piece: Piece; look: string; layer: FinishLayer; onMake: (more: Partial<FinishDraft>) => void;
    onPlace: (place: Point | null) => void;
}) {
  const modes = useMeta().data?.modes ?? [];
  const seen = useFinishModes(piece, look, layer).data;
  const [open, setOpen] = useState(false);
  const mine = seen?.find((s) => s.mode === layer.mode);
  const scale = EDGE / Math.max(piece.width, piece.height);
  const [width, height] = [Math.round(piece.width * scale), Math.round(piece.height * scale)];
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
      {open && (
        <Box role="radiogroup" aria-label="Modes on this picture" sx={{ display: "grid",
          gridTemplateColumns: `repeat(auto-fill, minmax(${Math.max(96, width)}px, 1fr))`, gap: 0.75, mb: 1 }}>
          {modes.map((mode, k) => {
            const one = seen?.find((s) => s.mode === mode);
            return (
              <ButtonBase key={mode} role="radio" aria-checked={mode === layer.mode}
                aria-label={one && clips(one) ? `${mode}, ${Math.round(100 * one.clipped)} % runs out of range` : mode}
                onClick={() => onMake({ mode: mode as FinishDraft["mode"] })}
                sx={{ display: "grid", justifyItems: "center", p: 0.5, borderRadius: 1, outline: mode === layer.mode
                  ? "2px dashed" : "none", outlineColor: "primary.main", "&:hover": { bgcolor: "action.hover" } }}>
                <Box aria-hidden sx={{ width, height, borderRadius: 0.5, backgroundColor: "divider",
                  backgroundImage: `url(/api/pieces/${piece.id}/finish-modes/${layer.id}/picture?edge=${EDGE}`
                    + `&look=${look}&revision=${piece.revision})`, backgroundPosition: `0 ${-k * height}px`,
                  backgroundSize: `${width}px ${modes.length * height}px` }} />
                <span style={{ fontSize: 12 }}>{mode}</span>
                <Typography variant="body2" sx={{ fontSize: 11, minHeight: 16 }}>
                  {one && (clips(one) ? `${Math.round(100 * one.clipped)} % out of range`
                    : `a step of ${one.step.toFixed(0)}`)}
                </Typography>
              </ButtonBase>
            );
          })}
        </Box>
      )}
    </>
  );
}
