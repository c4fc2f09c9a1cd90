import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { type ReactNode } from "react";
import { toProblem, type Edit, type FigureOffer, type Piece } from "../../api/client";
import { useFigureOffer } from "../../api/pieces";
import { EditThumb } from "../../picture/EditThumb";
import { Key } from "../../ui/Key";
import { useKeys } from "../../ui/useKeys";
import { LINES } from "./keys";

interface Props {
  piece: Piece;
  edit: (edit: Edit) => Promise<unknown>;
}

/** The figure against its ground: what would make it whole, as a picture of the outcome. */
export function WholeFigure({ piece, edit }: Props) {
  const { data: offer, error } = useFigureOffer(piece);
  const change = offer?.edit ?? null;
  useKeys(LINES.figure, () => { if (change) void edit(change); });
  if (error) return <Typography variant="body2" role="alert">{toProblem(error).message}</Typography>;
  if (!offer) return null;
  if (piece.recipe.open_figure) {
    return (
      <Box sx={{ display: "flex", alignItems: "center", mb: 1 }}>
        <Typography variant="body2" sx={{ flex: 1 }}>{offer.words}</Typography>
        <Button size="small" onClick={() => void edit({ kind: "leave_figure_open", open: false })}>Look again</Button>
      </Box>
    );
  }
  if (!change) return offer.left ? <Typography variant="body2" sx={{ mb: 1 }}>{offer.left}</Typography> : null;
  return (
    <Box role="region" aria-label="The whole figure"
      sx={{ border: "2px dashed", borderColor: "primary.main", borderRadius: 1, p: 1.25, mb: 1.5 }}>
      <Typography variant="body1">{offer.words}</Typography>
      <Typography variant="body2">{howSure(offer)}{offer.left ? ` ${offer.left}` : ""}</Typography>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mt: 1, alignItems: "center", "& figure": { width: 104 } }}>
        <Outcome label="now"><EditThumb piece={piece} edit={same(piece)} kind="parts" draft={false}
          name="now" /></Outcome>
        <Outcome label="closed"><EditThumb piece={piece} edit={change} kind="parts" draft={false}
          name="closed" /></Outcome>
        <Box sx={{ display: "flex", flex: "1 1 136px", flexWrap: "wrap", gap: 0.5,
          "& button": { flex: "1 1 126px", px: 1 } }}>
          <Button variant="outlined" onClick={() => void edit(change)}>Close the figure<Key
            of={LINES.figure} /></Button>
          <Button color="inherit" onClick={() => void edit({ kind: "leave_figure_open", open: true })}>Leave it
            open</Button>
        </Box>
      </Box>
    </Box>
  );
}

function Outcome({ label, children }: { label: string; children: ReactNode }) {
  return (
    <Box component="figure" sx={{ m: 0, fontSize: 12.5, textAlign: "center" }}>
      {children}
      <figcaption>{label}</figcaption>
    </Box>
  );
}

/** An edit that leaves a piece as it is. */
function same(piece: Piece): Edit {
  return { kind: "grow_silhouette", growth: piece.recipe.silhouette_growth ?? 2 };
}

function howSure(offer: FigureOffer): string {
  const percent = Math.round(100 * offer.sure);
  return `Right in about ${percent} of 100 drawings like this.`;
}
