import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { toProblem } from "../api/client";
import { answerLesson, COURSE, fetchLesson, type Lesson, type LessonAnswer, type LessonKey,
  type LessonResult } from "../api/learn";
import { tellProblem } from "../api/notice";
import { LOOKS } from "../picture/glance";
import { GLANCES } from "../picture/keys";
import { useGlanceKeys } from "../picture/useGlanceKeys";
import { GlanceBar } from "../shell/GlanceBar";
import { LostPage } from "../shell/LostPage";
import { Figure } from "../theme/Figure";
import type { Binding } from "../ui/keys";
import { useKeys } from "../ui/useKeys";
import { Chosen, ColourMade, LightTold, Ordered } from "./answers";
import { Drawn } from "./Drawn";
import { LESSON } from "./keys";
import type { LessonProps } from "./Outcome";

const WITHOUT_BEFORE: Binding = { ...GLANCES, on: LOOKS.filter((l) => l.key !== "before").map((l) => l.hotkey) };

/** One lesson: what is asked, the answer, and what was measured. */
export function LessonPage() {
  const { key = "" } = useParams();
  const [search] = useSearchParams();
  const navigate = useNavigate();
  const [level, seed] = [search.get("level"), search.get("seed")];
  const { data: lesson, error } = useQuery({
    queryKey: ["lesson", key, level, seed], staleTime: Infinity, retry: false,
    queryFn: () => fetchLesson(key as LessonKey, level ? Number(level) : undefined, seed ? Number(seed) : undefined),
  });
  useEffect(() => { // so that it can be come back to
    if (lesson && seed === null) void navigate(`/learn/${encodeURIComponent(key)}?level=${lesson.level}&seed=${
      lesson.seed}`, { replace: true });
  }, [lesson, seed, key, navigate]);
  useGlanceKeys(WITHOUT_BEFORE);
  if (error) return <LostPage detail={toProblem(error).message} />;
  if (!lesson || seed === null) return null;
  return <Desk key={`${key}:${level}:${seed}`} lesson={lesson} />;
}

function Desk({ lesson }: { lesson: Lesson }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [result, setResult] = useState<LessonResult | null>(null);
  const [solved, setSolved] = useState(false);
  const [busy, setBusy] = useState(false);
  const onAnswer = async (answer: LessonAnswer) => {
    setBusy(true);
    try {
      setResult(await answerLesson(lesson, answer));
      setSolved(true);
      await client.invalidateQueries({ queryKey: COURSE });
    } catch (problem) {
      tellProblem(problem);
    } finally {
      setBusy(false);
    }
  };
  const onNext = () => { // of the same kind, at the level that comes next
    client.removeQueries({ queryKey: ["lesson", lesson.key, null, null] });
    void navigate(`/learn/${encodeURIComponent(lesson.key)}`);
  };
  const props: LessonProps = { lesson, result, solved, busy, onNext, onSolved: () => setSolved((s) => !s),
    onAnswer: (answer) => void onAnswer(answer) };
  useKeys(result ? LESSON.solved : null, props.onSolved);
  useKeys(result ? LESSON.next : null, onNext);
  return (
    <Box sx={{ height: "100%", display: "flex", flexDirection: "column" }}>
      <title>{`${lesson.label} · Practise`}</title>
      <Box component="header" sx={{ height: 56, display: "flex", alignItems: "center", gap: 2, px: 2, flexShrink: 0,
        bgcolor: "background.paper", borderBottom: 1, borderColor: "divider" }}>
        <Button component={Link} to="/learn" color="inherit">The course</Button>
        <Typography variant="h2" component="div" noWrap sx={{ flex: 1 }}>{lesson.label}</Typography>
        <Typography variant="body2" noWrap>Level <Figure>{lesson.level}</Figure>, passed from <Figure>{Math.round(
          lesson.needed)}</Figure></Typography>
      </Box>
      <Box component="main" sx={{ flex: 1, minHeight: 0, display: "flex" }}><Way {...props} /></Box>
      <GlanceBar />
    </Box>
  );
}

function Way(props: LessonProps) {
  switch (props.lesson.ask) {
    case "draw": return <Drawn {...props} />;
    case "light": return <LightTold {...props} />;
    case "colour": return <ColourMade {...props} />;
    case "order": return <Ordered {...props} />;
    default: return <Chosen {...props} />;
  }
}
