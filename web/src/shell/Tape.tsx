import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import Tooltip from "@mui/material/Tooltip";
import Typography from "@mui/material/Typography";
import { Link, useNavigate } from "react-router";
import type { Piece, Step } from "../api/client";
import { useFindings } from "../api/checks";
import { useCut, useMeta } from "../api/pieces";
import { Figure } from "../theme/Figure";
import { STEPS } from "./steps";

const minutes = (m: number) => (m > 0 && m < 1 ? "<1" : String(Math.round(m)));

/** A measuring tape: a step is as long as its planned minutes, and filled by the minutes spent. */
export function Tape({ piece, step }: { piece: Piece; step: Step }) {
  const navigate = useNavigate();
  const shares = useMeta().data?.step_shares;
  const { data: cut } = useCut(piece);
  const findings = useFindings(piece).open.length;
  const spent = Object.values(piece.spent_minutes).reduce((a, b) => a + b, 0);
  return (
    <Box component="nav" aria-label="Steps"
      sx={{ display: "flex", height: 62, bgcolor: "background.paper", borderBottom: 1, borderColor: "divider" }}>
      <Tooltip title="All pieces" describeChild>
        <ButtonBase component={Link} to="/"
          sx={{ width: 196, px: 2, flexDirection: "column", alignItems: "flex-start", justifyContent: "center",
            textAlign: "left" }}>
          <Typography variant="h3" noWrap sx={{ width: "100%" }}>{piece.title}</Typography>
          <Typography variant="body2" noWrap>
            <Figure size={12}>{minutes(spent)}</Figure> of <Figure size={12}>{piece.planned_minutes}</Figure> min
          </Typography>
        </ButtonBase>
      </Tooltip>
      {STEPS.map((entry) => {
        const planned = piece.planned_minutes * (shares?.[entry.key] ?? 1 / STEPS.length);
        const done = piece.spent_minutes[entry.key] ?? 0;
        const open = entry.open?.({ cut, findings });
        const here = entry.key === step;
        return (
          <ButtonBase key={entry.key} onClick={() => void navigate(`/piece/${piece.id}/${entry.key}`)}
            aria-current={here ? "step" : undefined}
            sx={{
              flex: `${planned} 1 0`, minWidth: 110, position: "relative", px: 1.25, pb: 1.25, borderLeft: 1,
                borderColor: "divider",
              justifyContent: "space-between", textAlign: "left", gap: 0.5,
              bgcolor: here ? "background.default" : undefined, color: here ? "primary.main" : "text.primary",
            }}>
            <Box sx={{ minWidth: 0 }}>
              <Typography variant="h3" component="span" sx={{ display: "block" }}>{entry.label}</Typography>
              <Typography variant="body2" component="span" noWrap>
                <Figure size={12}>{minutes(done)}</Figure> of <Figure size={12}>{Math.round(planned) || 1}</Figure> min
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
        );
      })}
    </Box>
  );
}

function Ticks({ planned, done, here }: { planned: number; done: number; here: boolean }) {
  const count = Math.max(1, Math.round(planned));
  return (
    <Box aria-hidden sx={{ position: "absolute", left: 0, right: 0, bottom: 0, height: 9, color: "text.secondary" }}>
      <Box sx={{ position: "absolute", left: 0, bottom: 0, height: 5,
        width: `${Math.min(100, (100 * done) / planned)}%`, bgcolor: here ? "primary.main" : "text.secondary" }} />
      {count > 1 && Array.from({ length: count - 1 }, (_, i) => (
        <Box key={i} sx={{ position: "absolute", bottom: 0, left: `${(100 * (i + 1)) / count}%`, width: "1px",
          height: (i + 1) % 5 === 0 ? 9 : 5, bgcolor: "currentColor", opacity: 0.6 }} />
      ))}
    </Box>
  );
}
