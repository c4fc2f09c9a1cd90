import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Piece, Schemas } from "../../api/client";
import { Figure } from "../../theme/Figure";

type Drawing = Schemas["Drawing"];

/** Every version of the drawing, the newest first, each with its remark. */
export function VersionList({ piece, onUse, onRemark }: {
  piece: Piece; onUse: (number: number) => void; onRemark: (number: number, remark: string) => void;
}) {
  const { source, other_drawings: others = [] } = piece.recipe;
  const all: Drawing[] = [source, ...others].sort((a, b) => (b.number ?? 1) - (a.number ?? 1));
  const first = { width: source.width, height: source.height };
  return (
    <>
      <Typography variant="h3" component="h2">Versions of the drawing <Figure>{all.length}</Figure></Typography>
      <Box component="ul" aria-label="Versions" sx={{ listStyle: "none", m: 0, p: 0, mt: 0.5 }}>
        {all.map((d) => {
          const number = d.number ?? 1;
          const used = number === (source.number ?? 1);
          return (
            <Box component="li" key={number} aria-current={used || undefined}
              sx={{ display: "grid", gridTemplateColumns: "28px minmax(0, 1fr) auto", columnGap: 1,
                alignItems: "center", minHeight: 52, borderTop: 1, borderColor: "divider", py: 0.75 }}>
              <Figure size={17}>{number}</Figure>
              <Box sx={{ minWidth: 0 }}>
                <Remark key={d.remark} number={number} saved={d.remark ?? ""}
                  onSave={(text) => onRemark(number, text)} />
                <Typography variant="body2" sx={{ fontSize: 12 }}>{number === 1 ? "as it came in" : laid(d)}, <Figure
                  size={11.5}>{(d.laid ?? first).width} × {(d.laid ?? first).height} px</Figure></Typography>
              </Box>
              {used ? <Typography variant="body2" sx={{ px: 1 }}>in use</Typography>
                : <Button onClick={() => onUse(number)} aria-label={`Use version ${number}`}>Use</Button>}
            </Box>
          );
        })}
      </Box>
    </>
  );
}

function Remark({ number, saved, onSave }: { number: number; saved: string; onSave: (text: string) => void }) {
  const [text, setText] = useState(saved);
  const save = () => { if (text.trim() !== saved) onSave(text.trim()); };
  return (
    <TextField fullWidth size="small" variant="standard" placeholder="Remark" value={text}
      onChange={(e) => setText(e.target.value)} onBlur={save}
      onKeyDown={(e) => {
        if (e.key === "Enter") save();
        if (e.key === "Escape") setText(saved);
      }}
      slotProps={{ htmlInput: { "aria-label": `Remark on version ${number}`, maxLength: 400 } }} />
  );
}

/** How a version lies on the first, in words. */
function laid(drawing: Drawing): string {
  if (!drawing.laid) return "lies as the first does";
  const [[a, , dx], [c, , dy]] = drawing.laid.matrix;
  const scale = Math.hypot(a, c);
  const turn = (Math.atan2(c, a) * 180) / Math.PI;
  if (scale === 1 && turn === 0) return `shifted by ${dx}, ${dy} px`;
  return `turned ${turn.toFixed(1)}°, at ${(100 * scale).toFixed(1)} %`;
}
