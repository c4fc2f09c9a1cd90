import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { storePicture, type Piece } from "../../api/client";
import { tellProblem } from "../../api/notice";
import { useChanges } from "../../api/pieces";
import { Figure } from "../../theme/Figure";
import { FileButton } from "../../ui/FileButton";

/** A drawing of details that lies on the first: printed with it, and bounding nothing. */
export function SecondDrawing({ piece }: { piece: Piece }) {
  const { edit } = useChanges(piece.id);
  const details = piece.recipe.details ?? null;
  const bring = (file: File | undefined) => {
    if (file) void storePicture(file, Math.max(piece.recipe.source.width, piece.recipe.source.height))
      .then((picture) => edit({ kind: "set_details", details: picture })).catch(tellProblem);
  };
  return (
    <>
      <Typography variant="h3" component="h2">Second drawing</Typography>
      <Typography variant="body2">
        {details
          ? <>Printed with the first, <Figure size={12}>{details.width} × {details.height} px</Figure>;
            it bounds nothing.</>
          : "Hatching, fur or lettering kept on a sheet of its own, in the same frame as the first."}
      </Typography>
      <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
        <FileButton label="Second drawing" accept="image/*,.svg" variant="outlined" fullWidth
          onFiles={([file]) => bring(file)}>
          {details ? "Another drawing" : "Bring in a drawing"}
        </FileButton>
        {details && <Button color="inherit" onClick={() => void edit({ kind: "set_details", details: null })}>Take it
          away</Button>}
      </Box>
    </>
  );
}
