import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { Edit, Piece } from "../../api/client";

/** Parts that were suggested wait for a word. */
export function Proposal({ piece, edit }: { piece: Piece; edit: (edit: Edit) => Promise<unknown> }) {
  const { parts, proposed } = piece.recipe;
  if (!proposed) return null;
  return (
    <Box role="status" sx={{ border: "2px dashed", borderColor: "primary.main", borderRadius: 1, p: 1.25, mb: 1.5 }}>
      <Typography variant="body1">{parts?.length === 1 ? "This part is" : `These ${parts?.length ?? 0} parts are`} a suggestion.</Typography>
      <Typography variant="body2">Keep it and rename, or change it by hand: any change keeps it too.</Typography>
      <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
        <Button variant="contained" onClick={() => void edit({ kind: "keep_parts" })}>Keep</Button>
        <Button variant="outlined" onClick={() => void edit({ kind: "replace_parts", parts: [], claims: [], proposed: false })}>Start without parts</Button>
      </Box>
    </Box>
  );
}
