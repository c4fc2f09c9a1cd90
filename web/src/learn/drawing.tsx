import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useRef, useState } from "react";
import type { Point } from "../api/client";
import type { LessonStroke } from "../api/learn";
import { tell } from "../api/notice";
import { fillPen, penWidths, tracePoints, usePen } from "../picture/usePen";
import { Choice } from "../ui/Choice";
import { Key } from "../ui/Key";
import { PenSize } from "../ui/PenSize";
import { useKeys } from "../ui/useKeys";
import { LESSON } from "./keys";

const PEN_SHARE = 0.055; // of the picture's longer edge
const MOST_EDGE = 2048; // px of the tint, however large the picture
const MISSING = "#1d5fbf";
const EXTRA = "#b3402a";

interface Marked { x: number; y: number; width: number; height: number; missing: boolean }

/** A shape drawn with outlines and a pen, put in and taken away, as one tint. */
export function useDrawing(size: { width: number; height: number }, on: boolean, style: string) {
  const [strokes, setStrokes] = useState<LessonStroke[]>([]);
  const [erases, setErases] = useState(false);
  const [penned, setPenned] = useState(false);
  const [pen, setPen] = useState(Math.round(PEN_SHARE * Math.max(size.width, size.height)));
  const kept = useRef<{ of: LessonStroke[]; style: string; canvas: HTMLCanvasElement } | null>(null);
  const { tool, stroke } = usePen(({ points, pressures }) => {
    if (!penned && points.length < 3) tell("Draw round the place, or take the pen.");
    else setStrokes((before) => [...before, { points: points.map(([x, y]): Point => [tenth(x), tenth(y)]),
      widths: penned ? penWidths(pen, pressures).map(tenth) : [], erases }]);
    return Promise.resolve();
  }, on);
  const undo = () => setStrokes((before) => before.slice(0, -1));
  useKeys(on ? LESSON.undo : null, undo);
  useKeys(on ? LESSON.putIn : null, () => setErases(false));
  useKeys(on ? LESSON.takeOut : null, () => setErases(true));
  useKeys(on ? LESSON.kind : null, () => setPenned((p) => !p));
  const tint = () => {
    if (kept.current?.of !== strokes || kept.current.style !== style) {
      kept.current = { of: strokes, style, canvas: drawn(strokes, size, style) };
    }
    return kept.current.canvas;
  };
  /** What is drawn, and what is being drawn. */
  const paint = (ctx: CanvasRenderingContext2D, zoom: number) => {
    ctx.drawImage(tint(), 0, 0, size.width, size.height);
    if (penned) fillPen(ctx, stroke.points, penWidths(pen, stroke.pressures), erases ? "rgba(255,255,255,.6)" : style);
    else tracePoints(ctx, stroke.points, zoom, true);
  };
  /** The outlines over the right answer, and what is missing and too much. */
  const compare = (ctx: CanvasRenderingContext2D, zoom: number, pieces: Marked[]) => {
    for (const one of strokes) if (!one.erases) tracePoints(ctx, one.points, zoom, one.widths.length === 0);
    ctx.lineWidth = 2 / zoom;
    ctx.setLineDash([6 / zoom, 4 / zoom]);
    for (const piece of pieces) {
      ctx.strokeStyle = piece.missing ? MISSING : EXTRA;
      ctx.strokeRect(piece.x - 4, piece.y - 4, piece.width + 8, piece.height + 8);
    }
    ctx.setLineDash([]);
  };
  return { strokes, setStrokes, erases, setErases, penned, setPenned, pen, setPen, tool, undo, paint, compare };
}

type Drawing = ReturnType<typeof useDrawing>;

/** What to do, with what, and back. */
export function DrawTools({ drawing, busy, onCheck, off = false }: { drawing: Drawing; busy: boolean;
  onCheck: () => void; off?: boolean }) {
  const { strokes, setStrokes, erases, setErases, penned, setPenned, pen, setPen, undo } = drawing;
  useKeys(busy || off ? null : LESSON.check, onCheck);
  return (
    <>
      <Choice label="What to do" wide value={erases} onChange={setErases} sx={{ mt: 1.5 }}
        options={[{ value: false, label: "Draw", keyed: LESSON.putIn }, { value: true, label: "Take away",
          keyed: LESSON.takeOut }]} />
      <Choice label="How to draw" wide value={penned} onChange={setPenned} sx={{ mt: 1 }}
        options={[{ value: false, label: "Outline" }, { value: true, label: "Pen", keyed: LESSON.kind }]} />
      {penned && <PenSize size={pen} onSize={setPen} keys={LESSON} />}
      <Box sx={{ display: "flex", gap: 1, mt: 1.5 }}>
        <Button color="inherit" disabled={strokes.length === 0} onClick={undo}>Take back<Key
          of={LESSON.undo} /></Button>
        <Button color="inherit" disabled={strokes.length === 0} onClick={() => setStrokes([])}>Begin again</Button>
        <Box sx={{ flex: 1 }} />
        <Button variant="contained" disabled={busy || off} onClick={onCheck}>{busy ? "Measuring …" : "Measure"}<Key
          of={LESSON.check} /></Button>
      </Box>
    </>
  );
}

/** What the marks over the right answer mean. */
export function MarkWords() {
  return (
    <Box sx={{ mt: 1, fontSize: 13, color: "text.secondary" }}>White: your outlines. <Box component="span"
      sx={{ color: MISSING, fontWeight: 640 }}>Blue</Box>: missing. <Box component="span"
      sx={{ color: EXTRA, fontWeight: 640 }}>Red</Box>: too much.</Box>
  );
}

const tenth = (v: number) => Math.round(v * 10) / 10;

/** The strokes, one after the other, as one tint. */
function drawn(strokes: LessonStroke[], { width, height }: { width: number; height: number }, style: string) {
  const canvas = document.createElement("canvas");
  const scale = Math.min(1, MOST_EDGE / Math.max(width, height));
  [canvas.width, canvas.height] = [Math.ceil(width * scale), Math.ceil(height * scale)];
  const ctx = canvas.getContext("2d");
  if (!ctx) return canvas;
  ctx.scale(scale, scale);
  for (const { points, widths, erases } of strokes) {
    ctx.globalCompositeOperation = erases ? "destination-out" : "source-over";
    if (widths.length > 0) {
      fillPen(ctx, points, widths, "#000");
      continue;
    }
    ctx.fillStyle = "#000";
    ctx.beginPath();
    for (const point of points) ctx.lineTo(...point);
    ctx.fill("evenodd");
  }
  ctx.globalCompositeOperation = "source-in";
  ctx.fillStyle = style;
  ctx.fillRect(0, 0, width, height);
  return canvas;
}
