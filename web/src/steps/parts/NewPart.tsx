import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";
import type { Edit, Piece } from "../../api/client";
import { kindEdit, PartKind } from "./PartKind";

export function NewPart({ edit, onMade }: { edit: (edit: Edit) => Promise<Piece | null>;
  onMade: (after: Piece) => void }) {
  const [name, setName] = useState("");
  const [kind, setKind] = useState("matte cloth");
  const add = async () => {
    if (!name.trim()) return;
    const after = await edit({ kind: "add_part", name, base: "#a9a49c", material: "matte cloth",
      ...kindEdit(kind) });
    if (!after) return;
    setName("");
    onMade(after);
  };
  return (
    <Box component="form" onSubmit={(e) => { e.preventDefault(); void add(); }}
      sx={{ display: "grid", gridTemplateColumns: "1fr 130px auto", gap: 1 }}>
      <TextField label="New part" value={name} onChange={(e) => setName(e.target.value)} />
      <PartKind label="Material of the new part" value={kind} onChange={setKind} />
      <Button type="submit" variant="contained" disabled={!name.trim()}>Add</Button>
    </Box>
  );
}
