import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { Edit, Piece } from "../../api/client";
import { usePalettes } from "../../api/pieces";
import { usePlace } from "../../api/series";
import { EditThumb } from "../../picture/EditThumb";
import { Key } from "../../ui/Key";
import { useKeys } from "../../ui/useKeys";
import { PARTS } from "./keys";

/** Parts that were suggested wait for a word, in one of several first palettes. */
export function Proposal({ piece, edit }: { piece: Piece; edit: (edit: Edit) => Promise<unknown> }) {
  const { parts, proposed } = piece.recipe;
  const { data: palettes = [] } = usePalettes(piece, Boolean(proposed));
  const take = (wanted: Edit) => void
    edit({ kind: "several", edits: [...(wanted.kind === "several" ? wanted.edits : []), { kind: "keep_parts" }] });
  useKeys(PARTS.palette, (key) => {
    const offer = palettes[PARTS.palette.on.indexOf(key)];
    if (proposed && offer) take(offer.edit);
  });
  useKeys(PARTS.keep, () => { if (proposed) void edit({ kind: "keep_parts" }); });
  // Parts that were carried over are asked about otherwise.
  const { data: place } = usePlace(piece.id, piece.revision);
  if (!proposed || place?.sources.length) return null;
  return (
    <Box role="status" sx={{ border: "2px dashed", borderColor: "primary.main", borderRadius: 1, p: 1.25, mb: 1.5 }}>
      <Typography variant="body1">{parts?.length === 1 ? "This part is" : `These ${parts?.length ?? 0} parts are`} a
        suggestion.</Typography>
      <Typography variant="body2">Take them in one of three palettes, keep them as they are, or change them by hand: any
        change keeps them too.</Typography>
      <Box role="group" aria-label="First palettes"
        sx={{ display: "grid", gridTemplateColumns: "repeat(3, 1fr)", gap: 1, my: 1 }}>
        {palettes.map((offer, k) => (
          <Button key={offer.name} color="inherit" onClick={() => take(offer.edit)}
            sx={{ display: "flex", flexDirection: "column", p: 0.5, minWidth: 0, fontSize: 12.5, borderRadius: 1 }}>
            <EditThumb piece={piece} edit={offer.edit} name={offer.name} />
            <span>{offer.name}<Key of={PARTS.palette} only={PARTS.palette.on[k]} /></span>
          </Button>
        ))}
      </Box>
      <Box sx={{ display: "flex", gap: 1 }}>
        <Button variant="contained" onClick={() => void edit({ kind: "keep_parts" })}>Keep<Key
          of={PARTS.keep} /></Button>
        <Button variant="outlined"
          onClick={() => void edit({ kind: "replace_parts", parts: [], claims: [], proposed: false })}>Start without
            parts</Button>
      </Box>
    </Box>
  );
}
