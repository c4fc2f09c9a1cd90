import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Cut, Edit, Part, Piece } from "../../api/client";
import { partPixels, partShare, percent } from "../../api/cut";
import { useMeta } from "../../api/pieces";
import { Figure } from "../../theme/Figure";

interface Props {
  piece: Piece;
  cut: Cut | undefined;
  selected: string | null;
  onSelect: (part: string) => void;
  edit: (edit: Edit) => Promise<Piece | null>;
}

export function PartList({ piece, cut, selected, onSelect, edit }: Props) {
  const { parts } = piece.recipe;
  const pixels = partPixels(cut);
  return (
    <>
      <NewPart edit={edit} onMade={(after) => { const last = after.recipe.parts.at(-1); if (last) onSelect(last.id); }} />
      {parts.length === 0 && (
        <Typography variant="body2" sx={{ mt: 1 }}>
          No parts yet. Name the first one above, for example “skin”, then sweep over its areas.
        </Typography>
      )}
      <Box role="listbox" aria-label="Parts" sx={{ mt: 1.5 }}>
        {parts.map((part) => (
          <PartLine key={part.id} part={part} selected={part.id === selected} onSelect={() => onSelect(part.id)} edit={edit}
            share={partShare(cut, pixels, part.id)} />
        ))}
      </Box>
    </>
  );
}

function PartLine({ part, selected, onSelect, share, edit }: {
  part: Part; selected: boolean; onSelect: () => void; share: number; edit: Props["edit"];
}) {
  const materials = useMeta().data?.materials ?? [];
  const [name, setName] = useState<string | null>(null);
  const rename = () => {
    if (name !== null && name.trim() && name.trim() !== part.name) void edit({ kind: "change_part", part: part.id, name });
    setName(null);
  };
  return (
    <Box role="option" aria-selected={selected} tabIndex={0} onClick={onSelect}
      onKeyDown={(e) => { if (e.target === e.currentTarget && (e.key === "Enter" || e.key === " ")) { e.preventDefault(); onSelect(); } }}
      sx={{
        display: "grid", gridTemplateColumns: "20px 1fr auto", alignItems: "center", columnGap: 1.25, px: 1, pt: selected ? 1 : 0, minHeight: 38, cursor: "pointer",
        borderRadius: 1, outline: selected ? "2px dashed" : "none", outlineColor: "primary.main", outlineOffset: -2,
        "&:hover": { bgcolor: "action.hover" },
      }}>
      <Box sx={{ width: 18, height: 18, borderRadius: "50%", bgcolor: part.base, border: 1, borderColor: "divider" }} />
      <Box sx={{ minWidth: 0 }}>
        <Box sx={{ fontWeight: selected ? 640 : 450, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>{part.name}</Box>
      </Box>
      <Typography variant="body2">{part.material}, <Figure size={12}>{percent(share)} %</Figure></Typography>
      {selected && (
        <Box onClick={(e) => e.stopPropagation()} sx={{ gridColumn: "1 / -1", display: "grid", gridTemplateColumns: "1fr 130px auto", gap: 1, pt: 1.5, pb: 1 }}>
          <TextField label="Name" value={name ?? part.name} onChange={(e) => setName(e.target.value)} onBlur={rename}
            onKeyDown={(e) => { if (e.key === "Enter") rename(); if (e.key === "Escape") setName(null); }} />
          <Select value={part.material} aria-label="Material" onChange={(e) => void edit({ kind: "change_part", part: part.id, material: e.target.value })}>
            {materials.map((m) => <MenuItem key={m.key} value={m.key}>{m.label}</MenuItem>)}
          </Select>
          <Button variant="outlined" onClick={() => void edit({ kind: "remove_part", part: part.id })}>Remove</Button>
        </Box>
      )}
    </Box>
  );
}

function NewPart({ edit, onMade }: { edit: Props["edit"]; onMade: (after: Piece) => void }) {
  const materials = useMeta().data?.materials ?? [];
  const [name, setName] = useState("");
  const [material, setMaterial] = useState("matte cloth");
  const add = async () => {
    if (!name.trim()) return;
    const after = await edit({ kind: "add_part", name, material, base: "#a9a49c" });
    if (!after) return;
    setName("");
    onMade(after);
  };
  return (
    <Box component="form" onSubmit={(e) => { e.preventDefault(); void add(); }} sx={{ display: "grid", gridTemplateColumns: "1fr 130px auto", gap: 1 }}>
      <TextField label="New part" value={name} onChange={(e) => setName(e.target.value)} />
      <Select value={material} aria-label="Material of the new part" onChange={(e) => setMaterial(e.target.value)}>
        {materials.map((m) => <MenuItem key={m.key} value={m.key}>{m.label}</MenuItem>)}
      </Select>
      <Button type="submit" variant="contained" disabled={!name.trim()}>Add</Button>
    </Box>
  );
}
