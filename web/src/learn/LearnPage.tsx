import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { toProblem } from "../api/client";
import { piecesQuery } from "../api/pieces";
import { useCourse, type Course, type SkillCard } from "../api/learn";
import { Figure } from "../theme/Figure";

const LEVELS = 10;
const EXAMPLE = 12; // seed of the lessons that are shown small
const OWN = 8; // pieces
const TILE = { width: 108, p: 0.75, pb: 0.5, color: "text.primary", textDecoration: "none", borderRadius: 1,
  bgcolor: "background.paper", border: 1, borderColor: "divider", "&:hover": { bgcolor: "action.hover" } } as const;

/** The course: what can be practised, how far one is, and what to go on with. */
export function LearnPage() {
  const { data: course, error } = useCourse();
  return (
    <Box sx={{ height: "100%", display: "flex", flexDirection: "column" }}>
      <title>Practise · Wardrobe</title>
      <Box component="header" sx={{ display: "flex", alignItems: "center", gap: 2, px: 4, height: 72, flexShrink: 0,
        bgcolor: "background.paper", borderBottom: 1, borderColor: "divider" }}>
        <Button component={Link} to="/" color="inherit" sx={{ ml: -1 }}>All pieces</Button>
        <Typography variant="h1">Practise</Typography>
        <Typography variant="body2" sx={{ flex: 1 }}>Draw where shade goes, and see by how many degrees it is
          off.</Typography>
        {course && course.answered > 0 && <Button component="a" download href="/api/learn/progress.csv"
          color="inherit">Progress, CSV</Button>}
        {course && <Button component={Link} to={`/learn/${encodeURIComponent(course.following)}`}
          variant="contained">{course.answered === 0 ? "Begin" : `Go on: ${label(course, course.following)}`}</Button>}
      </Box>
      <Box component="main" sx={{ flex: 1, overflowY: "auto" }}>
        {error && <Typography role="alert" sx={{ p: 4 }}>{toProblem(error).message}</Typography>}
        <Box component="ul" aria-label="Skills" sx={{ listStyle: "none", m: 0, p: 0, px: 4, py: 2, maxWidth: 1180,
          mx: "auto" }}>
          {course?.skills.map((skill) => <Skill key={skill.key} skill={skill} following={course.following} />)}
        </Box>
        {course && <Typography variant="body2" sx={{ px: 4, pb: 4, maxWidth: 1180, mx: "auto" }}>
          A level rises after each pass until the first miss, then after two passes in a row, and falls after each miss:
          it settles where about seven in ten are passed (Levitt 1971). Each lesson is made anew.</Typography>}
      </Box>
    </Box>
  );
}

const label = (course: Course, key: string) =>
  course.skills.flatMap((s) => s.lessons).find((l) => l.key === key)?.label ?? key;

function Skill({ skill, following }: { skill: SkillCard; following: string }) {
  const last = skill.scores.at(-1);
  return (
    <Box component="li" sx={{ display: "grid", gridTemplateColumns: "minmax(230px, 1fr) 190px 200px", columnGap: 4,
      py: 2.25, borderTop: 1, borderColor: "divider", "&:first-of-type": { borderTop: 0 } }}>
      <Box>
        <Typography variant="h2">{skill.label}</Typography>
        {skill.lessons.length === 0 && <Typography variant="body2">Shade a part of a piece before you see what Wardrobe
          draws there, and keep the better one.</Typography>}
        <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mt: 1 }}>
          {skill.lessons.length === 0 && <OwnPieces />}
          {skill.lessons.map((lesson) => (
            <Box key={lesson.key} component={Link} to={`/learn/${encodeURIComponent(lesson.key)}`}
              sx={{ ...TILE, ...(lesson.key === following && { outline: "2px dashed",
                outlineColor: "primary.main" }) }}>
              <Example lesson={lesson.key} ask={lesson.ask} />
              <Box sx={{ display: "flex", gap: 0.5, alignItems: "baseline", mt: 0.5, fontSize: 12.5, lineHeight: 1.3,
                fontWeight: 560 }}>
                <Box sx={{ flex: 1 }}>{lesson.label}</Box>
                {lesson.best != null && <Box component="span" title="Best so far"
                  sx={{ color: "text.secondary" }}><Figure>{Math.round(lesson.best)}</Figure></Box>}
              </Box>
            </Box>
          ))}
        </Box>
      </Box>
      <Box>
        {skill.lessons.length > 0 && <Typography variant="body2">Level <Figure size={15}>{skill.level}</Figure>, passed
          from <Figure>{Math.round(skill.needed)}</Figure></Typography>}
        {skill.lessons.length > 0 && <Box role="img" aria-label={`Level ${skill.level} of ${LEVELS}`}
          sx={{ display: "flex", gap: "3px", mt: 0.75 }}>
          {Array.from({ length: LEVELS }, (_, k) => (
            <Box key={k} sx={{ flex: 1, height: 10, border: 1, borderColor: "text.secondary",
              bgcolor: k < skill.level - 1 ? "text.primary" : "transparent" }} />
          ))}
        </Box>}
        {skill.off != null && <Typography variant="body2" sx={{ mt: 0.75 }}>off by <Figure>{skill.off}°</Figure> at the
          median</Typography>}
      </Box>
      <Box>
        {skill.scores.length === 0 ? <Typography variant="body2">Not practised yet.</Typography> : (
          <>
            <Scores scores={skill.scores} />
            <Typography variant="body2">{skill.scores.length} answered, the last with <Figure>{Math.round(last
              ?? 0)}</Figure></Typography>
          </>
        )}
      </Box>
    </Box>
  );
}

/** The pieces that were changed last, one of a series; each a lesson. */
function OwnPieces() {
  const { data: pieces } = useQuery(piecesQuery);
  const latest = (pieces ?? []).filter((p) => !p.away).sort((a, b) => b.changed.localeCompare(a.changed))
    .filter((p, k, all) => p.series == null || all.findIndex((q) => q.series === p.series) === k).slice(0, OWN);
  if (pieces && latest.length === 0) return <Typography variant="body2">There are no pieces yet.</Typography>;
  return latest.map((piece) => (
    <Box key={piece.id} component={Link} to={`/piece/${piece.id}/light#practise`} sx={TILE}>
      <img alt="" height={84} loading="lazy" src={`/api/pieces/${piece.id}/card?revision=${piece.revision}`}
        style={{ width: "100%", objectFit: "contain", display: "block", background: "#8b8b8b", borderRadius: 2 }} />
      <Typography noWrap sx={{ mt: 0.5, fontSize: 12.5, lineHeight: 1.3, fontWeight: 560 }}>{piece.title}</Typography>
    </Box>
  ));
}

const SWATCHES: Partial<Record<string, string[]>> = { colour: ["#d9a27c", "#9b5f4a"],
  order: ["#33302f", "#5a564f", "#807b70", "#a8a293", "#cfc8b6", "#f0ead9"] };

/** A lesson of the kind, small. */
function Example({ lesson, ask }: { lesson: string; ask: string }) {
  const colours = SWATCHES[ask];
  const box = { height: 84, display: "flex", borderRadius: 0.5, overflow: "hidden", bgcolor: "#f0e9db" } as const;
  if (colours) return <Box aria-hidden sx={box}>{colours.map((c) => <Box key={c} sx={{ flex: 1,
    bgcolor: c }} />)}</Box>;
  const wide = ask === "spot" || ask === "choice";
  const query = new URLSearchParams({ x: "0", y: "0", width: wide ? "960" : "640", height: wide ? "320" : "640",
    scale: wide ? "0.3" : "0.28" });
  return (
    <Box sx={{ ...box, justifyContent: "center" }}>
      <img alt="" height={84} loading="lazy" style={{ width: "100%", objectFit: "cover" }}
        src={`/api/learn/lessons/${encodeURIComponent(lesson)}/2/${EXAMPLE}/given/picture?${query.toString()}`} />
    </Box>
  );
}

/** The latest scores, 0 to 100, from left to right. */
function Scores({ scores }: { scores: number[] }) {
  const [width, height] = [200, 44];
  const at = (score: number, k: number) => `${4 + k * ((width - 8) / Math.max(1, scores.length - 1))},${
    height - 3 - (score / 100) * (height - 6)}`;
  return (
    <Box component="svg" role="img" aria-label={`Scores: ${scores.map(Math.round).join(", ")}`} width={width}
      height={height} sx={{ display: "block", color: "text.primary" }}>
      <line x1={0} y1={height - 0.5} x2={width} y2={height - 0.5} stroke="currentColor" strokeOpacity={0.3} />
      <polyline points={scores.map(at).join(" ")} fill="none" stroke="currentColor" strokeWidth={1.5} />
      {scores.map((score, k) => {
        const [x, y] = at(score, k).split(",");
        return <circle key={k} cx={x} cy={y} r={2.5} fill="currentColor" />;
      })}
    </Box>
  );
}
