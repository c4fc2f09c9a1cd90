import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Table from "@mui/material/Table";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableRow from "@mui/material/TableRow";
import { Fragment } from "react";
import { LAYERED } from "../layered/keys";
import { LESSON } from "../learn/keys";
import { LOOKING } from "../picture/keys";
import { IN_SERIES, PAGE, WALL } from "../series/keys";
import { CHECK, CHECK_SIDES, COMPARE, MAPS, REVIEW } from "../steps/check/keys";
import { COLOUR, SHEET } from "../steps/colour/keys";
import { DELIVER, PAPER } from "../steps/deliver/keys";
import { FINISH, SPOTS } from "../steps/finish/keys";
import { FORMS, LIGHT, LOOK_OVER, TOUCH_UPS } from "../steps/light/keys";
import { GAPS, HATCHING, LINES } from "../steps/lines/keys";
import { LOOKS } from "../steps/looks/keys";
import { PARTS } from "../steps/parts/keys";
import { Key } from "../ui/Key";
import type { Binding } from "../ui/keys";
import { PIECE } from "./keys";

/** Every key that a screen listens to, screen by screen in the order of the work. */
export const ALL_KEYS: Binding[] = [
  PIECE, LOOKING, LINES, HATCHING, GAPS, PARTS, COLOUR, SHEET, LIGHT, FORMS, TOUCH_UPS, LOOK_OVER, FINISH, SPOTS, LOOKS,
    CHECK_SIDES, CHECK, MAPS, COMPARE, REVIEW, DELIVER, PAPER, LAYERED, IN_SERIES, WALL, PAGE,
    LESSON,
].flatMap((table: Record<string, Binding>) => Object.values(table));

const SCREENS = [...new Set(ALL_KEYS.map((b) => b.where))];

export function Help({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle>Keys</DialogTitle>
      <DialogContent tabIndex={0}>
        <Table size="small">
          {SCREENS.map((where) => (
            <TableBody key={where}>
              <TableRow><TableCell component="th" scope="rowgroup" colSpan={2}
                sx={{ fontWeight: 640, pt: 2 }}>{where}</TableCell></TableRow>
              {ALL_KEYS.filter((b) => b.where === where).map((b) => (
                <TableRow key={b.says}>
                  <TableCell sx={{ width: 190, lineHeight: 1.9 }}>{b.on.map((key) => <Fragment key={key}><Key of={b}
                    only={key} />{" "}</Fragment>)}</TableCell>
                  <TableCell>{b.says}</TableCell>
                </TableRow>
              ))}
            </TableBody>
          ))}
        </Table>
      </DialogContent>
      <DialogActions><Button onClick={onClose}>Close</Button></DialogActions>
    </Dialog>
  );
}
