import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ListSubheader from "@mui/material/ListSubheader";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { FinishDraft, Piece } from "../../api/client";
import { STARTS } from "./finish";

/** What a new layer can begin as, group by group. */
export function NewLayer({ piece, onMake }: { piece: Piece; onMake: (draft: FinishDraft) => void }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <Box sx={{ mb: 1 }}>
      <Button variant="outlined" aria-haspopup="menu" onClick={(e) => setAnchor(e.currentTarget)}>New layer</Button>
      <Menu disablePortal open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}
        slotProps={{ list: { "aria-label": "New layer", dense: true, sx: { columnCount: 2, columnGap: 1, width: 660,
          "& > li": { breakInside: "avoid" } } } }}>
        {STARTS.flatMap((start, k) => [
          STARTS[k - 1]?.group !== start.group && <ListSubheader key={start.group} role="presentation"
            sx={{ lineHeight: "30px", bgcolor: "transparent", breakAfter: "avoid", position: "static" }}>
            {start.group}
          </ListSubheader>,
          <MenuItem key={start.label} onClick={() => { setAnchor(null); onMake(start.make(piece)); }}>
            <Box>
              <Typography variant="body1">{start.label}</Typography>
              <Typography variant="body2">{start.hint}</Typography>
            </Box>
          </MenuItem>,
        ])}
      </Menu>
    </Box>
  );
}
