import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import Popover from "@mui/material/Popover";
import { useRef, useState } from "react";
import type { Piece, Step } from "../api/client";
import { Figure } from "../theme/Figure";
import { ClockPanel } from "./ClockPanel";
import { useRunning } from "./state";
import type { Planning } from "./usePlanning";
import { useStanding } from "./useStanding";
import { countdown } from "./words";

/** What is left of the plan, ticking; behind it everything about time. */
export function ClockButton({ piece, step, planning }: { piece: Piece; step: Step; planning: Planning }) {
  const standing = useStanding(piece, step);
  const [open, setOpen] = useState(false);
  const anchor = useRef<HTMLButtonElement>(null);
  const { paused, doing, away } = useRunning();
  const left = standing ? standing.planned - standing.total : 0;
  const behind = standing?.state.pace.behind ?? 0;
  const off = standing ? Math.abs(behind) >= 1 && standing.state.pace.words !== "On time." : false;
  return (
    <>
      <ButtonBase ref={anchor} onClick={() => setOpen(true)} aria-haspopup="dialog" aria-expanded={open}
        title="Plan, time and breaks"
        sx={{ px: 2, height: 36, justifyContent: "flex-start", gap: 0.75, color: "text.secondary", fontSize: 13,
          whiteSpace: "nowrap", "&:hover": { color: "text.primary" } }}>
        <Box component="span" aria-hidden sx={{ width: 9, height: 9, borderRadius: "50%", border: 1.5,
          borderColor: paused || doing === "away" ? "text.secondary" : "primary.main",
          bgcolor: doing === "work" && !paused ? "primary.main" : "transparent" }} />
        {standing ? <><Figure size={13}>{countdown(left)}</Figure>{left < 0 ? "over" : "left"}{paused ? ", stopped"
          : away !== null ? ", away?" : off ? `, ${Math.round(Math.abs(behind))} ${behind > 0 ? "behind" : "ahead"}`
            : ""}</> : "Time"}
      </ButtonBase>
      <Popover open={open} onClose={() => setOpen(false)} anchorEl={() => anchor.current}
        anchorOrigin={{ vertical: "bottom", horizontal: "left" }}
        slotProps={{ paper: { role: "dialog", "aria-label": "Plan and time", sx: { width: 460, maxHeight:
          "calc(100vh - 90px)", p: 2, border: 1, borderColor: "divider" } } }}>
        {standing && <ClockPanel piece={piece} step={step} standing={standing} planning={planning} />}
      </Popover>
    </>
  );
}
