import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Slider from "@mui/material/Slider";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { api, need, type JobState, type Piece } from "../../api/client";
import { cancel, follow } from "../../api/jobs";
import { tell, tellProblem } from "../../api/notice";
import { useChanges, useStack } from "../../api/pieces";
import { PictureView } from "../../picture/PictureView";
import type { StepProps } from "../StepProps";
import { Workplace } from "../../shell/Workplace";
import { Figure } from "../../theme/Figure";
import { Seam } from "../../theme/Seam";
import { StackList } from "./StackList";

const FILES = [
  { format: "ora", label: "OpenRaster", hint: "Every layer, named and clipped." },
  { format: "png", label: "PNG, flat", hint: "The picture, at full size." },
  { format: "silhouette", label: "Silhouette, PNG", hint: "White where the figure is." },
] as const;

type Format = (typeof FILES)[number]["format"];

export function DeliverStep({ piece }: StepProps) {
  const { data: stack } = useStack(piece);
  const [job, setJob] = useState<JobState | null>(null);
  const { width, height } = piece;

  const start = async (format: Format) => {
    try {
      const done = await deliver(piece, format, setJob);
      if (done.state === "cancelled") tell("Stopped. No file was written.");
      else tell(`${done.file_name ?? "The file"} is in your downloads.`);
    } catch (error) {
      tellProblem(error);
    } finally {
      setJob(null);
    }
  };

  return (
    <Workplace title="Deliver" lead="What leaves the house: an ordered, named stack, and flat files."
      picture={<PictureView piece={piece} kind="picture" />}>
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr 1fr", gap: 1.5 }}>
        {FILES.map((file) => (
          <Box key={file.format}>
            <Button fullWidth variant={file.format === "ora" ? "contained" : "outlined"} disabled={job !== null} onClick={() => void start(file.format)}>
              {file.label}
            </Button>
            <Typography variant="body2" sx={{ mt: 0.5, fontSize: 12 }}>{file.hint}</Typography>
          </Box>
        ))}
      </Box>
      <Box sx={{ minHeight: 52, mt: 1 }} aria-live="polite">
        {job ? (
          <Box sx={{ display: "grid", gridTemplateColumns: "1fr auto", alignItems: "center", columnGap: 2 }}>
            <Box>
              <Typography variant="body2">{job.doing || "Waiting"} …</Typography>
              <LinearProgress variant="determinate" value={job.progress * 100} aria-label="Progress" sx={{ height: 6, borderRadius: 1 }} />
            </Box>
            <Button variant="outlined" onClick={() => void cancel(job)}>Cancel</Button>
          </Box>
        ) : (
          <Typography variant="body2">
            <Figure>{width} × {height} px</Figure>, at 300 dpi <Figure>{(width / 300 * 2.54).toFixed(1)} × {(height / 300 * 2.54).toFixed(1)} cm</Figure>, sRGB
          </Typography>
        )}
      </Box>
      <Growth piece={piece} />
      <Seam />
      <StackList stack={stack} />
    </Workplace>
  );
}

/** How far the silhouette's edge lies under the outline. */
function Growth({ piece }: { piece: Piece }) {
  const { edit } = useChanges(piece.id);
  const [drag, setDrag] = useState<number | null>(null);
  const growth = drag ?? piece.recipe.silhouette_growth ?? 2;
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "1fr 130px 48px", alignItems: "center", columnGap: 1.5, mt: 1 }}>
      <Typography variant="body1">Silhouette under the line</Typography>
      <Slider size="small" aria-label="How far the outside is grown under the line, px" value={growth} min={0} max={4} step={0.5}
        onChange={(_, v) => setDrag(v)}
        onChangeCommitted={(_, v) => void edit({ kind: "grow_silhouette", growth: v }).then(() => setDrag(null))} />
      <Box sx={{ textAlign: "right" }}><Figure>{growth.toFixed(1)} px</Figure></Box>
    </Box>
  );
}

async function deliver(piece: Piece, format: Format, onProgress: (job: JobState) => void): Promise<JobState> {
  const job = await need(api.POST("/api/pieces/{piece_id}/deliveries", {
    params: { path: { piece_id: piece.id } }, body: { format },
  }));
  const done = await follow(job, onProgress);
  if (done.state === "done") {
    const link = document.createElement("a");
    link.href = `/api/jobs/${done.id}/file`;
    link.download = done.file_name ?? "";
    link.click();
  }
  return done;
}
