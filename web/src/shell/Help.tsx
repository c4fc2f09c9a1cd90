import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Table from "@mui/material/Table";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableRow from "@mui/material/TableRow";
import { LOOKS } from "../picture/glance";
import { Key } from "./GlanceBar";

const KEYS: [string[], string][] = [
  [["F2", "F3", "…"], "Go to a step: F2 lines, F3 parts, F4 colour, F6 light, F7 finish, F8 looks, F9 deliver"],
  ...LOOKS.map((l): [string[], string] => [[l.hotkey.toUpperCase()], `${l.hint}; hold for a moment, tap to lock`]),
  [["N"], "Next backdrop"],
  [["+", "−"], "Zoom; also the wheel, or a pinch"],
  [["0"], "Fit the picture"],
  [["1"], "Actual size"],
  [["Space"], "Hold and drag to pan; also the middle button, arrows on the picture, Shift with the wheel"],
  [["Ctrl Z"], "Undo"],
  [["Ctrl Shift Z"], "Redo; also Ctrl Y"],
  [["L"], "Lines: frame, drawing, hatching, gaps in turn"],
  [[",", "."], "Lines: point at the gap, or the hatched place, before or after"],
  [["C"], "Lines: close the gap pointed at"],
  [["O"], "Lines: leave it open; on Hatching, only print the place pointed at, or let it bound areas"],
  [["D"], "Lines: draw a closing; on Hatching, draw across strokes that bound nothing"],
  [["Y"], "Lines and parts: close the figure as it is offered"],
  [["K"], "Lines: test for leaks"],
  [["["], "Parts: select the part above"],
  [["]"], "Parts: select the part below"],
  [[",", "."], "Parts: point at the area before or after, in reading order"],
  [["Enter"], "Parts: give or take the area pointed at"],
  [["A"], "Parts: give areas to the selected part; Shift draws round them"],
  [["O"], "Parts: share out an open area, a click for each part"],
  [["X"], "Parts: split an area with a stroke"],
  [["J"], "Parts: join areas"],
  [["E"], "Parts: move an open border"],
  [["D"], "Parts: mark ground"],
  [["V"], "Parts: next way to see them"],
  [["H"], "Parts: only the selected part"],
  [["K"], "Parts: keep the suggestion; Shift with 1, 2 or 3 takes it in a palette"],
  [["U"], "Parts: split the selected part in two, what is least alike apart"],
  [["Alt ↑ ↓"], "Parts, on the list: move a part to the front or back; ← → change what it belongs to"],
  [["T"], "Colour: sheet, even out, light’s colour, card in turn"],
  [["Arrows"], "Colour, on the sheet: from swatch to swatch; Enter opens, Delete gives back to the rule"],
  [["L", "D", "W", "C", "R", "U"], "Colour, on a swatch: lighter, darker, warmer, cooler, richer, duller"],
  [["Ctrl C", "Ctrl V"], "Colour, on a swatch: copy a colour, put one in"],
  [["Arrows"], "Light, on the ball: move by 5°; with Shift by 1°"],
  [["T"], "Light: lights, forms, touch-ups, look over in turn"],
  [["[", "]"], "Light, forms: the part before or after; touch-ups: a smaller or larger pen"],
  [["E"], "Light, forms: draw an edge into a folded part"],
  [["P", "O", "E"], "Light, touch-ups: put in, take out, soften an edge"],
  [["W"], "Light, touch-ups: outline or pen"],
  [[",", "."], "Light, look over: one pass less or more"],
  [["T"], "Looks: dress, vary, apart, show in turn"],
  [["V"], "Looks: rail, one, two beside each other"],
  [["L", "D", "W", "C", "R", "U"], "Looks, with a part chosen: lighter, darker, warmer, cooler, richer, duller; [ ] the part before or after"],
  [["T"], "Deliver: stack, set up, files, take back in turn"],
  [["Tab"], "Deliver, on the stack: from layer to layer, each lit up in the picture"],
  [["?"], "This list"],
];

export function Help({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>Keys</DialogTitle>
      <DialogContent>
        <Table size="small">
          <TableBody>
            {KEYS.map(([keys, what]) => (
              <TableRow key={what}>
                <TableCell sx={{ whiteSpace: "nowrap", width: 140 }}>{keys.map((k) => <Key key={k}>{k}</Key>)}</TableCell>
                <TableCell>{what}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      </DialogContent>
      <DialogActions><Button onClick={onClose}>Close</Button></DialogActions>
    </Dialog>
  );
}
