import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { Edit, Piece, Point } from "../../api/client";
import type { Stage } from "../../picture/PictureView";
import { PlaceHandles } from "./PlaceHandles";
import { apart } from "./places";

export type Focus = Piece["recipe"]["focus"][number];

const MOST = 6;

const whole = ([x, y]: Point): Point => [Math.round(x), Math.round(y)];

/** The places where the eye should go, as handles on the picture. */
export function FocusHandles({ stage, focus, onShow, onMake }: {
  stage: Stage; focus: Focus[]; onShow: (places: Focus[]) => void; onMake: (places: Focus[]) => void;
}) {
  const moved = (k: number, ends: [Point, Point]) => focus.map((f, i) => (i === k ? { at: whole(ends[0]),
    radius: apart(ends) } : f));
  return focus.map((f, k) => {
    const at = f.at as Point;
    return <PlaceHandles key={k} stage={stage} places={{ ends: [at, [at[0] + f.radius, at[1]]], round: true,
      of: focus.length > 1 ? `of the focus ${k + 1}` : "of the focus", colours: ["#ffffff", "#ffffff"] }}
      onShow={(ends) => onShow(moved(k, ends))} onMake={(ends) => onMake(moved(k, ends))} />;
  });
}

export const focusEdit = (places: Focus[]): Edit => ({ kind: "set_focus", places });

/** Where the eye should go: set, added to, taken away; layers can be tied to it. */
export function FocusFields({ piece, focus, open, onOpen, make }: {
  piece: Piece; focus: Focus[]; open: boolean; onOpen: (open: boolean) => void; make: (edit: Edit) => Promise<unknown>;
}) {
  const add = () => {
    const last = focus.at(-1);
    const next: Focus = last ? { at: [last.at[0] + last.radius, last.at[1]], radius: last.radius }
      : { at: [piece.width / 2, Math.round(piece.height / 3)], radius: Math.round(Math.max(piece.width,
        piece.height) / 8) };
    onOpen(true);
    void make(focusEdit([...focus, next]));
  };
  return (
    <Box role="group" aria-label="Where the eye should go" sx={{ display: "flex", alignItems: "center", gap: 1,
      flexWrap: "wrap", mt: 0.5 }}>
      <Typography variant="body2" sx={{ flex: 1, minWidth: 140 }}>{focus.length === 0
        ? "Where should the eye go?" : `The eye goes to ${focus.length === 1 ? "one place"
          : `${focus.length} places`}.`}</Typography>
      {focus.length > 0 && <Button size="small" aria-pressed={open} onClick={() => onOpen(!open)}>{open ? "Hide"
        : "Show"}</Button>}
      {focus.length < MOST && <Button size="small" variant="outlined" onClick={add}>{focus.length === 0
        ? "Set the place" : "Another place"}</Button>}
      {focus.length > 0 && <Button size="small" color="inherit" onClick={() => void make(focusEdit(focus.slice(0,
        -1)))}>Take one out</Button>}
    </Box>
  );
}
