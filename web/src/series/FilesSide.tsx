import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Series, useSeriesWork } from "../api/series";
import { StickerFields } from "../steps/deliver/paper/StickerFields";
import { Seam } from "../theme/Seam";

const FORMS = [["png frames", "PNG sequence", "One file a frame, numbered, in a ZIP; nothing is lost."],
  ["webp", "Animated WebP", "One file that moves, each picture as long as it is held."],
  ["webm", "WebM", "A film in an open format."], ["mp4", "MP4", "A film for everywhere."]] as const;
const SHEETS = [["stickers pdf", "PDF"], ["stickers png", "PNG"], ["cut lines", "Cut lines, SVG"]] as const;
const STAGES = [["flats", "Flats", "Carry parts over where they are not kept yet."],
  ["shade", "Shade", "Work every shape out at full size."],
  ["deliver", "Deliver", "Layered file and picture of each, in a ZIP."]] as const;

/** Frames in their order as files, and stages of work over all pictures. */
export function FilesSide({ series, picked, work }: { series: Series; picked: number[];
  work: ReturnType<typeof useSeriesWork> }) {
  const [edge, setEdge] = useState("");
  const [stages, setStages] = useState<ReadonlySet<string>>(new Set(["flats", "shade"]));
  const [layout, setLayout] = useState({ border: 3, gap: 4, largest: 1000, copies: 1 });
  const [rate, setRate] = useState<string | null>(null);
  const fps = Number(rate ?? series.shared.fps);
  const badRate = !(fps >= 1 && fps <= 60);
  const keepRate = () => {
    if (rate !== null && !badRate && fps !== series.shared.fps) void work.share({ ...series.shared, fps });
    if (!badRate) setRate(null);
  };
  const busy = work.job !== null || series.members.length === 0;
  const size = Number(edge);
  return (
    <>
      <Typography variant="h2" sx={{ mb: 0.5 }}>Frames</Typography>
      <Typography variant="body2" sx={{ mb: 1.5 }}>{picked.length > 0 ? "The chosen pictures" : "All pictures"} in
        their order, each for as many frames as it is held.</Typography>
      <Box sx={{ display: "flex", gap: 1.5, mb: 1 }}>
        <TextField label="Frames a second" value={rate ?? series.shared.fps} error={badRate}
          onChange={(e) => setRate(e.target.value)} onBlur={keepRate}
          onKeyDown={(e) => { if (e.key === "Enter") keepRate(); if (e.key === "Escape") setRate(null); }}
          slotProps={{ htmlInput: { inputMode: "decimal" } }} sx={{ width: 140 }} />
        <TextField label="Longer edge, px" placeholder="as drawn" value={edge} onChange={(e) => setEdge(e.target.value)}
          slotProps={{ inputLabel: { shrink: true } }} error={edge !== "" && !(size >= 64 && size <= 12000)}
          sx={{ flex: 1 }} />
      </Box>
      {FORMS.map(([format, label, hint]) => (
        <Box key={format} sx={{ display: "flex", alignItems: "center", gap: 1, py: 0.5 }}>
          <Box sx={{ flex: 1 }}>
            <Typography variant="h3">{label}</Typography>
            <Typography variant="body2">{hint}</Typography>
          </Box>
          <Button variant="outlined" aria-label={`Write ${label}`} disabled={busy || (edge !== ""
            && !(size >= 64 && size <= 12000))} onClick={() => void work.write({ format,
            long_edge: edge === "" ? null : Math.round(size), pieces: picked })}>Write</Button>
        </Box>
      ))}
      <Seam />
      <Typography variant="h2" sx={{ mb: 0.5 }}>One sheet</Typography>
      <Typography variant="body2" sx={{ mb: 1.25 }}>The figures of {picked.length > 0 ? "the chosen pictures"
        : "all pictures"} side by side, on the paper of the first one, with lines to cut along.</Typography>
      <StickerFields layout={layout} onChange={setLayout} />
      <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
        {SHEETS.map(([format, label]) => <Button key={format} variant="outlined" disabled={busy}
          onClick={() => void work.write({ format, long_edge: null, pieces: picked, stickers: layout })}>{label}
        </Button>)}
      </Box>
      <Seam />
      <Typography variant="h2" sx={{ mb: 0.5 }}>A batch</Typography>
      <Typography variant="body2" sx={{ mb: 1 }}>Stages of work over {picked.length > 0 ? "the chosen pictures"
        : "all pictures"}. What is done is not done again; what fails is listed, and the rest goes on.</Typography>
      {STAGES.map(([key, label, hint]) => (
        <FormControlLabel key={key} sx={{ display: "flex", mr: 0, alignItems: "flex-start" }} control={<Checkbox
          checked={stages.has(key)} sx={{ pt: 0.25 }} onChange={(_, on) => {
            const next = new Set(stages);
            if (on) next.add(key);
            else next.delete(key);
            setStages(next);
          }} />} label={<><Typography variant="h3" component="span">{label}</Typography><Typography variant="body2">
          {hint}</Typography></>} />
      ))}
      <Button variant="contained" sx={{ mt: 1 }} disabled={busy || stages.size === 0} onClick={() => void work.batch({
        stages: STAGES.map(([key]) => key).filter((key) => stages.has(key)), pieces: picked })}>Start</Button>
    </>
  );
}
