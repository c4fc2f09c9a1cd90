import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { Lesson, LessonAnswer, LessonResult } from "../api/learn";
import { Figure } from "../theme/Figure";
import { Key } from "../ui/Key";
import { LESSON } from "./keys";

export interface LessonProps {
  lesson: Lesson;
  result: LessonResult | null;
  solved: boolean;
  onAnswer: (answer: LessonAnswer) => void;
  onSolved: () => void;
  onNext: () => void;
  busy: boolean;
}

/** What was measured, in words and figures, and how to go on. */
export function Outcome({ lesson, result, solved, onSolved, onNext }: LessonProps) {
  if (!result) return null;
  const { score, near } = result;
  const rows: [string, string][] = near.length > 0 ? [
    ["Edge within 1, 2, 4 line widths", near.map((n) => `${Math.round(100 * n)} %`).join("  ")],
    ["Light", degrees(result.figures.azimuth)],
    [lesson.asked === "highlight" ? "Highlight" : lesson.asked === "cast" ? "Of the form" : "In shade",
      `${perCent(result.figures.amount)} of ${perCent(result.figures.wanted)}`],
  ] : [];
  return (
    <Box role="status" sx={{ mt: 2, pt: 1.5, borderTop: "2px dashed", borderColor: "primary.main" }}>
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 1 }}>
        <Figure size={34}>{Math.round(score)}</Figure>
        <Typography variant="body1" sx={{ flex: 1 }}>of 100: {result.passed ? "passed" : "not yet"}
          {result.level !== lesson.level && `. Level ${result.level} comes next`}.</Typography>
      </Box>
      <Box component="ul" aria-label="What was measured" sx={{ pl: 2.25, my: 1 }}>
        {result.said.map((line) => <li key={line}><Typography variant="body1">{line}</Typography></li>)}
      </Box>
      {rows.map(([name, value]) => (
        <Box key={name} sx={{ display: "flex", justifyContent: "space-between", gap: 2 }}>
          <Typography variant="body2">{name}</Typography><Figure>{value}</Figure>
        </Box>
      ))}
      <Typography variant="body2" sx={{ my: 1 }}>{lesson.look}</Typography>
      <Box sx={{ display: "flex", gap: 1 }}>
        {(lesson.ask === "draw" || lesson.ask === "choice") && (
          <Button variant="outlined" onClick={onSolved}>{solved ? "Hide the right answer" : "The right answer"}<Key
            of={LESSON.solved} /></Button>
        )}
        <Button variant="contained" onClick={onNext}>Next<Key of={LESSON.next} /></Button>
      </Box>
    </Box>
  );
}

const perCent = (v: number | null | undefined) => (v == null ? "–" : `${Math.round(100 * v)} %`);
const degrees = (v: number | null | undefined) => (v == null ? "–" : `${v > 0 ? "+" : v < 0 ? "−" : ""}${
  Math.abs(v).toFixed(0)}°`);
