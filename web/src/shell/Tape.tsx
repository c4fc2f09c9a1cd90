import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import Tooltip from "@mui/material/Tooltip";
import Typography from "@mui/material/Typography";
import { Fragment, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Piece, Step } from "../api/client";
import { useFindings } from "../api/checks";
import { useCut } from "../api/pieces";
import { ClockButton } from "../clock/ClockButton";
import { PlanSeam } from "../clock/PlanSeam";
import { usePlanning } from "../clock/usePlanning";
import { useStanding } from "../clock/useStanding";
import { Figure } from "../theme/Figure";
import { STEPS } from "./steps";

const minutes = (m: number) => (m > 0 && m < 1 ? "<1" : String(Math.round(m)));

/** A measuring tape: a step is as long as its planned minutes, and filled by the minutes spent. Its seams are
 * dragged to plan otherwise. */
export function Tape({ piece, step }: { piece: Piece; step: Step }) {
  const navigate = useNavigate();
  const standing = useStanding(piece, step, 10);
  const { data: cut } = useCut(piece);
  const findings = useFindings(piece).open.length;
  const planning = usePlanning(piece.id, standing?.state.plan);
  const [draft, setDraft] = useState<Record<string, number> | null>(null);
  const track = useRef<HTMLDivElement>(null);
  const plan = draft ?? standing?.state.plan.minutes ?? {};
  const total = Object.values(plan).reduce((a, b) => a + b, 0) || 1;
  return (
    <Box component="nav" aria-label="Steps"
      sx={{ display: "flex", height: 62, bgcolor: "background.paper", borderBottom: 1, borderColor: "divider" }}>
      <Box sx={{ width: 204, flexShrink: 0, display: "flex", flexDirection: "column", justifyContent: "center" }}>
        <Tooltip title="All pieces" describeChild>
          <ButtonBase component={Link} to="/" sx={{ px: 2, height: 26, justifyContent: "flex-start" }}>
            <Typography variant="h3" noWrap>{piece.title}</Typography>
          </ButtonBase>
        </Tooltip>
        <ClockButton piece={piece} step={step} planning={planning} />
      </Box>
      <Box ref={track} sx={{ display: "flex", flex: 1, minWidth: 0 }}>
        {STEPS.map((entry, k) => {
          const planned = plan[entry.key] ?? 0;
          const done = standing?.spent[entry.key] ?? 0;
          const open = entry.open?.({ cut, findings });
          const here = entry.key === step;
          const next = STEPS[k + 1];
          return (
            <Fragment key={entry.key}>
              <ButtonBase onClick={() => void navigate(`/piece/${piece.id}/${entry.key}`)}
                aria-current={here ? "step" : undefined}
                sx={{
                  flex: `${planned} 1 0`, minWidth: 104, position: "relative", px: 1.25, pb: 1.25, borderLeft: 1,
                    borderColor: "divider",
                  justifyContent: "space-between", textAlign: "left", gap: 0.5,
                  bgcolor: here ? "background.default" : undefined, color: here ? "primary.main" : "text.primary",
                }}>
                <Box sx={{ minWidth: 0 }}>
                  <Typography variant="h3" component="span" sx={{ display: "block" }}>{entry.label}</Typography>
                  <Typography variant="body2" component="span" noWrap>
                    <Figure size={12}>{minutes(done)}</Figure> of <Figure size={12}>{minutes(planned)}</Figure> min
                  </Typography>
                </Box>
                {open && (
                  <Box component="span" sx={{ fontSize: 12, color: "text.primary", px: 0.75, py: 0.25, border: 1,
                    borderColor: "text.secondary", clipPath: "polygon(0 0,100% 0,100% 70%,50% 100%,0 70%)", pb: 1,
                      whiteSpace: "nowrap" }}>
                    {open}
                  </Box>
                )}
                <Ticks planned={planned} done={done} here={here} />
              </ButtonBase>
              {next && standing && <PlanSeam before={entry} after={next} plan={plan} perPixel={() =>
                total / Math.max(1, track.current?.clientWidth ?? 1)} onDraft={setDraft}
                onPlan={(to) => {
                  setDraft(to);
                  void planning.plan({ minutes: to }).finally(() => setDraft(null));
                }} />}
            </Fragment>
          );
        })}
      </Box>
    </Box>
  );
}

function Ticks({ planned, done, here }: { planned: number; done: number; here: boolean }) {
  const apart = planned > 240 ? 60 : planned > 60 ? 10 : 1; // minutes between two ticks
  const count = Math.floor(planned / apart);
  return (
    <Box aria-hidden sx={{ position: "absolute", left: 0, right: 0, bottom: 0, height: 9, color: "text.secondary" }}>
      <Box sx={{ position: "absolute", left: 0, bottom: 0, height: 5,
        width: `${planned > 0 ? Math.min(100, (100 * done) / planned) : 0}%`,
        bgcolor: here ? "primary.main" : "text.secondary" }} />
      {Array.from({ length: count }, (_, i) => (i + 1) * apart).filter((m) => m < planned).map((m, i) => (
        <Box key={m} sx={{ position: "absolute", bottom: 0, left: `${(100 * m) / planned}%`, width: "1px",
          height: (i + 1) % 5 === 0 ? 9 : 5, bgcolor: "currentColor", opacity: 0.6 }} />
      ))}
    </Box>
  );
}
