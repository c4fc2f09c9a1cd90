import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import LinearProgress from "@mui/material/LinearProgress";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { FormatInfo, JobState, Piece, Schemas } from "../../api/client";
import { cancel } from "../../api/jobs";
import { tell, tellProblem } from "../../api/notice";
import { useChanges, useMeta } from "../../api/pieces";
import { PictureView } from "../../picture/PictureView";
import { Workplace } from "../../shell/Workplace";
import { Figure } from "../../theme/Figure";
import { Seam } from "../../theme/Seam";
import { choose, deliver } from "./deliver";
import type { SideProps } from "../StepProps";

type Request = Schemas["DeliveryRequest"];

const GROUPS = { layered: "Layered, to work on", flat: "Flat, to show and print",
  beside: "Beside the drawing", replay: "How it was made, as a film" } as const;
const INCH = 2.54;
const ARCHIVE = { key: "archive", label: "Archive of the piece",
  hint: "Recipe, history, pictures and renders in one ZIP, to keep or to take to another machine.",
    options: [] as string[] } as const;

/** Files to choose from, and how large they are on paper. */
export function Files({ piece, tabs }: SideProps) {
  const formats = useMeta().data?.formats ?? [];
  const [job, setJob] = useState<JobState | null>(null);
  const [edge, setEdge] = useState("");
  const [clear, setClear] = useState(false);
  const [quality, setQuality] = useState("");
  const [film, setFilm] = useState({ seconds: "20", hold: "1", captions: true });
  const badFilm = !(Number(film.seconds) >= 2 && Number(film.seconds) <= 300 && film.hold.trim() !== ""
    && Number(film.hold) >= 0 && Number(film.hold) <= 10);
  const badEdge = edge !== "" && !(Number(edge) >= 64 && Number(edge) <= 16_000);
  const badQuality = quality !== "" && !(Number(quality) >= 1 && Number(quality) <= 100);

  const start = async (format: Request["format"], options: readonly string[]) => {
    const request: Partial<Request> & Pick<Request, "format"> = {
      format,
      long_edge: options.includes("long_edge") && edge ? Math.round(Number(edge)) : null,
      clear_ground: options.includes("clear_ground") && clear,
      quality: options.includes("quality") && quality ? Math.round(Number(quality)) : null,
      ...(options.includes("replay") && { replay: { seconds: Number(film.seconds), fps: 24, hold: Number(film.hold),
        captions: film.captions } }),
    };
    try {
      const done = await deliver(piece, request, setJob);
      if (done.state === "cancelled") tell("Stopped. No file was written.");
      else tell(`${done.file_name ?? "The file"} is in your downloads.`);
    } catch (error) {
      tellProblem(error);
    } finally {
      setJob(null);
    }
  };
  const line = (f: Pick<FormatInfo, "key" | "label" | "hint"> & { options: readonly string[] }) => (
    <Box component="li" key={f.key}
      sx={{ display: "grid", gridTemplateColumns: "1fr auto", columnGap: 1.5, alignItems: "center", minHeight: 44,
        borderTop: 1, borderColor: "divider", py: 0.5 }}>
      <Box><b>{f.label}</b><Typography variant="body2">{f.hint}</Typography></Box>
      <Button variant={f.key === "ora" ? "contained" : "outlined"} disabled={job !== null || badEdge || badQuality
        || (badFilm && f.options.includes("replay"))}
        aria-label={`Deliver ${f.label}`} onClick={() => void start(f.key, f.options)}>Deliver</Button>
    </Box>
  );
  return (
    <Workplace title="Files" lead="Every file says that it is sRGB, and how large it is on paper."
      picture={<PictureView piece={piece} kind="picture" />}>
      {tabs}
      <Box sx={{ minHeight: 48, flexShrink: 0 }} aria-live="polite">
        {job ? (
          <Box sx={{ display: "grid", gridTemplateColumns: "1fr auto", alignItems: "center", columnGap: 2 }}>
            <Box>
              <Typography variant="body2">{job.doing || "Waiting"} …</Typography>
              <LinearProgress variant="determinate" value={job.progress * 100} aria-label="Progress"
                sx={{ height: 6, borderRadius: 1 }} />
            </Box>
            <Button variant="outlined" onClick={() => void cancel(job)}>Cancel</Button>
          </Box>
        ) : <Paper piece={piece} />}
      </Box>
      {(Object.keys(GROUPS) as (keyof typeof GROUPS)[]).map((group) => (
        <Box key={group} component="section" aria-label={GROUPS[group]}>
          <Seam />
          <Typography variant="h3" component="h2" sx={{ mb: 0.75 }}>{GROUPS[group]}</Typography>
          {group === "flat" && (
            <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1, my: 1 }}>
              <TextField label="Long edge, px" placeholder={String(Math.max(piece.width, piece.height))} value={edge}
                error={badEdge} onChange={(e) => setEdge(e.target.value)} sx={{ width: 112 }}
                  slotProps={{ htmlInput: { inputMode: "numeric" }, inputLabel: { shrink: true } }} />
              <TextField label="WebP quality" placeholder="lossless" value={quality} error={badQuality}
                onChange={(e) => setQuality(e.target.value)} sx={{ width: 104 }}
                  slotProps={{ htmlInput: { inputMode: "numeric" }, inputLabel: { shrink: true } }} />
              <FormControlLabel control={<Checkbox checked={clear} onChange={(_, on) => setClear(on)} />}
                label="Without ground" />
            </Box>
          )}
          {group === "replay" && (
            <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1, my: 1 }}>
              <TextField label="Seconds" value={film.seconds} onChange={(e) => setFilm({ ...film,
                seconds: e.target.value })} sx={{ width: 84 }} slotProps={{ htmlInput: { inputMode: "decimal" } }} />
              <TextField label="Hold each stage, s" value={film.hold} onChange={(e) => setFilm({ ...film,
                hold: e.target.value })} sx={{ width: 128 }} slotProps={{ htmlInput: { inputMode: "decimal" } }} />
              <TextField label="Long edge, px" placeholder="1080" value={edge} error={badEdge}
                onChange={(e) => setEdge(e.target.value)} sx={{ width: 112 }}
                slotProps={{ htmlInput: { inputMode: "numeric" }, inputLabel: { shrink: true } }} />
              <FormControlLabel control={<Checkbox checked={film.captions} onChange={(_, on) => setFilm({ ...film,
                captions: on })} />} label="Captions" />
            </Box>
          )}
          <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>{formats.filter((f) => f.group ===
            group).map(line)}</Box>
        </Box>
      ))}
      <Seam />
      <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>{line(ARCHIVE)}</Box>
    </Workplace>
  );
}

/** Resolution, and the size on paper that follows from it; typing one changes the other. */
function Paper({ piece }: { piece: Piece }) {
  const { edit } = useChanges(piece.id);
  const [typed, setTyped] = useState<string | null>(null);
  const dpi = piece.recipe.delivery?.dpi ?? 300;
  const text = typed ?? String(dpi);
  const bad = !(Number(text) >= 36 && Number(text) <= 2400);
  const keep = () => {
    if (!bad && Math.round(Number(text)) !== dpi) void
      edit(choose(() => ({ dpi: Math.round(Number(text)) }))).then(() => setTyped(null));
    else if (!bad) setTyped(null);
  };
  const cm = (px: number) => ((px / (bad ? dpi : Number(text))) * INCH).toFixed(1);
  const inch = (px: number) => (px / (bad ? dpi : Number(text))).toFixed(2);
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 1.5 }}>
      <TextField label="Resolution, dpi" value={text} error={bad} onChange={(e) => setTyped(e.target.value)}
        onBlur={keep} onKeyDown={(e) => { if (e.key === "Enter") keep(); }} sx={{ width: 124 }}
          slotProps={{ htmlInput: { inputMode: "numeric" } }} />
      <Box sx={{ lineHeight: 1.35 }}>
        <Figure>{piece.width} × {piece.height} px</Figure><br />
        <Figure>{cm(piece.width)} × {cm(piece.height)} cm</Figure>,{" "}
        <Figure>{inch(piece.width)} × {inch(piece.height)} in</Figure>
      </Box>
    </Box>
  );
}
