import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Piece } from "../../api/client";
import { fetchDressed, usePaletteChanges, usePalettes, type Palette } from "../../api/shelf";
import { useWorkedOut } from "../useWorkedOut";
import type { Live } from "./live";

const MOST = 64;

/** Colours of a piece as a palette: each once, under the name of the first part that has it. */
export function paletteOf(parts: Piece["recipe"]["parts"]): Palette["colours"] {
  const found = new Map<string, string>();
  for (const part of parts) if (!found.has(part.base)) found.set(part.base, part.name);
  return [...found].slice(0, MOST).map(([colour, name]) => ({ name, colour }));
}

/** The shelf: palettes that every piece can be dressed in. */
export function Shelf({ piece, live }: { piece: Piece; live: Live }) {
  const { data: palettes } = usePalettes();
  const { keep, remove } = usePaletteChanges();
  const [name, setName] = useState("");
  const [leaving, setLeaving] = useState<number | null>(null);
  const workedOut = useWorkedOut(live);
  const { parts } = piece.recipe;
  const taken = palettes?.some((p) => p.name === name.trim()) ?? false;
  return (
    <Box component="section" aria-label="Shelf">
      <Typography variant="body2">
        Palettes of your own, for all pieces. Point at one to see this piece in it: a part takes the colour of its name,
        or the nearest. Their colours are among the starters of every swatch, too.
      </Typography>
      <Box component="form" sx={{ display: "flex", gap: 1, mt: 1.5, mb: 1.5 }} onSubmit={(e: React.FormEvent) => {
        e.preventDefault();
        void keep(name.trim(), paletteOf(parts)).then((done) => { if (done) setName(""); });
      }}>
        <TextField fullWidth size="small" label="This piece’s colours as" value={name}
          onChange={(e) => setName(e.target.value)} slotProps={{ htmlInput: { maxLength: 120 } }} />
        <Button type="submit" variant="outlined" sx={{ flexShrink: 0 }} disabled={!name.trim() || !parts.length}>
          {taken ? "Replace it" : "Keep them"}</Button>
      </Box>
      {palettes?.length === 0 && <Typography variant="body2">The shelf is empty. Keep this piece’s colours, or those of
        an older one.</Typography>}
      <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {palettes?.map((palette) => (
          <Box component="li" key={palette.id} aria-label={palette.name}
            sx={{ borderTop: 1, borderColor: "divider", py: 1 }}>
            <Box sx={{ display: "flex", alignItems: "center", gap: 1, minHeight: 36 }}>
              <Typography variant="h3" component="h2" noWrap sx={{ flex: 1 }}>{palette.name}</Typography>
              {leaving === palette.id
                ? <>
                  <Button size="small" color="inherit" autoFocus onClick={() => setLeaving(null)}>Keep it</Button>
                  <Button size="small" onClick={() => { setLeaving(null); void remove(palette.id); }}>
                    Take it off the shelf</Button>
                </>
                : <>
                  <Button size="small" disabled={!parts.length}
                    {...workedOut(palette.id, () => fetchDressed(piece.id, palette.id))}>
                    Dress in it</Button>
                  <Button size="small" color="inherit" aria-label={`Take ${palette.name} off the shelf`}
                    onClick={() => setLeaving(palette.id)}>Take off</Button>
                </>}
            </Box>
            <Box sx={{ display: "flex", height: 36, borderRadius: 1, overflow: "hidden", border: 1,
              borderColor: "divider" }}>
              {palette.colours.map((c, k) => <Box key={k} title={`${c.name} ${c.colour}`}
                sx={{ flex: 1, bgcolor: c.colour }} />)}
            </Box>
          </Box>
        ))}
      </Box>
    </Box>
  );
}
