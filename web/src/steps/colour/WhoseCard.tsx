import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useCharacterChanges, useCharacters } from "../../api/characters";
import type { Piece } from "../../api/client";

/** A piece that is no character's yet: whose is it? */
export function WhoseCard({ piece }: { piece: Piece }) {
  const { data: characters = [] } = useCharacters();
  const { make, give } = useCharacterChanges();
  const [name, setName] = useState("");
  return (
    <>
      <Typography variant="body2">Base colours by part name, kept with a character, so that it is the same in every
        picture.</Typography>
      {characters.length > 0 && (
        <Select fullWidth displayEmpty value="" aria-label="Whose picture this is" sx={{ mt: 1 }}
          onChange={(e) => void give(piece.id, Number(e.target.value))}>
          <MenuItem value="" disabled>Whose picture is this?</MenuItem>
          {characters.map((c) => <MenuItem key={c.id}
            value={String(c.id)}>{c.name}, {c.card.length} colours</MenuItem>)}
        </Select>
      )}
      <Box component="form" sx={{ display: "grid", gridTemplateColumns: "1fr auto", gap: 1, mt: 1 }}
        onSubmit={(e) => { e.preventDefault(); if (name.trim()) void make(name.trim(), piece.id); }}>
        <TextField label="New character" value={name} onChange={(e) => setName(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 120 } }} />
        <Button type="submit" variant="outlined" disabled={!name.trim() || piece.recipe.parts.length === 0}>Make a
          card of these</Button>
      </Box>
    </>
  );
}
