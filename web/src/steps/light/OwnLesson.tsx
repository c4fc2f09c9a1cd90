import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState, type ReactNode } from "react";
import { api, exactly, type PassKey, type Piece, type Schemas } from "../../api/client";
import { tell, tellProblem } from "../../api/notice";
import { useLightReport, useMeta } from "../../api/pieces";
import { DrawTools, MarkWords, useDrawing } from "../../learn/drawing";
import { PictureView } from "../../picture/PictureView";
import { Workplace } from "../../shell/Workplace";
import { Figure } from "../../theme/Figure";
import type { LiveEdit } from "../useLiveEdit";
import { describeLight } from "./ball";

const MINE = "rgba(38,34,60,.5)";

type Result = Schemas["PracticeResult"];

/** One's own piece as a lesson: a part is shaded before what Wardrobe draws is seen; the better one is kept. */
export function OwnLesson({ piece, live, tabs }: { piece: Piece; live: LiveEdit; tabs: ReactNode }) {
  const labels = useMeta().data?.passes ?? {};
  const names = (useLightReport(piece).data?.passes ?? []).map((p) => p.name).filter((name) => name !== "ground");
  const parts = piece.recipe.parts.filter((p) => !p.scenery);
  const [part, setPart] = useState(parts[0]?.id ?? "");
  const [chosen, setName] = useState("shade");
  const [result, setResult] = useState<Result | null>(null);
  const [solved, setSolved] = useState(false);
  const [busy, setBusy] = useState(false);
  const drawing = useDrawing(piece, result === null && !busy, MINE);
  const name = names.includes(chosen) ? chosen : (names[0] ?? "shade");
  const again = () => {
    setResult(null);
    setSolved(false);
    drawing.setStrokes([]);
  };
  const check = async () => {
    setBusy(true);
    try {
      setResult(await exactly<"/api/pieces/{piece_id}/practice", "post">(api.POST("/api/pieces/{piece_id}/practice", {
        params: { path: { piece_id: piece.id } }, body: { seen: piece.revision, part, name: name as PassKey,
          strokes: drawing.strokes.map(({ points, widths, erases }) => ({ stroke: { points, widths }, erases })) } })));
      setSolved(true);
    } catch (problem) {
      tellProblem(problem);
    } finally {
      setBusy(false);
    }
  };
  const keep = async () => {
    if (!result?.edit) return;
    if (await live.make(result.edit)) tell("Yours is kept, as touch-ups. Undo takes them back.");
    again();
  };
  const { azimuth, height } = piece.recipe.light;
  const label = (labels[name] ?? name).toLowerCase();
  return (
    <Workplace title="Practise"
      lead="Draw it before you see it. What Wardrobe draws is the measure; the better is kept."
      picture={<PictureView piece={piece} kind={solved ? "picture" : "bases"} tool={drawing.tool}
        overlay={(ctx, zoom) => (solved ? drawing.compare(ctx, zoom, result?.pieces ?? [])
          : drawing.paint(ctx, zoom))} />}>
      {tabs}
      {parts.length === 0 ? <Typography variant="body2">There are no parts yet: cut the figure in Parts
        first.</Typography> : (
          <>
            <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1, mt: 1 }}>
              <TextField select label="Part" value={part} onChange={(e) => { setPart(e.target.value); again(); }}>
                {parts.map((p) => <MenuItem key={p.id} value={p.id}>{p.name}</MenuItem>)}
              </TextField>
              <TextField select label="Pass" value={name} onChange={(e) => { setName(e.target.value); again(); }}>
                {names.map((key) => <MenuItem key={key} value={key}>{labels[key] ?? key}</MenuItem>)}
              </TextField>
            </Box>
            <Typography variant="body1" sx={{ mt: 1 }}>The light stands {describeLight(azimuth, height)}, {Math.round(
              height)}° above the picture. Draw the {label} of {parts.find((p) => p.id === part)?.name}.</Typography>
          </>
        )}
      {!result && <DrawTools drawing={drawing} busy={busy} off={drawing.strokes.length === 0}
        onCheck={() => void check()} />}
      {result && (
        <Box role="status" sx={{ mt: 2, pt: 1.5, borderTop: "2px dashed", borderColor: "primary.main" }}>
          <Box sx={{ display: "flex", alignItems: "baseline", gap: 1 }}>
            <Figure size={34}>{Math.round(result.score)}</Figure>
            <Typography variant="body1">of 100 by what Wardrobe draws on the form that it guesses.</Typography>
          </Box>
          <Box component="ul" aria-label="What was measured" sx={{ pl: 2.25, my: 1 }}>
            {result.said.map((line) => <li key={line}><Typography variant="body1">{line}</Typography></li>)}
          </Box>
          <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1 }}>
            <Button variant="outlined" onClick={() => setSolved((s) => !s)}>{solved ? "Show mine" : "Show Wardrobe’s"}
            </Button>
            <Button variant="outlined" disabled={!result.edit} onClick={() => void keep()}>Keep mine</Button>
            <Button variant="contained" onClick={again}>Again</Button>
          </Box>
          {solved && result.pieces.length > 0 && <MarkWords />}
        </Box>
      )}
    </Workplace>
  );
}
