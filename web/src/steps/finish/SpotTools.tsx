import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import Typography from "@mui/material/Typography";
import { Key } from "../../shell/GlanceBar";
import { useKeys } from "../../shell/useKeys";
import { Rail } from "../../ui/Rail";
import type { Spots } from "./finish";
import type { SpotPen } from "./useSpots";

const SIZES = [4, 400] as const;

/** How spots are drawn on the picture. */
export function SpotTools({ pen, shape, onMake }: { pen: SpotPen; shape: Spots; onMake: (shape: Spots) => void }) {
  useKeys("w", () => pen.setPenned((on) => !on));
  useKeys("o", () => pen.setErases((on) => !on));
  useKeys("BracketLeft", () => pen.setSize((s) => Math.max(SIZES[0], Math.round(s / 1.2))), { useKey: false });
  useKeys("BracketRight", () => pen.setSize((s) => Math.min(SIZES[1], Math.round(s * 1.2))), { useKey: false });
  const strokes = shape.strokes ?? [];
  return (
    <Box role="group" aria-label="Spots" sx={{ mt: 1 }}>
      <Typography variant="body2" sx={{ mb: 0.5 }}>
        {strokes.length === 0 ? "Draw on the picture where the spot is to be." : `${strokes.length} ${strokes.length === 1 ? "stroke" : "strokes"} drawn. Go on drawing, or rub out.`}
      </Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1 }}>
        <ToggleButtonGroup exclusive fullWidth size="small" value={pen.penned} aria-label="How to draw" onChange={(_, v: boolean | null) => { if (v !== null) pen.setPenned(v); }}>
          <ToggleButton value={true}>Pen<Key>W</Key></ToggleButton>
          <ToggleButton value={false}>Outline</ToggleButton>
        </ToggleButtonGroup>
        <ToggleButtonGroup exclusive fullWidth size="small" value={pen.erases} aria-label="What to do" onChange={(_, v: boolean | null) => { if (v !== null) pen.setErases(v); }}>
          <ToggleButton value={false}>Add</ToggleButton>
          <ToggleButton value={true}>Rub out<Key>O</Key></ToggleButton>
        </ToggleButtonGroup>
      </Box>
      {pen.penned && <Rail label="Pen" min={SIZES[0]} max={SIZES[1]} value={pen.size} says={(v) => `${v} px`} onShow={pen.setSize} onMake={pen.setSize} />}
      {strokes.length > 0 && <Button size="small" onClick={() => onMake({ ...shape, strokes: strokes.slice(0, -1) })}>Take the last stroke out</Button>}
    </Box>
  );
}
