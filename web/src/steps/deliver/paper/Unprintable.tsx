import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Piece, Schemas } from "../../../api/client";
import { useChanges, useUnprintable } from "../../../api/pieces";
import { Figure } from "../../../theme/Figure";

type Line = Schemas["Unprintable"];
const FEW = 6;

/** Colours that the press cannot print, each with the nearest that it can. */
export function Unprintable({ piece }: { piece: Piece }) {
  const { data: lines } = useUnprintable(piece);
  const { edit } = useChanges(piece.id);
  const [all, setAll] = useState(false);
  if (!lines) return <Typography variant="body2" sx={{ mt: 1 }}>Looking for what cannot be printed …</Typography>;
  const take = (line: Line) => void edit(line.part ? { kind: "change_part", part: line.part, base: line.nearest }
    : { kind: "set_background", colour: line.nearest });
  return (
    <Box component="section" aria-label="Colours that cannot be printed" sx={{ mt: 1 }}>
      <Typography variant="body2" sx={{ mb: 0.5 }}>{lines.length === 0 ? "Every colour can be printed."
        : <><Figure size={12}>{lines.length}</Figure> {lines.length === 1 ? "colour cannot" : "colours cannot"} be
          printed: wanted, printed, the nearest (CIEDE2000 from what is wanted).</>}</Typography>
      {(all ? lines : lines.slice(0, FEW)).map((line) => (
        <Box key={`${line.part} ${line.seen_in}`} sx={{ display: "flex", alignItems: "center", gap: 1, minHeight: 36 }}>
          <Box aria-hidden sx={{ display: "flex", border: 1, borderColor: "divider", flexShrink: 0 }}>
            {[line.wanted, line.printed, line.nearest].map((c, k) => <Box key={k} title={c} sx={{ width: 22, height: 26,
              bgcolor: c }} />)}
          </Box>
          <Typography variant="body1" noWrap sx={{ flex: 1, minWidth: 0 }}>{line.name}{line.base ? ""
            : `, ${line.seen_in.toLowerCase()}`}</Typography>
          <Figure>{line.distance.toFixed(1)} → {line.least.toFixed(1)}</Figure>
          {line.base ? <Button color="inherit" onClick={() => take(line)}
            aria-label={`Take the nearest for ${line.name}`}>Take</Button> : <Box sx={{ width: 64 }} />}
        </Box>
      ))}
      {lines.length > FEW && <Button color="inherit" onClick={() => setAll(!all)}>{all ? "Fewer"
        : `All ${lines.length}`}</Button>}
    </Box>
  );
}
