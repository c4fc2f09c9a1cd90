import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useMemo, useState } from "react";
import type { Shown } from "../api/client";
import { lessonAt, type Lesson } from "../api/learn";
import { ColourPicker } from "../colour/ColourPicker";
import { PictureView, type Tool } from "../picture/PictureView";
import { Workplace } from "../shell/Workplace";
import { Puck } from "../steps/light/Puck";
import { describeLight } from "../steps/light/ball";
import { Figure } from "../theme/Figure";
import { Choice } from "../ui/Choice";
import { Key } from "../ui/Key";
import { useKeys } from "../ui/useKeys";
import { LESSON } from "./keys";
import { Outcome, type LessonProps } from "./Outcome";

const BALL_LOOK = { base: "#d8d2c6", shade: "#8f8798", light: "#ffffff", shadeShare: 0.38, shadeOffset: 0,
  lightShare: 0 };

const shownOf = (lesson: Lesson, solved: boolean): Shown => ({ title: lesson.label, revision: 1, width: lesson.width,
  height: lesson.height, at: lessonAt(lesson, solved ? "solved" : "given") });

function Measure({ busy, off, onMeasure }: { busy: boolean; off?: boolean; onMeasure: () => void }) {
  useKeys(busy || off ? null : LESSON.check, onMeasure);
  return <Button variant="contained" disabled={busy || off} onClick={onMeasure} sx={{ mt: 2, alignSelf: "flex-end" }}>
    {busy ? "Measuring …" : "Measure"}<Key of={LESSON.check} /></Button>;
}

/** Where the light of a shaded picture comes from, told with the ball. */
export function LightTold(props: LessonProps) {
  const { lesson, result, busy, onAnswer } = props;
  const [light, setLight] = useState({ azimuth: 90, height: 60, rim: null, bounce: null });
  const right = result?.right_light;
  return (
    <Workplace title={lesson.question} lead="Drag the light on the ball until it is shaded like the picture."
      picture={<PictureView of={shownOf(lesson, false)} kind="picture" />}>
      <Box sx={{ display: "flex", alignItems: "center", gap: 2 }}>
        <Puck light={light} ball={BALL_LOOK} onShow={(l) => { if (!result) setLight(l); }}
          onMake={(l) => { if (!result) setLight(l); }} />
        <Box>
          <Typography variant="body1">{describeLight(light.azimuth, light.height)}</Typography>
          <Figure>{light.azimuth}°, {light.height}° high</Figure>
          {right && <Typography variant="body2" sx={{ mt: 1 }}>Right: <Figure>{Math.round(right.azimuth)}°, {
            Math.round(right.height)}° high</Figure></Typography>}
        </Box>
      </Box>
      {!result && <Measure busy={busy} onMeasure={() => onAnswer({ light: { azimuth: light.azimuth,
        height: light.height } })} />}
      <Outcome {...props} />
    </Workplace>
  );
}

/** One of several in the picture: clicked there, or chosen beside it. */
export function Chosen(props: LessonProps) {
  const { lesson, result, solved, busy, onAnswer } = props;
  const [choice, setChoice] = useState<number | null>(null);
  const cell = lesson.width / lesson.choices;
  const tool = useMemo<Tool | null>(() => (result ? null : { cursor: "pointer", down: (x) => setChoice(
    Math.min(lesson.choices - 1, Math.max(0, Math.floor(x / cell)))) }), [result, cell, lesson.choices]);
  const right = result?.right_order[0];
  return (
    <Workplace title={lesson.question} lead="Click it in the picture, or choose it here."
      picture={<PictureView of={shownOf(lesson, solved)} kind="picture" tool={tool} overlay={(ctx, zoom) => {
        const marks: [number | null | undefined, string][] = [[choice, "#1b1b1b"], [right, "#a3232e"]];
        marks.forEach(([k, colour], n) => {
          if (k == null) return;
          ctx.lineWidth = 3 / zoom;
          ctx.strokeStyle = colour;
          ctx.setLineDash(n === 1 ? [8 / zoom, 6 / zoom] : []);
          ctx.strokeRect(k * cell + 6 + 4 * n, 6 + 4 * n, cell - 12 - 8 * n, lesson.height - 12 - 8 * n);
          ctx.setLineDash([]);
        });
      }} />}>
      <Choice label="Which" wide value={choice} onChange={(k) => { if (!result) setChoice(k); }}
        options={Array.from({ length: lesson.choices }, (_, k) => ({ value: k, label: lesson.ask === "choice"
          ? (k === 0 ? "Left" : "Right") : `${k + 1}` }))} />
      {!result && <Measure busy={busy} off={choice === null} onMeasure={() => { if (choice !== null)
        onAnswer({ choice }); }} />}
      <Outcome {...props} />
    </Workplace>
  );
}

/** A shade made on rails for a base. */
export function ColourMade(props: LessonProps) {
  const { lesson, result, busy, onAnswer } = props;
  const base = lesson.swatches[0] ?? "#808080";
  const [colour, setColour] = useState(base);
  const turn = Math.abs(lesson.turn) < 1 ? "its hue as it is" : `its hue moved ${Math.abs(lesson.turn).toFixed(0)}° ${
    lesson.turn > 0 ? "ahead" : "back"} on the wheel`;
  const cells: [string, string][] = [["Base", base], ["Yours", colour], ...(result?.right_colour ? [["Right",
    result.right_colour] as [string, string]] : [])];
  return (
    <Workplace title={lesson.question} lead={`${lesson.step} (CIEDE2000) darker, ${turn}, as colourful as the base.`}
      picture={
        <Box sx={{ height: "100%", bgcolor: "#8b8b8b", display: "grid", gridTemplateColumns:
          `repeat(${cells.length}, 1fr)`, alignContent: "center", px: 8 }}>
          {cells.map(([name, hex]) => (
            <Box key={name} sx={{ bgcolor: hex, height: 320, display: "flex", alignItems: "flex-end", p: 1.5 }}>
              <Box sx={{ bgcolor: "background.paper", px: 1, borderRadius: 0.5 }}>{name} <Figure>{hex}</Figure></Box>
            </Box>
          ))}
        </Box>
      }>
      {!result && <Box sx={{ mx: -2 }}><ColourPicker value={colour} onShow={setColour} onMake={setColour} /></Box>}
      {!result && <Measure busy={busy} off={colour === base} onMeasure={() => onAnswer({ colour })} />}
      <Outcome {...props} />
    </Workplace>
  );
}

/** Six colours put in order by clicking them, the darkest first. */
export function Ordered(props: LessonProps) {
  const { lesson, result, busy, onAnswer } = props;
  const [order, setOrder] = useState<number[]>([]);
  const tile = (k: number, label: string, onClick?: () => void) => (
    <Box key={k} component={onClick ? "button" : "div"} aria-label={label} onClick={onClick}
      sx={{ bgcolor: lesson.swatches[k], height: 150, border: 0, cursor: onClick ? "pointer" : "default",
        filter: result ? "grayscale(1)" : "none" }} />
  );
  return (
    <Workplace title={lesson.question} lead="Click them one after the other."
      picture={
        <Box sx={{ height: "100%", bgcolor: "#8b8b8b", display: "grid", alignContent: "center", rowGap: 3, px: 8 }}>
          <Box role="group" aria-label="Six colours" sx={{ display: "grid", gridTemplateColumns: "repeat(6, 1fr)" }}>
            {lesson.swatches.map((_, k) => (order.includes(k) ? <Box key={k} sx={{ height: 150,
              border: "1px dashed #555" }} /> : tile(k, `Colour ${k + 1}`, () => setOrder((o) => [...o, k]))))}
          </Box>
          <Box role="group" aria-label="Your order" sx={{ display: "grid", gridTemplateColumns: "repeat(6, 1fr)",
            minHeight: 150 }}>
            {order.map((k, n) => tile(k, `Number ${n + 1}: colour ${k + 1}`, result ? undefined
              : () => setOrder((o) => o.filter((other) => other !== k))))}
          </Box>
          {result && <Box role="group" aria-label="The right order" sx={{ display: "grid",
            gridTemplateColumns: "repeat(6, 1fr)" }}>{result.right_order.map((k, n) => tile(k,
              `Right, number ${n + 1}: colour ${k + 1}`))}</Box>}
        </Box>
      }>
      {!result && <Typography variant="body2">Click one in your row to take it back.</Typography>}
      {!result && <Measure busy={busy} off={order.length < 6} onMeasure={() => onAnswer({ order })} />}
      {result && <Typography variant="body2">In grey now: your row above, the right one below it.</Typography>}
      <Outcome {...props} />
    </Workplace>
  );
}
