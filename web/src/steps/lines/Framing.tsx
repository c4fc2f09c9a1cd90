import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { Choice } from "../../ui/Choice";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useMemo, useRef, useState, type ReactNode } from "react";
import type { Frame, Piece, Point } from "../../api/client";
import { useChanges, type Sides } from "../../api/pieces";
import { PictureView, type Tool } from "../../picture/PictureView";
import { Workplace } from "../../shell/Workplace";
import { Figure } from "../../theme/Figure";
import { Seam } from "../../theme/Seam";

interface Props {
  piece: Piece;
  lead: string;
  choice: ReactNode;
}

type Hand = "crop" | "level";
type Drag = [Point, Point];

const LEAST_DRAG = 64;
const LEAST_TILT = 0.05;

const SHEETS: [string, number, number][] = [["A5", 5.83, 8.27], ["A4", 8.27, 11.69], ["11 × 14 in", 11, 14],
  ["A3", 11.69, 16.54]];

/** Turn, level, crop; and what size it can be printed at. */
export function Framing({ piece, lead, choice }: Props) {
  const { edit } = useChanges(piece.id);
  const [hand, setHand] = useState<Hand>("crop");
  const frame: Frame = piece.recipe.frame ?? { turn: 0, tilt: 0, crop: null };
  const { tool, drag } = useDrag((a, b) => {
    const next = hand === "crop" ? cropped(frame, piece, a, b) : levelled(frame, a, b);
    if (next) void edit({ kind: "set_frame", frame: next });
  });
  const whole = frame.turn === 0 && !frame.tilt && !frame.crop;
  return (
    <Workplace title="Lines" lead={lead}
      picture={<PictureView piece={piece} kind="before" tool={tool}
        overlay={(ctx, zoom) => { if (drag) paint(ctx, zoom, hand, drag, piece); }} />}>
      {choice}
      <Choice label="What a drag does" wide value={hand} onChange={setHand}
        options={[{ value: "crop", label: "Crop" }, { value: "level", label: "Level" }]} />
      <Typography variant="body2" sx={{ mt: 0.75 }}>
        {hand === "crop" ? "Drag a rectangle around what is kept; beyond the picture it gives room there."
          : "Drag along something that should lie flat or stand upright."}
      </Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr 1fr", gap: 1, mt: 1.5 }}>
        <Button variant="outlined" onClick={() => void edit({ kind: "turn_picture", clockwise: false })}>Turn
          left</Button>
        <Button variant="outlined" onClick={() => void edit({ kind: "turn_picture", clockwise: true })}>Turn
          right</Button>
        <Button variant="outlined" disabled={whole}
          onClick={() => void edit({ kind: "set_frame", frame: { turn: 0, tilt: 0, crop: null } })}>As it came</Button>
      </Box>
      <Seam />
      <Room piece={piece} />
      <Seam />
      <Box component="dl" sx={{ display: "grid", gridTemplateColumns: "1fr auto", rowGap: 0.75, m: 0,
        "& dd": { m: 0, textAlign: "right" } }}>
        <dt>Size</dt><dd><Figure>{piece.width} × {piece.height} px</Figure></dd>
        <dt>Levelled by</dt><dd><Figure>{(frame.tilt ?? 0).toFixed(1)}°</Figure></dd>
        <dt>Printed at 300 dpi</dt><dd><Figure>{inches(piece.width)} × {inches(piece.height)} in</Figure></dd>
        {SHEETS.map(([name, short, long]) => (
          <Sheet key={name} name={name}
            dpi={Math.min(Math.min(piece.width, piece.height) / short, Math.max(piece.width, piece.height) / long)} />
        ))}
      </Box>
      <Typography variant="body2" sx={{ mt: 1 }}>Lines stay crisp in print from about 300 dpi,
        and pass from 200 (common practice).</Typography>
    </Workplace>
  );
}

const SIDES: [keyof Sides, string][] = [["left", "Left"], ["top", "Above"], ["right", "Right"], ["bottom", "Below"]];
const NONE = { left: "", top: "", right: "", bottom: "" };

/** More of the paper around the drawing, or less. */
function Room({ piece }: { piece: Piece }) {
  const { giveRoom } = useChanges(piece.id);
  const [typed, setTyped] = useState<Record<keyof Sides, string>>(NONE);
  const px = (side: keyof Sides) => Math.round(Number(typed[side] || 0));
  const bad = SIDES.some(([side]) => !Number.isFinite(px(side)) || Math.abs(px(side)) > 12_000);
  const idle = SIDES.every(([side]) => px(side) === 0);
  const give = (sides: Sides) => void giveRoom(sides).then((done) => { if (done) setTyped(NONE); });
  const tenth = Math.round(Math.max(piece.width, piece.height) / 10);
  return (
    <Box component="section" aria-label="Room">
      <Typography variant="h3" component="h2">Room around it</Typography>
      <Typography variant="body2" sx={{ mb: 1.25 }}>Pixels that the picture gains on a side, or loses (−). The paper
        goes on; a figure that the edge cut off ends there.</Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: "repeat(4, 1fr)", gap: 1 }}>
        {SIDES.map(([side, label]) => <TextField key={side} label={label} placeholder="0" value={typed[side]}
          error={!Number.isFinite(px(side))} onChange={(e) => setTyped({ ...typed, [side]: e.target.value })}
          onKeyDown={(e) => { if (e.key === "Enter" && !bad && !idle) give({ left: px("left"), top: px("top"),
            right: px("right"), bottom: px("bottom") }); }}
          slotProps={{ htmlInput: { inputMode: "numeric" }, inputLabel: { shrink: true } }} />)}
      </Box>
      <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
        <Button variant="outlined" disabled={bad || idle} onClick={() => give({ left: px("left"), top: px("top"),
          right: px("right"), bottom: px("bottom") })}>Give room</Button>
        <Button color="inherit" onClick={() => give({ left: tenth, top: tenth, right: tenth, bottom: tenth })}>A tenth
          all round</Button>
      </Box>
    </Box>
  );
}

function Sheet({ name, dpi }: { name: string; dpi: number }) {
  return <><dt>Filling {name}</dt><dd><Figure>{Math.round(dpi)} dpi</Figure></dd></>;
}

const inches = (px: number): string => (px / 300).toFixed(1);

function cropped(frame: Frame, piece: Piece, a: Point, b: Point): Frame | null {
  // Beyond the picture there is room, as much again at the most.
  const at = (v: number, most: number) => Math.round(Math.min(2 * most, Math.max(-most, v)));
  const [x0, x1] = [at(Math.min(a[0], b[0]), piece.width), at(Math.max(a[0], b[0]), piece.width)];
  const [y0, y1] = [at(Math.min(a[1], b[1]), piece.height), at(Math.max(a[1], b[1]), piece.height)];
  if (x1 - x0 < LEAST_DRAG || y1 - y0 < LEAST_DRAG) return null;
  const [ox, oy] = frame.crop ?? [0, 0];
  return { ...frame, crop: [ox + x0, oy + y0, x1 - x0, y1 - y0] };
}

function levelled(frame: Frame, a: Point, b: Point): Frame | null {
  const along = (Math.atan2(b[1] - a[1], b[0] - a[0]) * 180) / Math.PI;
  const off = along - 90 * Math.round(along / 90); // to the nearest of flat and upright
  const tilt = Math.min(45, Math.max(-45, Math.round(10 * ((frame.tilt ?? 0) + off)) / 10));
  return Math.abs(off) < LEAST_TILT || Math.hypot(b[0] - a[0], b[1] - a[1]) < LEAST_DRAG ? null : { ...frame, tilt };
}

function useDrag(make: (a: Point, b: Point) => void) {
  const [drag, setDrag] = useState<Drag | null>(null);
  const start = useRef<Point | null>(null);
  const tool = useMemo<Tool>(() => ({
    cursor: "crosshair",
    down: (x, y) => { start.current = [x, y]; },
    move: (x, y) => { if (start.current) setDrag([start.current, [x, y]]); },
    up: (x, y) => {
      const from = start.current;
      start.current = null;
      setDrag(null);
      if (from) make(from, [x, y]);
    },
    cancel: () => { start.current = null; setDrag(null); },
  }), [make]);
  return { tool, drag };
}

function paint(ctx: CanvasRenderingContext2D, zoom: number, hand: Hand, [[ax, ay], [bx, by]]: Drag, piece: Piece):
  void {
  ctx.strokeStyle = "#c8323c";
  ctx.lineWidth = 2 / zoom;
  ctx.setLineDash([6 / zoom, 4 / zoom]);
  ctx.beginPath();
  if (hand === "crop") {
    ctx.fillStyle = "rgba(40, 40, 40, 0.55)";
    const path = new Path2D();
    path.rect(-piece.width, -piece.height, 3 * piece.width, 3 * piece.height);
    path.rect(Math.min(ax, bx), Math.min(ay, by), Math.abs(bx - ax), Math.abs(by - ay));
    ctx.fill(path, "evenodd");
    ctx.strokeRect(Math.min(ax, bx), Math.min(ay, by), Math.abs(bx - ax), Math.abs(by - ay));
  } else {
    ctx.moveTo(ax, ay);
    ctx.lineTo(bx, by);
    ctx.stroke();
  }
  ctx.setLineDash([]);
}
