import { useEffect, useState } from "react";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ToggleButton from "@mui/material/ToggleButton";
import Typography from "@mui/material/Typography";
import type { Piece, Proposal } from "../../api/client";
import { usePassNames } from "../../api/pieces";
import { Figure } from "../../theme/Figure";
import type { Live } from "./live";

const COLUMNS = "minmax(90px, 1.2fr) 1fr 44px 1fr 44px 48px";

/** What a proposal gives each part, and the way to use it. */
export function Proposed({ piece, proposal, live, use, several, shown = false, onLook }: {
  piece: Piece; proposal: Proposal; live: Live; use: string;
  /** Rows of more than one pass. */
  several?: boolean;
  /** Shown in the picture from the start. */
  shown?: boolean;
  /** It is being shown, right of the seam, or no longer. */
  onLook: (on: boolean) => void;
}) {
  const passNames = usePassNames();
  const [looking, setLooking] = useState(shown);
  useEffect(() => {
    onLook(looking);
    if (looking) live.show(proposal.edit);
    else live.drop();
  }, [looking, proposal, live, onLook]);
  useEffect(() => () => { onLook(false); live.drop(); }, [live, onLook]);
  const name = (id: string) => piece.recipe.parts.find((p) => p.id === id)?.name ?? id;
  return (
    <>
      <Typography variant="body1" role="status" sx={{ my: 1 }}>{proposal.said}</Typography>
      <Box sx={{ display: "flex", gap: 1, mb: 1 }}>
        <Button variant="contained" onClick={() => { setLooking(false); void live.make(proposal.edit); }}>{use}</Button>
        <ToggleButton value="look" selected={looking} onChange={() => setLooking(!looking)}>Beside the
          present</ToggleButton>
      </Box>
      {proposal.rows.length > 0 && (
        <Box role="table" aria-label="What each part gets">
          <Box role="row" sx={{ display: "grid", gridTemplateColumns: COLUMNS, gap: 0.75, fontSize: 11.5,
            color: "text.secondary", mb: 0.25 }}>
            <span role="columnheader">Part</span><span role="columnheader">now</span><span
              role="columnheader">step</span>
            <span role="columnheader">then</span><span role="columnheader">step</span><span
              role="columnheader">off by</span>
          </Box>
          {proposal.rows.map((r) => (
            <Box role="row" key={`${r.part}${r.name}`}
              sx={{ display: "grid", gridTemplateColumns: COLUMNS, gap: 0.75, alignItems: "center", mb: 0.5 }}>
              <Typography role="rowheader" variant="body2" noWrap title={name(r.part)} sx={{ color: "text.primary" }}>
                {name(r.part)}{several && `, ${passNames[r.name]?.toLowerCase()}`}{r.own && <Box component="span"
                  sx={{ color: "primary.main" }}> own {r.name}</Box>}
              </Typography>
              <Box role="cell" title={r.before}
                sx={{ height: 24, borderRadius: 0.5, bgcolor: r.before, border: 1, borderColor: "divider" }} />
              <Box role="cell"><Figure size={12}>{r.step_before.toFixed(1)}</Figure></Box>
              <Box role="cell" title={r.after}
                sx={{ height: 24, borderRadius: 0.5, bgcolor: r.after, border: 1, borderColor: "divider" }} />
              <Box role="cell"><Figure size={12}>{r.step_after.toFixed(1)}</Figure></Box>
              <Box role="cell"><Figure size={12}>{r.off.toFixed(1)}</Figure></Box>
            </Box>
          ))}
        </Box>
      )}
    </>
  );
}
