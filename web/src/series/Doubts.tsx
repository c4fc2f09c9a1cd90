import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Edit, Piece } from "../api/client";
import { usePlace, useSeriesWork, type SeriesPlace } from "../api/series";
import { useCamera } from "../picture/camera";
import { Figure } from "../theme/Figure";
import { Key } from "../ui/Key";
import { useKeys } from "../ui/useKeys";
import { IN_SERIES } from "./keys";
import { asAnswer } from "./wall";

type Make = (edit: Edit | ((latest: Piece) => Edit)) => Promise<unknown>;
type Doubt = SeriesPlace["doubts"][number];

/** Areas whose carried part is not sure, the least sure first: one key each. */
export function Doubts({ piece, edit, onPoint }: { piece: Piece; edit: Make;
  onPoint: (at: readonly [number, number] | null) => void }) {
  const { data: place } = usePlace(piece.id, piece.revision);
  if (!place?.sources.length) return null;
  return <Asked key={piece.id} piece={piece} place={place} edit={edit} onPoint={onPoint} />;
}

function Asked({ piece, place, edit, onPoint }: { piece: Piece; place: SeriesPlace;
  edit: Make; onPoint: (at: readonly [number, number] | null) => void }) {
  const work = useSeriesWork(place.series);
  const [skipped, setSkipped] = useState(0);
  const doubts = place.doubts;
  const doubt = doubts.length ? doubts[skipped % doubts.length] : undefined;
  const name = (id: string | null | undefined) => piece.recipe.parts.find((p) => p.id === id)?.name ?? "none of them";
  const answer = (part: string | null | undefined) => {
    if (!doubt) return;
    void edit(asAnswer({ kind: "claim_areas", to: part ?? "none", strokes: [[doubt.place]] }));
  };
  useKeys(IN_SERIES.first, () => answer(doubt?.part));
  useKeys(IN_SERIES.second, () => answer(doubt?.second));
  useKeys(IN_SERIES.none, () => answer(null));
  const keep = async () => {
    await edit({ kind: "keep_parts" });
    await work.carry();
  };
  return (
    <Box role="status" sx={{ border: "2px dashed", borderColor: "primary.main", borderRadius: 1, p: 1.25, mb: 1.5 }}
      onPointerEnter={() => { if (doubt) onPoint(doubt.place); }} onPointerLeave={() => onPoint(null)}>
      <Typography variant="body1">{doubt ? <><Figure>{doubts.length}</Figure> {doubts.length === 1 ? "area is"
        : "areas are"} doubtful.</> : "The parts were carried over, and no area is doubtful."}</Typography>
      <Typography variant="body2">{doubt ? "Say what each is, or sweep over it with the right part. "
        : ""}Kept, they show the next pictures what is what.</Typography>
      {doubt && <Question doubt={doubt} name={name} answer={answer} onLook={() => {
        onPoint(doubt.place);
        lookAt(doubt);
      }} onSkip={() => setSkipped(skipped + 1)} last={doubts.length === 1} />}
      {work.job && <LinearProgress variant="determinate" value={100 * work.job.progress} aria-label="Progress"
        sx={{ height: 6, borderRadius: 1, my: 1 }} />}
      <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
        <Button variant="contained" disabled={work.job !== null} onClick={() => void keep()}>Keep, and carry on</Button>
        <Button color="inherit" disabled={work.job !== null} onClick={() => void work.carry([piece.id])}>Carry over
          again</Button>
      </Box>
    </Box>
  );
}

function Question({ doubt, name, answer, onLook, onSkip, last }: { doubt: Doubt;
  name: (id: string | null | undefined) => string; answer: (part: string | null | undefined) => void;
  onLook: () => void; onSkip: () => void; last: boolean }) {
  return (
    <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1, mt: 1 }}>
      <Button variant="outlined" onClick={() => answer(doubt.part)}>{name(doubt.part)}<Key
        of={IN_SERIES.first} /></Button>
      {doubt.second !== doubt.part && <Button variant="outlined" onClick={() => answer(doubt.second)}>{name(
        doubt.second)}<Key of={IN_SERIES.second} /></Button>}
      {doubt.part !== null && doubt.second !== null && <Button color="inherit" onClick={() => answer(null)}>Neither<Key
        of={IN_SERIES.none} /></Button>}
      <Button color="inherit" onClick={onLook}>Show</Button>
      {!last && <Button color="inherit" onClick={onSkip}>Later</Button>}
      <Typography variant="body2"><Figure size={12}>{Math.round(100 * doubt.chance)}</Figure> % sure</Typography>
    </Box>
  );
}

/** Brings an area into the middle of the canvas. */
function lookAt({ place: [x, y], pixels }: Doubt): void {
  const half = Math.max(80, Math.sqrt(pixels) * 1.5);
  useCamera.getState().show([x - half, y - half, 2 * half, 2 * half]);
}
