import Box from "@mui/material/Box";
import Slider from "@mui/material/Slider";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useCut } from "../../api/pieces";
import { ColourField } from "../../colour/ColourField";
import { PictureView } from "../../picture/PictureView";
import type { StepProps } from "../StepProps";
import { Workplace } from "../../shell/Workplace";
import { Figure } from "../../theme/Figure";
import { Seam } from "../../theme/Seam";
import { useLiveEdit } from "../useLiveEdit";

const KINDS: Record<string, string> = {
  "transparent": "Lines on a transparent ground: their opacity is taken as ink.",
  "black on white": "Dark lines on white: darkness is taken as ink.",
  "grey scan": "A scan on toned paper: the paper's tone is taken as 0, the full ink as 1.",
};

export function LinesStep({ piece }: StepProps) {
  const { data: cut } = useCut(piece);
  const live = useLiveEdit(piece, "lines");
  const saved = piece.recipe.lines;
  const [drag, setDrag] = useState<number | null>(null);
  const threshold = drag ?? saved.threshold;
  const { width, height } = piece.recipe.source;
  return (
    <Workplace title="Lines" lead="How much of the drawing is ink. Drag the seam on the picture to compare."
      picture={<PictureView piece={piece} kind="lines" compare="before" />}>
      <Typography variant="h3" id="threshold">Ink threshold <Figure>{Math.round(threshold * 100)} %</Figure></Typography>
      <Slider aria-labelledby="threshold" value={threshold} min={0.05} max={0.95} step={0.01} sx={{ mx: 1, width: "calc(100% - 16px)" }}
        marks={[{ value: 0.5, label: "as drawn" }]}
        onChange={(_, v) => { setDrag(v); live.show({ kind: "set_threshold", threshold: v }); }}
        onChangeCommitted={(_, v) => void live.make({ kind: "set_threshold", threshold: v }).then(() => setDrag(null))} />
      <Typography variant="body2" sx={{ mt: 0.5 }}>
        Lower it to strengthen pale lines; raise it to drop smudges. Areas are cut where ink is half covered or more.
      </Typography>
      <Seam />
      <ColourField label="Line colour" value={saved.colour}
        onShow={(colour) => live.show({ kind: "set_line_colour", colour })}
        onMake={(colour) => void live.make({ kind: "set_line_colour", colour })} onCancel={live.drop} />
      <Seam />
      <Typography variant="h3">What came in</Typography>
      <Typography variant="body2" sx={{ mb: 1 }}>{cut ? KINDS[cut.lines.kind] : "Measuring the lines …"}</Typography>
      <Box component="dl" sx={{ display: "grid", gridTemplateColumns: "1fr auto", rowGap: 0.75, m: 0, "& dd": { m: 0, textAlign: "right" } }}>
        <dt>Size</dt><dd><Figure>{width} × {height} px</Figure></dd>
        <dt>Median line width</dt><dd><Figure>{cut ? cut.lines.line_width.toFixed(1) : "–"} px</Figure></dd>
        <dt>Closed areas</dt><dd><Figure>{cut?.lines.areas ?? "–"}</Figure></dd>
        <dt>Specks given to their neighbours</dt><dd><Figure>{cut?.lines.specks ?? "–"}</Figure></dd>
      </Box>
    </Workplace>
  );
}
