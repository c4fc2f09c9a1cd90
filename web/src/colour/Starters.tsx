import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import { useState } from "react";
import { useMeta } from "../api/pieces";
import { usePalettes } from "../api/shelf";

const SHELF = "shelf: "; // no family of starters is called so
const said = (family: string) => (family.startsWith(SHELF) ? `Shelf, ${family.slice(SHELF.length)}`
  : `Starters for ${family}`);

/** Base colours to start from, by what they are for. */
export function Starters({ value, family: first, onMake }: { value: string; family?: string;
  onMake: (hex: string) => void }) {
  const own = usePalettes().data ?? [];
  const starters = [...(useMeta().data?.starters ?? []), ...own.flatMap((p) => p.colours.map((c) => (
    { ...c, family: `${SHELF}${p.name}` })))];
  const families = [...new Set(starters.map((s) => s.family))];
  const [chosen, setFamily] = useState(first && families.includes(first) ? first : "cloth");
  const family = families.includes(chosen) ? chosen : "cloth"; // a palette may have left the shelf
  return (
    <Box sx={{ mt: 1.5 }}>
      <Select fullWidth value={families.length ? family : ""} aria-label="Colours to start from"
        onChange={(e) => setFamily(e.target.value)}>
        {families.map((f) => <MenuItem key={f} value={f}>{said(f)}</MenuItem>)}
      </Select>
      <Box role="group" aria-label={said(family)}
        sx={{ display: "grid", gridTemplateColumns: "repeat(7, 1fr)", gap: 0.5, mt: 0.75 }}>
        {starters.filter((s) => s.family === family).map((s, k) => (
          <ButtonBase key={k} title={`${s.name} ${s.colour}`} aria-label={s.name} aria-pressed={s.colour === value}
            onClick={() => onMake(s.colour)}
            sx={{ height: 36, borderRadius: 1, bgcolor: s.colour, border: 1, borderColor: "divider",
              "&[aria-pressed=true]": { outline: "2px dashed", outlineColor: "primary.main", outlineOffset: 1 } }} />
        ))}
      </Box>
    </Box>
  );
}
