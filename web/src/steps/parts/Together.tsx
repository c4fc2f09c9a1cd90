import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { Edit, Piece } from "../../api/client";
import { useJoins } from "../../api/pieces";
import { Key } from "../../shell/GlanceBar";
import { useKeys } from "../../shell/useKeys";
import { Figure } from "../../theme/Figure";

/** Why the areas of the selected part are together, and one key to part the half least like the rest. */
export function Together({ piece, part, edit }: { piece: Piece; part: string | null; edit: (edit: Edit) => Promise<unknown> }) {
  const { data: joins = [] } = useJoins(piece);
  const join = joins.find((j) => j.part === part);
  const split = join?.split ?? null;
  useKeys("u", () => { if (split) void edit(split); });
  const name = piece.recipe.parts.find((p) => p.id === part)?.name;
  if (!join || !name) return null;
  return (
    <Box role="group" aria-label="Why together" sx={{ display: "grid", gridTemplateColumns: "1fr auto", alignItems: "center", columnGap: 1, mb: 1 }}>
      <Typography variant="body2"><b>{name}</b> has <Figure size={12}>{join.areas}</Figure> areas: {join.reason}.</Typography>
      <Button variant="outlined" disabled={!split} onClick={() => split && void edit(split)}>Split in two<Key>U</Key></Button>
    </Box>
  );
}
