import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useEffect, useRef } from "react";
import type { Shown } from "../api/client";
import { lessonAt, type Lamp } from "../api/learn";
import { PictureView } from "../picture/PictureView";
import { Workplace } from "../shell/Workplace";
import { describeLight, paintBall } from "../steps/light/ball";
import { DrawTools, MarkWords, useDrawing } from "./drawing";
import { Outcome, type LessonProps } from "./Outcome";

const BALL = 96;
const MINE = "rgba(38,34,60,.5)";
const LIT = "rgba(255,252,240,.85)";
const BALL_LOOK = { base: "#d8d2c6", shade: "#8f8798", light: "#ffffff", shadeShare: 0.38, shadeOffset: 0,
  lightShare: 0 };

/** An answer that is drawn: outlines or a pen, put in and taken away. */
export function Drawn(props: LessonProps) {
  const { lesson, result, solved, busy, onAnswer } = props;
  const drawing = useDrawing(lesson, result === null && !busy, lesson.asked === "highlight" ? LIT : MINE);
  const shown: Shown = { title: lesson.label, revision: 1, width: lesson.width, height: lesson.height,
    at: lessonAt(lesson, solved ? "solved" : "given") };
  return (
    <Workplace title={lesson.question} lead={lesson.what.charAt(0).toUpperCase() + lesson.what.slice(1) + "."}
      picture={<PictureView of={shown} kind="picture" tool={drawing.tool} overlay={(ctx, zoom) => (solved
        ? drawing.compare(ctx, zoom, result?.pieces ?? []) : drawing.paint(ctx, zoom))} />}>
      <Box sx={{ display: "flex", gap: 2, alignItems: "center" }}>
        {lesson.light && <Lamps light={lesson.light} rim={lesson.rim} />}
        <Typography variant="body1">{lesson.light && `Light ${describeLight(lesson.light.azimuth, lesson.light.height)},
          ${Math.round(lesson.light.height)}° above the picture.`}{lesson.rim
            && " A second one from behind."}</Typography>
      </Box>
      {!result && <DrawTools drawing={drawing} busy={busy} onCheck={() => onAnswer({ strokes: drawing.strokes })} />}
      {!result && drawing.strokes.length === 0 && <Typography variant="body2" sx={{ mt: 1 }}>Draw on the picture: round
        what you mean, or with the pen.{lesson.asked === "highlight"
          && " Where nothing shines, measure without drawing."}</Typography>}
      <Outcome {...props} />
      {solved && result && result.pieces.length > 0 && <MarkWords />}
    </Workplace>
  );
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
