import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { Piece, Step } from "../api/client";
import { PIECE } from "../shell/keys";
import { STEPS } from "../shell/steps";
import { NUMERALS } from "../theme/theme";
import { Key } from "../ui/Key";
import { toggleLarge, togglePause, useRunning, useWishes } from "./state";
import { useStanding } from "./useStanding";
import { countdown } from "./words";

/** A countdown that is read from two metres, above the picture; what is over is counted on. */
export function LargeClock({ piece, step }: { piece: Piece; step: Step }) {
  const large = useWishes((s) => s.large);
  return large ? <Band piece={piece} step={step} /> : null;
}

function Band({ piece, step }: { piece: Piece; step: Step }) {
  const standing = useStanding(piece, step);
  const { paused, doing } = useRunning();
  if (!standing) return null;
  const { state, spent, total, planned } = standing;
  const label = STEPS.find((s) => s.key === step)?.label ?? step;
  const inStep = (state.plan.minutes[step] ?? 0) - (spent[step] ?? 0);
  return (
    <Box component="section" aria-label="Large clock" sx={{ display: "flex", alignItems: "center", gap: 4, px: 3,
      height: 112, bgcolor: "background.paper", borderBottom: 1, borderColor: "divider", overflow: "hidden" }}>
      <Digits minutes={planned - total} what="left of the piece" />
      <Digits minutes={inStep} what={`left of ${label}`} />
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <Typography variant="h2" component="p" role="status">{paused ? "The clock is stopped."
          : state.pace.words}</Typography>
        <Typography variant="body2">{paused ? "" : doing === "look" ? "Looking, hands off: it counts."
          : doing === "away" ? "Nobody is here: it does not count." : ""}</Typography>
      </Box>
      <Button variant="outlined" onClick={togglePause}>{paused ? "Go on" : "Stop"}<Key of={PIECE.pause} /></Button>
      <Button color="inherit" onClick={toggleLarge}>Small<Key of={PIECE.large} /></Button>
    </Box>
  );
}

function Digits({ minutes, what }: { minutes: number; what: string }) {
  return (
    <Box sx={{ flexShrink: 0 }}>
      <Box role="timer" aria-label={what} sx={{ fontFamily: NUMERALS, fontWeight: 500, fontSize: 76, lineHeight: 1,
        letterSpacing: "-0.06em", color: minutes < 0 ? "primary.main" : "text.primary",
        fontVariantNumeric: "tabular-nums" }}>{countdown(minutes)}</Box>
      <Typography variant="body2">{minutes < 0 ? what.replace("left of", "over") : what}</Typography>
    </Box>
  );
}
