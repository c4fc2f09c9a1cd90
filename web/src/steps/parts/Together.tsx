import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { Edit, Part, Piece } from "../../api/client";
import { useCut, useJoins } from "../../api/pieces";
import { Figure } from "../../theme/Figure";
import { Key } from "../../ui/Key";
import { useKeys } from "../../ui/useKeys";
import { PARTS } from "./keys";

/** Why the areas of the selected part are together, and one key to part the half least like the rest. */
export function Together({ piece, part, edit }: { piece: Piece; part: Part; edit: (edit: Edit) => Promise<unknown> }) {
  const { data: cut } = useCut(piece);
  const count = cut?.areas.filter((a) => a.part === part.id).length ?? 0;
  const { data: joins = [] } = useJoins(piece, count > 1);
  const join = joins.find((j) => j.part === part.id);
  const split = join?.split ?? null;
  useKeys(PARTS.halve, () => { if (split) void edit(split); });
  if (count < 2) return null;
  return (
    <Box role="group" aria-label="Why together"
      sx={{ display: "grid", gridTemplateColumns: "1fr auto", alignItems: "center", columnGap: 1, mt: 1 }}>
      <Typography variant="body2"><b>{part.name}</b>: <Figure size={12}>{count}</Figure> areas are together{join
        ? `: ${join.reason}` : ""}.</Typography>
      <Button variant="outlined" disabled={!split} onClick={() => split && void edit(split)}>Split in two<Key
        of={PARTS.halve} /></Button>
    </Box>
  );
}
