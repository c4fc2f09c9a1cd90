import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { AsDrawn, Inking, LineStretch, Piece } from "../../api/client";
import { useInk } from "../../api/pieces";
import { PictureView } from "../../picture/PictureView";
import { Workplace } from "../../shell/Workplace";
import { Figure } from "../../theme/Figure";
import { Seam } from "../../theme/Seam";
import { Choice } from "../../ui/Choice";
import { perCent, Rail } from "../../ui/Rail";
import type { SideProps } from "../StepProps";
import { useLiveEdit } from "../useLiveEdit";
import { DrawingFields } from "./DrawingFields";
import { drawBeads, nearestStretch, stretchKey } from "./stretches";
import { RuleFields } from "./RuleFields";
import { StretchList } from "./StretchList";
import { Switched } from "./Switched";

const MODES = [{ value: "normal", label: "Laid on" }, { value: "multiply", label: "Multiplied" }] as const;

const PRINTED = [{ value: "lines", label: "Its lines" }, { value: "drawing", label: "The drawing as it is" }] as const;
const widths = (v: number) => v === 0 ? "none" : `${v.toFixed(2)} widths`;
const AS_IT_IS: AsDrawn = { tint: "#000000", paper: null, doubled: false, hues: false };

/** The colours of the lines, or the drawing itself with its tones. */
export function LinesSide({ piece, tabs }: SideProps) {
  const live = useLiveEdit(piece);
  const { data: report } = useInk(piece);
  const [drag, setDrag] = useState<Inking | null>(null);
  const [chosen, choose] = useState<string | null>(null);
  const [pointed, point] = useState<string | null>(null);
  const ink = drag ?? piece.recipe.ink;
  const stretches = report?.stretches ?? [];
  const lit = stretches.find((s) => stretchKey(s) === pointed);
  const show = (more: Partial<Inking>) => {
    const next = { ...ink, ...more };
    setDrag(next);
    live.show({ kind: "set_ink", ink: next });
  };
  const make = (next: Inking) => {
    setDrag(next);
    void live.make({ kind: "set_ink", ink: next }).finally(() => setDrag(null));
  };
  const rail = (name: "amount" | "blend" | "opacity" | "focus" | "weight" | "overlap") => ({
    value: ink[name], onShow: (v: number) => show({ [name]: v }),
      onMake: (v: number) => make({ ...ink, [name]: v }),
  });
  return (
    <Workplace title="Finish"
      lead={"Each line takes the colour of what it bounds, much darker, and lighter where it faces the light; "
        + "it may be heavier in shade, and where a part lies over another."}
      picture={
        <PictureView piece={piece} kind="picture" overlay={(ctx, zoom) => {
          for (const s of stretches) if (s.mend) drawBeads(ctx, s, zoom, false);
          if (lit) drawBeads(ctx, lit, zoom, true);
        }} tool={{ cursor: "pointer", down: (x, y) => choose(nearestStretch(stretches, x, y,
          Math.max(piece.width, piece.height) / 30)) }} />
      }>
      {tabs}
      <Choice label="What is printed" wide value={ink.drawing ? "drawing" : "lines"} options={PRINTED}
        sx={{ mb: 0.5 }}
        onChange={(what) => make({ ...ink, drawing: what === "drawing" ? AS_IT_IS : null })} />
      {ink.drawing
        ? <DrawingFields drawing={ink.drawing} onShow={(drawing) => show({ drawing })}
          onCancel={() => { setDrag(null); live.drop(); }}
          onMake={(drawing) => make({ ...ink, drawing })} />
        : <Switched label="Coloured lines" on={ink.on} onChange={(on) => make({ ...ink, on })} />}
      {ink.on && !ink.drawing && (
        <>
          <Rail label="Amount" {...rail("amount")} min={0} max={1} step={0.01} says={perCent} />
          <RuleFields piece={piece} ink={ink} onShow={show} onMake={(more) => make({ ...ink, ...more })} />
          {piece.recipe.focus.length > 0
            ? <Rail label="At focus" {...rail("focus")} min={0} max={1} step={0.01}
              says={(v) => v === 0 ? "as elsewhere" : `${perCent(v)} darker`} />
            : <Typography variant="body2" sx={{ my: 0.5 }}>Say in Layers where the eye should go, and lines can be
              darker there.</Typography>}
          <Rail label="Blend" {...rail("blend")} min={0} max={6} step={0.1} says={widths} />
        </>
      )}
      <Rail label="Opacity" {...rail("opacity")} min={0} max={1} step={0.01} says={perCent} />
      {!ink.drawing && (
        <>
          <Rail label="Weight" {...rail("weight")} min={0} max={1} step={0.05} says={widths} />
          <Rail label="Overlap" {...rail("overlap")} min={0} max={1} step={0.05} says={widths} />
        </>
      )}
      {!ink.drawing && <Choice label="How lines lie on the picture" wide value={ink.mode} options={MODES}
        onChange={(mode) => make({ ...ink, mode })} />}
      <Seam />
      {ink.drawing ? (
        <Typography variant="body2">The drawing is multiplied over everything, with every tone that it has. The lines
          that were found in it only bound the parts.</Typography>
      ) : (
        <Faint piece={piece} stretches={stretches} measured={report !== undefined} least={report?.least ?? 8}
          onMend={report?.mended ? () => make(report.mended ?? ink) : null} />
      )}
      <StretchList piece={piece} stretches={stretches} live={live} chosen={chosen} onChoose={choose} onPoint={point} />
    </Workplace>
  );
}

/** Lines that cannot be told from what they bound. */
function Faint({ piece, stretches, measured, least, onMend }: {
  piece: Piece; stretches: LineStretch[]; measured: boolean; least: number; onMend: (() => void) | null;
}) {
  const faint = stretches.filter((s) => s.mend);
  if (piece.recipe.parts.length === 0) return <Typography variant="body2">Lines take their colours from parts; there are
    none yet.</Typography>;
  if (!measured) return <Typography variant="body2" role="status">Measuring the lines …</Typography>;
  if (faint.length === 0) return <Typography variant="body2" sx={{ mb: 1 }}>Every line stands off both of its sides by
    a step of <Figure>{least}</Figure> or more.</Typography>;
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "1fr auto", alignItems: "center", columnGap: 1, mb: 1 }}>
      <Typography variant="body2"><b>{faint.length === 1 ? "One line" : `${faint.length} lines`}</b>, ringed in the
        picture, {faint.length === 1 ? "is" : "are"} less than a step of <Figure>{least}</Figure> from a
        side.</Typography>
      {onMend && <Button variant="outlined" onClick={onMend}>Mend {faint.length === 1 ? "it" : "all"}</Button>}
    </Box>
  );
}
