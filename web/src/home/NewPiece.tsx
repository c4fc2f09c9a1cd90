import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import LinearProgress from "@mui/material/LinearProgress";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { toProblem, type JobState, type Piece } from "../api/client";
import { cancel, follow, send } from "../api/jobs";
import { usePlans } from "../api/time";
import { sum } from "../clock/useStanding";
import { DrawingSeen } from "./DrawingSeen";
import { BringIn, isArchive, isLayered } from "./BringIn";
import { Choice } from "../ui/Choice";
import { FileButton } from "../ui/FileButton";
import { looksColoured, smallPixels } from "./looksColoured";

const ACCEPT = ".png,.jpg,.jpeg,.webp,.tif,.tiff,.svg,.ora,.zip,image/*";

type What = "lines" | "coloured";
const WHAT: { value: What; label: string }[] = [{ value: "lines", label: "Line art" },
  { value: "coloured", label: "A coloured picture" }];
const SAID: Record<What, string> = {
  lines: "It is cut into parts, and gets its first colours.",
  coloured: "It stays as it came: lines, parts, shade and light are read from it, to be judged and changed.",
};

const nameOf = (file: File | null) => file?.name.replace(/\.[^.]+$/, "").replace(/[_-]+/g, " ") ?? "";

interface Props {
  file: File | null;
  /** The piece whose card, light, method, stack and plan the new one begins with. */
  like?: Piece;
  onClose: () => void;
}

export function NewPiece({ file: dropped, like, onClose }: Props) {
  const [file, setFile] = useState(dropped);
  const [title, setTitle] = useState(nameOf(dropped));
  const [minutes, setMinutes] = useState(String(like?.planned_minutes ?? 40));
  const [plan, setPlan] = useState("usual");
  const { data: plans = [] } = usePlans();
  const [edge, setEdge] = useState("3508");
  const [what, setWhat] = useState<What>("lines");
  const [job, setJob] = useState<JobState | null>(null);
  const [error, setError] = useState<string | null>(null);
  const navigate = useNavigate();
  const client = useQueryClient();
  const isSvg = file?.name.toLowerCase().endsWith(".svg") || file?.type === "image/svg+xml";
  const goodMinutes = Number(minutes) > 0 && Number(minutes) <= 6000;
  const goodEdge = !isSvg || (Number(edge) >= 200 && Number(edge) <= 12000);

  const start = async () => {
    if (!file) return;
    setError(null);
    try {
      const done = await follow(await send("/api/pieces", { file, title: title.trim(), planned_minutes: minutes,
        long_edge: edge, ...(like ? { like: String(like.id) } : {}),
        ...(!like && plan !== "usual" ? { plan } : {}),
        ...(what === "coloured" ? { coloured: "true" } : {}) }), setJob);
      if (done.state === "done" && done.piece) {
        await client.invalidateQueries({ queryKey: ["pieces"] });
        onClose();
        void navigate(`/piece/${done.piece}/${what === "coloured" ? "check" : "parts"}`);
      }
    } catch (problem) {
      setError(toProblem(problem).message);
    } finally {
      setJob(null);
    }
  };

  // Not a drawing: a stack, or a piece that was put away.
  if (file && (isLayered(file) || isArchive(file))) return <BringIn file={file} onClose={onClose} />;

  return (
    <Dialog open onClose={() => !job && onClose()} maxWidth="xs" fullWidth>
      <DialogTitle>{like ? "The next piece" : "New piece"}</DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 2, overflow: "visible" }}>
        <FileButton label="Line art" accept={ACCEPT} variant="outlined" disabled={job !== null}
          sx={{ height: 64, borderStyle: "dashed", overflow: "hidden" }}
          onFiles={([next = null]) => {
            setFile(next);
            setWhat("lines"); // until it has been looked at, which the browser cannot with each
            setError(null);
            if (!title) setTitle(nameOf(next));
          }}>
          {file ? file.name : "Choose a drawing: PNG, JPEG, WebP, TIFF, SVG"}
        </FileButton>
        {file && <DrawingSeen file={file} job={job} onSeen={(image) => {
          if (!like) setWhat(looksColoured(smallPixels(image)) ? "coloured" : "lines");
        }} />}
        {file && !like && (
          <Box>
            <Choice label="What it is" wide value={what} options={WHAT} onChange={setWhat} />
            <Typography variant="body2" sx={{ mt: 0.5 }}>{SAID[what]}</Typography>
          </Box>
        )}
        <TextField label="Title" value={title} disabled={job !== null} onChange={(e) => setTitle(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 120 } }} />
        <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 2 }}>
          {!like && <TextField select label="Plan" value={plans.length ? plan : ""} disabled={job !== null}
            sx={{ gridColumn: "1 / -1" }}
            onChange={(e) => {
              setPlan(e.target.value);
              const chosen = plans.find((p) => p.key === e.target.value);
              if (chosen) setMinutes(String(Math.round(sum(chosen.minutes) * 10) / 10));
            }}>
            {plans.map((p) => <MenuItem key={p.key} value={p.key}>{p.name}</MenuItem>)}
          </TextField>}
          <TextField label="Planned minutes" value={minutes} error={!goodMinutes} disabled={job !== null}
            onChange={(e) => setMinutes(e.target.value)} slotProps={{ htmlInput: { inputMode: "numeric" } }} />
          {isSvg && <TextField label="Long edge, px" value={edge} error={!goodEdge} disabled={job !== null}
            onChange={(e) => setEdge(e.target.value)} slotProps={{ htmlInput: { inputMode: "numeric" } }} />}
        </Box>
        {like && <Typography variant="body2">It begins with the card, light,
          method, stack and plan of “{like.title}”.</Typography>}
        {!like && !file && <Typography variant="body2">A layered file (.ora) is opened, and the archive of a piece
          (.zip) is brought back.</Typography>}
        {error && <Alert severity="warning" variant="outlined">{error} Nothing was saved.</Alert>}
        {job && (
          <Box aria-live="polite">
            <Typography variant="body2">{job.doing || "Waiting"} …</Typography>
            <LinearProgress variant="determinate" value={job.progress * 100} aria-label="Progress"
              sx={{ height: 6, borderRadius: 1, mt: 0.5 }} />
          </Box>
        )}
      </DialogContent>
      <DialogActions sx={{ px: 3, pb: 2 }}>
        <Button color="inherit" onClick={() => (job ? void cancel(job) : onClose())}>Cancel</Button>
        <Button variant="contained" disabled={!file || !title.trim() || !goodMinutes || !goodEdge || job !== null}
          onClick={() => void start()}>Start</Button>
      </DialogActions>
    </Dialog>
  );
}
