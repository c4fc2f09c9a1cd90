import Box from "@mui/material/Box";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import Slider from "@mui/material/Slider";
import { useState } from "react";
import type { Part, Piece } from "../../api/client";
import { Figure } from "../../theme/Figure";
import { perCent } from "../../ui/Rail";
import { useLiveEdit } from "../useLiveEdit";

const GROUND = "ground";

/** How much of what lies behind a part shows through it, and what that is. */
export function SeeThrough({ piece, part, onWork }: { piece: Piece; part: Part; onWork: () => void }) {
  const live = useLiveEdit(piece, "bases");
  const [dragged, setDragged] = useState<number | null>(null);
  const opacity = dragged ?? part.opacity ?? 1;
  const edit = (to: number) => ({ kind: "change_part" as const, part: part.id, opacity: to });
  const others = (piece.recipe.parts ?? []).filter((p) => p.id !== part.id);
  return (
    <Box sx={{ gridColumn: "1 / -1" }}>
      <Box sx={{ display: "grid", gridTemplateColumns: "72px 1fr 64px", alignItems: "center", columnGap: 1.5,
        height: 36 }}>
        <span>Opacity</span>
        <Slider size="small" aria-label={`Opacity of ${part.name}`} value={opacity} min={0.05} max={1} step={0.01}
          onChange={(_, to) => { setDragged(to); onWork(); live.show(edit(to)); }}
          onChangeCommitted={(_, to) => { onWork(); void live.make(edit(to)).finally(() => setDragged(null)); }} />
        <Figure>{perCent(opacity)}</Figure>
      </Box>
      {opacity < 1 && (
        <Box sx={{ display: "grid", gridTemplateColumns: "72px 1fr", alignItems: "center", columnGap: 1.5 }}>
          <span>Behind it</span>
          <Select value={part.behind ?? GROUND} aria-label={`Behind ${part.name}`}
            onChange={(e) => { onWork(); void live.make({ kind: "change_part", part: part.id,
              behind: e.target.value }); }}>
            <MenuItem value={GROUND}>The ground</MenuItem>
            {others.map((p) => <MenuItem key={p.id} value={p.id}>{p.name}</MenuItem>)}
          </Select>
        </Box>
      )}
    </Box>
  );
}
