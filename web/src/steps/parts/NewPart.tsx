import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import type { Edit, MaterialKey, Piece } from "../../api/client";
import { useMeta } from "../../api/pieces";

export function NewPart({ edit, onMade }: { edit: (edit: Edit) => Promise<Piece | null>;
  onMade: (after: Piece) => void }) {
  const materials = useMeta().data?.materials ?? [];
  const [name, setName] = useState("");
  const [material, setMaterial] = useState("matte cloth");
  const add = async () => {
    if (!name.trim()) return;
    const after = await edit({ kind: "add_part", name, material: material as MaterialKey, base: "#a9a49c" });
    if (!after) return;
    setName("");
    onMade(after);
  };
  return (
    <Box component="form" onSubmit={(e) => { e.preventDefault(); void add(); }}
      sx={{ display: "grid", gridTemplateColumns: "1fr 130px auto", gap: 1 }}>
      <TextField label="New part" value={name} onChange={(e) => setName(e.target.value)} />
      <Select value={material} aria-label="Material of the new part" onChange={(e) => setMaterial(e.target.value)}>
        {materials.map((m) => <MenuItem key={m.key} value={m.key}>{m.label}</MenuItem>)}
      </Select>
      <Button type="submit" variant="contained" disabled={!name.trim()}>Add</Button>
    </Box>
  );
}
