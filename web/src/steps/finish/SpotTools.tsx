import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Choice } from "../../ui/Choice";
import { useKeys } from "../../ui/useKeys";
import { PenSize } from "../../ui/PenSize";
import type { Spots } from "./finish";
import { SPOTS } from "./keys";
import type { SpotPen } from "./useSpots";

/** How spots are drawn on the picture. */
export function SpotTools({ pen, shape, onMake }: { pen: SpotPen; shape: Spots; onMake: (shape: Spots) => void }) {
  useKeys(SPOTS.kind, () => pen.setPenned((on) => !on));
  useKeys(SPOTS.erase, () => pen.setErases((on) => !on));
  const strokes = shape.strokes ?? [];
  return (
    <Box role="group" aria-label="Spots" sx={{ mt: 1 }}>
      <Typography variant="body2" sx={{ mb: 0.5 }}>
        {strokes.length === 0 ? "Draw on the picture where the spot is to be."
          : `${strokes.length} ${strokes.length === 1 ? "stroke" : "strokes"} drawn. Go on drawing, or rub out.`}
      </Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1 }}>
        <Choice label="How to draw" wide value={pen.penned} onChange={pen.setPenned}
          options={[{ value: true, label: "Pen", keyed: SPOTS.kind }, { value: false, label: "Outline" }]} />
        <Choice label="What to do" wide value={pen.erases} onChange={pen.setErases}
          options={[{ value: false, label: "Add" }, { value: true, label: "Rub out", keyed: SPOTS.erase }]} />
      </Box>
      {pen.penned && <PenSize size={pen.size} onSize={pen.setSize} keys={SPOTS} />}
      {strokes.length > 0 && <Button size="small"
        onClick={() => onMake({ ...shape, strokes: strokes.slice(0, -1) })}>Take the last stroke out</Button>}
    </Box>
  );
}
