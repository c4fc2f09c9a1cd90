import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, useState } from "react";
import type { Point, Shown } from "../api/client";
import { lessonAt, type Lamp, type LessonStroke } from "../api/learn";
import { tell } from "../api/notice";
import { PictureView } from "../picture/PictureView";
import { fillPen, penWidths, tracePoints, usePen } from "../picture/usePen";
import { Workplace } from "../shell/Workplace";
import { describeLight, paintBall } from "../steps/light/ball";
import { Choice } from "../ui/Choice";
import { Key } from "../ui/Key";
import { PenSize } from "../ui/PenSize";
import { useKeys } from "../ui/useKeys";
import { LESSON } from "./keys";
import { Outcome, type LessonProps } from "./Outcome";

const BALL = 96;
const PEN = 34;
const MINE = "rgba(38,34,60,.5)";
const LIT = "rgba(255,252,240,.85)";
const MISSING = "#1d5fbf";
const EXTRA = "#b3402a";
const BALL_LOOK = { base: "#d8d2c6", shade: "#8f8798", light: "#ffffff", shadeShare: 0.38, shadeOffset: 0,
  lightShare: 0 };

/** An answer that is drawn: outlines or a pen, put in and taken away. */
export function Drawn(props: LessonProps) {
  const { lesson, result, solved, busy, onAnswer } = props;
  const [strokes, setStrokes] = useState<LessonStroke[]>([]);
  const [erases, setErases] = useState(false);
  const [penned, setPenned] = useState(false);
  const [size, setSize] = useState(PEN);
  const { tool, stroke } = usePen(async ({ points, pressures }) => {
    if (!penned && points.length < 3) return tell("Draw round the place, or take the pen.");
    setStrokes((before) => [...before, { points: points.map(([x, y]): Point => [tenth(x), tenth(y)]),
      widths: penned ? penWidths(size, pressures).map(tenth) : [], erases }]);
    return Promise.resolve();
  }, result === null && !busy);
  const mask = useRef<HTMLCanvasElement | null>(null);
  const style = lesson.asked === "highlight" ? LIT : MINE;
  useEffect(() => {
    mask.current = drawn(strokes, lesson, style);
  }, [strokes, lesson, style]);
  const undo = () => setStrokes((before) => before.slice(0, -1));
  const check = () => { if (!result && !busy) onAnswer({ strokes }); };
  useKeys(result ? null : LESSON.undo, undo);
  useKeys(LESSON.check, check);
  useKeys(result ? null : LESSON.putIn, () => setErases(false));
  useKeys(result ? null : LESSON.takeOut, () => setErases(true));
  useKeys(result ? null : LESSON.kind, () => setPenned((p) => !p));
  const shown: Shown = { title: lesson.label, revision: 1, width: lesson.width, height: lesson.height,
    at: lessonAt(lesson, solved ? "solved" : "given") };
  const overlay = (ctx: CanvasRenderingContext2D, zoom: number) => {
    // Drawn anew at once: an effect has not run yet when the picture is painted.
    const now = mask.current?.dataset.strokes === String(strokes.length) ? mask.current : drawn(strokes, lesson, style);
    if (!solved) ctx.drawImage(now, 0, 0, lesson.width, lesson.height);
    else for (const one of strokes) if (!one.erases) tracePoints(ctx, one.points, zoom, one.widths.length === 0);
    if (penned) fillPen(ctx, stroke.points, penWidths(size, stroke.pressures), erases ? "rgba(255,255,255,.6)" : style);
    else tracePoints(ctx, stroke.points, zoom, true);
    for (const piece of solved ? result?.pieces ?? [] : []) {
      ctx.lineWidth = 2 / zoom;
      ctx.setLineDash([6 / zoom, 4 / zoom]);
      ctx.strokeStyle = piece.missing ? MISSING : EXTRA;
      ctx.strokeRect(piece.x - 4, piece.y - 4, piece.width + 8, piece.height + 8);
      ctx.setLineDash([]);
    }
  };
  return (
    <Workplace title={lesson.question} lead={lesson.what.charAt(0).toUpperCase() + lesson.what.slice(1) + "."}
      picture={<PictureView of={shown} kind="picture" tool={tool} overlay={overlay} />}>
      <Box sx={{ display: "flex", gap: 2, alignItems: "center" }}>
        {lesson.light && <Lamps light={lesson.light} rim={lesson.rim} />}
        <Typography variant="body1">{lesson.light && `Light ${describeLight(lesson.light.azimuth, lesson.light.height)},
          ${Math.round(lesson.light.height)}° above the picture.`}{lesson.rim
            && " A second one from behind."}</Typography>
      </Box>
      {!result && (
        <>
          <Choice label="What to do" wide value={erases} onChange={setErases} sx={{ mt: 1.5 }}
            options={[{ value: false, label: "Draw", keyed: LESSON.putIn }, { value: true, label: "Take away",
              keyed: LESSON.takeOut }]} />
          <Choice label="How to draw" wide value={penned} onChange={setPenned} sx={{ mt: 1 }}
            options={[{ value: false, label: "Outline" }, { value: true, label: "Pen", keyed: LESSON.kind }]} />
          {penned && <PenSize size={size} onSize={setSize} keys={LESSON} />}
          <Box sx={{ display: "flex", gap: 1, mt: 1.5 }}>
            <Button color="inherit" disabled={strokes.length === 0} onClick={undo}>Take back<Key
              of={LESSON.undo} /></Button>
            <Button color="inherit" disabled={strokes.length === 0} onClick={() => setStrokes([])}>Begin again</Button>
            <Box sx={{ flex: 1 }} />
            <Button variant="contained" disabled={busy} onClick={check}>{busy ? "Measuring …" : "Measure"}<Key
              of={LESSON.check} /></Button>
          </Box>
          {strokes.length === 0 && <Typography variant="body2" sx={{ mt: 1 }}>Draw on the picture: round what you mean,
            or with the pen.{lesson.asked === "highlight" && " Where nothing shines, measure without drawing."}
          </Typography>}
        </>
      )}
      <Outcome {...props} />
      {solved && result && result.pieces.length > 0 && (
        <Typography variant="body2" sx={{ mt: 1 }}>White: your outlines. <Box component="span"
          sx={{ color: MISSING, fontWeight: 640 }}>Blue</Box>: missing. <Box component="span"
          sx={{ color: EXTRA, fontWeight: 640 }}>Red</Box>: too much.</Typography>
      )}
    </Workplace>
  );
}

const tenth = (v: number) => Math.round(v * 10) / 10;

/** The strokes, one after the other, as one tint. */
function drawn(strokes: LessonStroke[], { width, height }: { width: number; height: number }, style: string) {
  const canvas = document.createElement("canvas");
  [canvas.width, canvas.height] = [width, height];
  canvas.dataset.strokes = String(strokes.length);
  const ctx = canvas.getContext("2d");
  if (!ctx) return canvas;
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

/** A ball under the light, with a mark for where it stands, and one for a second light. */
function Lamps({ light, rim }: { light: Lamp; rim: Lamp | null }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { azimuth, height } = light;
  useEffect(() => {
    const ctx = canvas.current?.getContext("2d");
    if (ctx) paintBall(ctx, BALL, azimuth, height, BALL_LOOK);
  }, [azimuth, height]);
  const room = 26;
  const size = BALL + 2 * room;
  const at = (lamp: Lamp) => {
    const [a, r] = [(lamp.azimuth * Math.PI) / 180, ((90 - lamp.height) / 90) * (BALL / 2) + 4];
    return { cx: size / 2 + r * Math.cos(a), cy: size / 2 - r * Math.sin(a) };
  };
  return (
    <Box sx={{ position: "relative", width: size, height: size, flexShrink: 0 }}>
      <canvas ref={canvas} width={BALL} height={BALL} style={{ position: "absolute", left: room, top: room }}
        aria-hidden />
      <Box component="svg" role="img" aria-label={`The light: ${describeLight(azimuth, height)}`} width={size}
        height={size} sx={{ position: "absolute", inset: 0 }}>
        <line x1={at(light).cx} y1={at(light).cy} x2={size / 2} y2={size / 2} stroke="#6b6257" strokeDasharray="4 3" />
        <circle {...at(light)} r={8} fill="#fff6d8" stroke="#1b1b1b" strokeWidth={2.5} />
        {rim && <rect x={at(rim).cx - 6} y={at(rim).cy - 6} width={12} height={12} fill="#dce8ff" stroke="#1b1b1b"
          strokeWidth={2.5} />}
      </Box>
    </Box>
  );
}
