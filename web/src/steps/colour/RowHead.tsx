import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import FormControl from "@mui/material/FormControl";
import InputLabel from "@mui/material/InputLabel";
import MenuItem from "@mui/material/MenuItem";
import Popover from "@mui/material/Popover";
import Select from "@mui/material/Select";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Part, Piece } from "../../api/client";
import { useMeta } from "../../api/pieces";
import { Figure } from "../../theme/Figure";
import type { Live } from "./live";

const AS_PIECE = "";

/** Name, material and share of a part; behind it, its method. */
export function RowHead({ piece, part, share, own, live }: { piece: Piece; part: Part; share: string; own: number;
  live: Live }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const methods = useMeta().data?.methods ?? [];
  const label = (key: string | null | undefined) => methods.find((m) => m.key === key)?.label ?? "";
  const material = useMeta().data?.materials ?? [];
  const how = part.method ? label(part.method) : part.material;
  return (
    <Box role="rowheader" sx={{ minWidth: 0 }}>
      <ButtonBase aria-label={`${part.name} ${how}, ${share}: method and material`} aria-haspopup="dialog"
        onClick={(e) => setAnchor(e.currentTarget)}
        sx={{ display: "block", width: "100%", minHeight: 36, textAlign: "left", borderRadius: 1, lineHeight: 1.2 }}>
        <span aria-hidden>
          <Typography variant="h3" component="span" noWrap title={part.name}
            sx={{ display: "block" }}>{part.name}</Typography>{" "}
          <Typography variant="body2" component="span" noWrap sx={{ display: "block", fontSize: 11.5 }}>
            {how}, <Figure size={11}>{share}</Figure>
          </Typography>
        </span>
      </ButtonBase>
      <Popover open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}
        slotProps={{ paper: { role: "dialog", "aria-label": part.name } }}
        anchorOrigin={{ vertical: "bottom", horizontal: "left" }}>
        <Box sx={{ width: 300, p: 2, display: "grid", gap: 1.5 }}>
          <Typography variant="h3">{part.name}</Typography>
          <FormControl size="small">
            <InputLabel shrink id="part-method">Method</InputLabel>
            <Select labelId="part-method" label="Method" displayEmpty value={part.method ?? AS_PIECE}
              onChange={(e) => void live.make({ kind: "set_method", part: part.id, method: e.target.value || null })}>
              <MenuItem value={AS_PIECE}>As the piece: {label(piece.recipe.passes.method)}</MenuItem>
              {methods.map((m) => <MenuItem key={m.key} value={m.key}>{m.label}</MenuItem>)}
            </Select>
          </FormControl>
          <FormControl size="small">
            <InputLabel id="part-material">Material</InputLabel>
            <Select labelId="part-material" label="Material" value={part.material}
              onChange={(e) => void live.make({ kind: "change_part", part: part.id, material: e.target.value })}>
              {material.map((m) => <MenuItem key={m.key} value={m.key}>{m.label}</MenuItem>)}
            </Select>
          </FormControl>
          {own > 0 && (
            <Button variant="outlined"
              onClick={() => { setAnchor(null);
                void live.make({ kind: "choose_colours", part: part.id,
                  own: Object.fromEntries(Object.keys(part.own ?? {}).map((k) => [k, null])) }); }}>
              Give {own === 1 ? "its own colour" : `its ${own} own colours`} back to the rule
            </Button>
          )}
        </Box>
      </Popover>
    </Box>
  );
}
