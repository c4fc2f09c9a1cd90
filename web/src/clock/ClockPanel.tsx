import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Piece, Step } from "../api/client";
import { useSittings } from "../api/time";
import { PIECE } from "../shell/keys";
import { STEPS } from "../shell/steps";
import { Figure } from "../theme/Figure";
import { Choice } from "../ui/Choice";
import { Key } from "../ui/Key";
import { Breaks } from "./Breaks";
import { PlanSide } from "./PlanSide";
import { Sittings } from "./Sittings";
import { toggleLarge, togglePause, useRunning, useWishes } from "./state";
import type { Planning } from "./usePlanning";
import type { Standing } from "./useStanding";
import { told } from "./words";

type Side = "now" | "plan" | "time" | "breaks";
const SIDES: { value: Side; label: string }[] = [{ value: "now", label: "Now" }, { value: "plan", label: "Plan" },
  { value: "time", label: "Sittings" }, { value: "breaks", label: "Breaks" }];

/** Everything about the time of a piece. */
export function ClockPanel(props: { piece: Piece; step: Step; standing: Standing; planning: Planning }) {
  const [side, setSide] = useState<Side>("now");
  return (
    <>
      <Choice label="What of time" wide value={side} options={SIDES} onChange={setSide} sx={{ mb: 1.5 }} />
      {side === "now" && <Now {...props} />}
      {side === "plan" && <PlanSide {...props} />}
      {side === "time" && <Sittings piece={props.piece} step={props.step} />}
      {side === "breaks" && <Breaks standing={props.standing} />}
    </>
  );
}

function Now({ piece, step, standing }: { piece: Piece; step: Step; standing: Standing }) {
  const { paused, doing, away } = useRunning();
  const { large, alarm } = useWishes();
  const { add } = useSittings(piece.id);
  const { state, spent, total, planned } = standing;
  const label = STEPS.find((s) => s.key === step)?.label ?? step;
  const count = async (minutes: number) => {
    useRunning.setState({ away: null });
    await add(step, minutes, "away from the screen");
  };
  return (
    <>
      <Typography variant="h2" component="p" role="status">{state.pace.words}</Typography>
      <Typography variant="body1" sx={{ mt: 0.5 }}><Figure>{told(total)}</Figure> of <Figure>{told(planned)}</Figure>
        {state.plan.due && `; due ${state.plan.due}`}{state.plan.occasion && `, for ${state.plan.occasion}`}.{" "}
        {label}: <Figure>{told(spent[step] ?? 0)}</Figure> of{" "}
        <Figure>{told(state.plan.minutes[step] ?? 0)}</Figure>.</Typography>
      <Typography variant="body2" sx={{ mt: 0.5 }}>{paused ? "The clock is stopped." : doing === "work" ? "Counting."
        : doing === "look" ? "Hands off for a while: counted as looking." : "Nobody is here: not counted."}</Typography>
      {away !== null && (
        <Box role="group" aria-label="Time away" sx={{ mt: 1.5, p: 1, border: "2px dashed", borderColor: "primary.main",
          borderRadius: 1, display: "flex", alignItems: "center", gap: 1 }}>
          <Typography sx={{ flex: 1 }}>You were away for <Figure>{told(away)}</Figure>.</Typography>
          <Button size="small" variant="outlined" onClick={() => void count(away)}>It was work</Button>
          <Button size="small" color="inherit" onClick={() => useRunning.setState({ away: null })}>Leave it
            out</Button>
        </Box>
      )}
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mt: 2 }}>
        <Button variant="outlined" onClick={togglePause}>{paused ? "Let it run" : "Stop the clock"}<Key
          of={PIECE.pause} /></Button>
        <Button variant="outlined" aria-pressed={large} onClick={toggleLarge}>{large ? "Hide the large clock"
          : "Large clock"}<Key of={PIECE.large} /></Button>
      </Box>
      <FormControlLabel sx={{ mt: 1 }} label="Tell when a step’s time is used up" control={<Switch size="small"
        checked={alarm} onChange={(_, on) => useWishes.setState({ alarm: on })} />} />
    </>
  );
}
