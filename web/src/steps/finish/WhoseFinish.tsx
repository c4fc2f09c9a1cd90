import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import type { Edit, Piece } from "../../api/client";

/** Whose finish is worked on: the piece's, which looks follow, or a look's own. */
export function WhoseFinish({ piece, wearer, onChange, make }: {
  piece: Piece; wearer: string; onChange: (wearer: string) => void; make: (edit: Edit) => Promise<unknown>;
}) {
  const looks = piece.recipe.looks.filter((k) => !k.retired);
  const look = looks.find((k) => k.id === wearer);
  const own = look && (look.finish ?? look.finish_amount ?? look.focus) != null;
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "80px 1fr auto", alignItems: "center", columnGap: 2, mb: 1 }}>
      <span>Finish of</span>
      <Select value={wearer} inputProps={{ "aria-label": "Whose finish" }} onChange={(e) => onChange(e.target.value)}>
        <MenuItem value="piece">The piece, and looks that follow it</MenuItem>
        {looks.map((k) => <MenuItem key={k.id} value={k.id}>{k.name}</MenuItem>)}
      </Select>
      {own && <Button color="inherit" onClick={() => void make({ kind: "follow_piece", looks: [wearer],
        what: ["finish"], parts: [] })}>As the piece</Button>}
    </Box>
  );
}
