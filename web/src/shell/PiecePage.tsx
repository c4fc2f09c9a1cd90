import Box from "@mui/material/Box";
import { useEffect, useState } from "react";
import { Navigate, useNavigate, useParams } from "react-router";
import { toProblem, type Piece, type Step } from "../api/client";
import { useChanges, usePiece } from "../api/pieces";
import { GLANCES } from "../picture/keys";
import { useGlanceKeys } from "../picture/useGlanceKeys";
import { useKeys } from "../ui/useKeys";
import { GlanceBar } from "./GlanceBar";
import { Help } from "./Help";
import { PIECE } from "./keys";
import { References } from "./References";
import { useBeside } from "./useBeside";
import { LostPage } from "./LostPage";
import { StepBoundary } from "./StepBoundary";
import { fetchSteps, STEPS } from "./steps";
import { Tape } from "./Tape";
import { SeriesBar } from "../series/SeriesBar";
import { LargeClock } from "../clock/LargeClock";
import { toggleLarge, togglePause } from "../clock/state";
import { useWorkClock } from "../clock/useWorkClock";

const IDLE_MS = 1500;

export function PiecePage() {
  const { id, step } = useParams();
  const number = Number(id);
  const { data: piece, error } = usePiece(number);
  const entry = STEPS.find((s) => s.key === step);
  if (!Number.isInteger(number)) return <LostPage />;
  if (error && !piece) return <LostPage detail={toProblem(error).message} />;
  if (!entry) return <Navigate to={`/piece/${id}/colour`} replace />;
  if (!piece) return null;
  return <PieceDesk key={piece.id} piece={piece} step={entry.key} />;
}

function PieceDesk({ piece, step }: { piece: Piece; step: Step }) {
  const navigate = useNavigate();
  const changes = useChanges(piece.id);
  const [help, setHelp] = useState(false);
  const { beside, toggle } = useBeside();
  useWorkClock(piece.id, step);
  useGlanceKeys(GLANCES);
  useKeys(PIECE.undo, changes.undo);
  useKeys(PIECE.redo, changes.redo);
  useKeys(PIECE.references, toggle);
  useKeys(PIECE.large, toggleLarge);
  useKeys(PIECE.pause, togglePause);
  useKeys(PIECE.help, () => setHelp(true));
  useKeys(PIECE.step, (key) => {
    const next = STEPS[PIECE.step.on.indexOf(key)];
    if (next) void navigate(`/piece/${piece.id}/${next.key}`);
  });
  useEffect(() => {
    const idle = setTimeout(fetchSteps, IDLE_MS);
    return () => clearTimeout(idle);
  }, []);
  const { Screen, label } = STEPS.find((s) => s.key === step) ?? {};
  return (
    <Box sx={{ height: "100%", display: "flex", flexDirection: "column" }}>
      <title>{`${piece.title} · Wardrobe`}</title>
      <Tape piece={piece} step={step} />
      <SeriesBar piece={piece} step={step} />
      <LargeClock piece={piece} step={step} />
      <Box component="main" sx={{ flex: 1, minHeight: 0, display: "flex" }}>
        {beside && <References piece={piece} onClose={toggle} />}
        {Screen && label && <StepBoundary key={step} label={label}><Screen piece={piece} /></StepBoundary>}
      </Box>
      <GlanceBar piece={piece} changes={changes} beside={beside} onBeside={toggle}
        onHelp={() => setHelp(true)} />
      <Help open={help} onClose={() => setHelp(false)} />
    </Box>
  );
}
