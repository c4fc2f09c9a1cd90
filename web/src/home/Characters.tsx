import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useCharacterChanges, useCharacters } from "../api/characters";
import type { Character } from "../api/client";
import { FileButton } from "../ui/FileButton";

const CARD_FILES = ".json,.csv,application/json,text/csv";

/** Characters and their colour cards. */
export function Characters() {
  const { data: characters } = useCharacters();
  const { fromFile } = useCharacterChanges();
  return (
    <Box component="section" aria-label="Characters" sx={{ px: 4, pb: 5, maxWidth: 1640, mx: "auto" }}>
      <Box sx={{ display: "flex", alignItems: "center", mb: 1.5 }}>
        <Typography variant="h2" sx={{ flex: 1 }}>Characters</Typography>
        <FileButton label="Card from a file" accept={CARD_FILES} variant="outlined"
          onFiles={([file]) => { if (file) void fromFile(file.name.replace(/\.[^.]+$/, "").replace(/[_-]+/g, " "),
            file); }}>
          Card from a file
        </FileButton>
      </Box>
      {characters?.length === 0 && (
        <Typography variant="body2">None yet. Make a card of a piece’s colours in its step Colour,
          or read one from design tokens (JSON) or CSV.</Typography>
      )}
      <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: "repeat(auto-fill, minmax(320px, 1fr))" }}>
        {characters?.map((c) => <CharacterCard key={c.id} character={c} />)}
      </Box>
    </Box>
  );
}

function CharacterCard({ character }: { character: Character }) {
  const { remove, replaceCard } = useCharacterChanges();
  const [asking, setAsking] = useState(false);
  const { id, name, card, pieces } = character;
  return (
    <Box component="article"
      sx={{ bgcolor: "background.paper", border: 1, borderColor: "divider", borderRadius: 1, p: 1.5 }}>
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 1 }}>
        <Typography variant="h3" noWrap sx={{ flex: 1 }}>{name}</Typography>
        <Typography variant="body2">{card.length} colours, {pieces.length} {pieces.length === 1 ? "piece"
          : "pieces"}</Typography>
      </Box>
      <Box sx={{ display: "flex", height: 36, my: 1, borderRadius: 1, overflow: "hidden", border: 1,
        borderColor: "divider" }}>
        {card.map((c) => <Box key={c.name} title={`${c.name} ${c.colour}`} sx={{ flex: 1, bgcolor: c.colour }} />)}
      </Box>
      <Box sx={{ display: "flex", "& > *": { px: 1, minWidth: 0 } }}>
        <Button component="a" href={`/api/characters/${id}/card.json`} download>Tokens (JSON)</Button>
        <Button component="a" href={`/api/characters/${id}/card.csv`} download>CSV</Button>
        <FileButton label={`File that replaces the card of ${name}`} accept={CARD_FILES} color="inherit"
          onFiles={([file]) => { if (file) void replaceCard(id, file); }}>Replace</FileButton>
        <Button color="inherit" aria-label={`Delete ${name}`} onClick={() => setAsking(true)}
          sx={{ color: "text.secondary" }}>Delete</Button>
      </Box>
      <Dialog open={asking} onClose={() => setAsking(false)}>
        <DialogTitle>Delete {name}’s card?</DialogTitle>
        <DialogContent><Typography variant="body1">The {card.length} colours of the card are removed. Pieces keep the
          colours they have.</Typography></DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={() => setAsking(false)}>Keep it</Button>
          <Button variant="contained" onClick={() => { setAsking(false); void remove(id); }}>Delete</Button>
        </DialogActions>
      </Dialog>
    </Box>
  );
}
