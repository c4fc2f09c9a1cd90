import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Piece, Step } from "../api/client";
import { tellProblem } from "../api/notice";
import { usePlace, useSeriesWork, type SeriesPlace } from "../api/series";
import { deliver } from "../steps/deliver/deliver";
import { Figure } from "../theme/Figure";
import { Key } from "../ui/Key";
import { useKeys } from "../ui/useKeys";
import { IN_SERIES } from "./keys";

/** Where a piece is in its series, with its neighbours a key away. */
export function SeriesBar({ piece, step }: { piece: Piece; step: Step }) {
  const { data: place } = usePlace(piece.id, piece.revision);
  return place ? <Bar piece={piece} step={step} place={place} /> : null;
}

const NAMES: Record<string, string> = { lines: "lines", passes: "method", delivery: "stack", fill: "fill",
  light: "light", background: "ground" };

function Bar({ piece, step, place }: { piece: Piece; step: Step; place: SeriesPlace }) {
  const navigate = useNavigate();
  const work = useSeriesWork(place.series);
  const [busy, setBusy] = useState(false);
  const go = (to: number | null | undefined) => { if (to) void navigate(`/piece/${to}/${step}`); };
  const goOn = async () => {
    setBusy(true);
    try {
      await deliver(piece, { format: "ora" }, () => undefined);
      if (place.after) void navigate(`/piece/${place.after}/parts`);
      else void navigate(`/series/${place.series}`);
    } catch (error) {
      tellProblem(error);
    } finally {
      setBusy(false);
    }
  };
  useKeys(IN_SERIES.before, () => go(place.before));
  useKeys(IN_SERIES.after, () => go(place.after));
  useKeys(IN_SERIES.goOn, () => { if (!busy) void goOn(); });
  const plain = { minHeight: 30, py: 0 } as const;
  return (
    <Box component="section" aria-label="In its series" sx={{ display: "flex", alignItems: "center", gap: 1, px: 1,
      height: 38, flexShrink: 0, bgcolor: "background.paper", borderBottom: 1, borderColor: "divider" }}>
      <Button color="inherit" component={Link} to={`/series/${place.series}`} sx={plain}>{place.title}</Button>
      <Button color="inherit" disabled={!place.before} onClick={() => go(place.before)} sx={plain}>Before<Key
        of={IN_SERIES.before} /></Button>
      <Typography variant="body2"><Figure size={12}>{place.number}</Figure> of <Figure
        size={12}>{place.count}</Figure></Typography>
      <Button color="inherit" disabled={!place.after} onClick={() => go(place.after)} sx={plain}>After<Key
        of={IN_SERIES.after} /></Button>
      <Typography variant="body2" noWrap sx={{ flex: 1, minWidth: 0 }}>{[place.scene && `plays in ${place.scene}`,
        place.doubts.length > 0 && `${place.doubts.length} ${place.doubts.length === 1 ? "area" : "areas"} to look at`]
        .filter(Boolean).join(" · ")}</Typography>
      {place.own.length > 0 && <>
        <Typography variant="body2" sx={{ color: "primary.main", fontWeight: 600 }} noWrap>its own: {place.own.map(
          (w) => NAMES[w] ?? w).join(", ")}</Typography>
        <Button sx={plain} disabled={work.job !== null} onClick={() => void work.followAgain([piece.id], place.own)}>
          Follow</Button>
        <Button color="inherit" sx={plain} disabled={work.job !== null} onClick={() => void work.shareFrom(piece.id,
          place.own)}>Share it</Button>
      </>}
      <Button variant="outlined" disabled={busy} onClick={() => void goOn()} sx={plain}>{busy ? "Delivering"
        : place.after ? "Deliver and go on" : "Deliver, to the wall"}<Key of={IN_SERIES.goOn} /></Button>
    </Box>
  );
}
