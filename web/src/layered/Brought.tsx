import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import type { BroughtHome, Piece } from "../api/client";
import { Figure } from "../theme/Figure";

interface Props {
  came: BroughtHome;
  piece: Piece;
  busy: boolean;
  onRest: () => void;
}

/** What is another in the piece now, what could not be taken over, and what still differs. */
export function Brought({ came, piece, busy, onRest }: Props) {
  const shapes = came.touch_ups > 0 ? [`${came.touch_ups} ${came.touch_ups === 1 ? "touch-up was" : "touch-ups were"} `
    + "made of what was painted."] : [];
  const lines = [...came.changes, ...shapes];
  return (
    <Box role="status" sx={{ my: 1, p: 1.25, border: 1, borderColor: "divider", borderRadius: 1 }}>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1 }}>
        <Typography variant="h3" component="h2" sx={{ flex: 1 }}>{lines.length > 0 ? "It came home"
          : "Nothing differs"}</Typography>
        <Button component={Link} to={`/piece/${piece.id}/light`} color="inherit">Go to the piece</Button>
      </Box>
      <Box component="ul" aria-label="What is another now" sx={{ m: 0, pl: 2.25, maxHeight: 220, overflow: "auto" }}>
        {lines.map((line) => <li key={line}><Typography variant="body2">{line}</Typography></li>)}
      </Box>
      {came.notes.map((note) => <Typography key={note} variant="body2" sx={{ mt: 0.5,
        color: "text.secondary" }}>{note}</Typography>)}
      {came.left === 0
        ? <Typography variant="body2" sx={{ mt: 0.5 }}>The piece is the file’s picture, to a level in 255.</Typography>
        : (
          <Box sx={{ display: "flex", alignItems: "center", gap: 1, mt: 0.5 }}>
            <Typography variant="body2" sx={{ flex: 1 }}><Figure>{came.left.toLocaleString("en")}</Figure> px still
              differ from the file.</Typography>
            <Button variant="outlined" disabled={busy} onClick={onRest}>Keep them as a layer</Button>
          </Box>
        )}
      {lines.length > 0 && <Typography variant="body2" sx={{ mt: 0.5 }}>Undo in the piece takes all of it
        back.</Typography>}
    </Box>
  );
}
