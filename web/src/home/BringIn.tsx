import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { toProblem, type JobState } from "../api/client";
import { cancel, follow, send } from "../api/jobs";

export const isArchive = (file: File) => /\.zip$/i.test(file.name);
export const isLayered = (file: File) => /\.ora$/i.test(file.name);

/** Reads a layered file, or a piece's archive, and goes there. */
export function BringIn({ file, piece, onClose }: { file: File; piece?: number; onClose: () => void }) {
  const archive = isArchive(file);
  const [job, setJob] = useState<JobState | null>(null);
  const [error, setError] = useState<string | null>(null);
  const navigate = useNavigate();
  const client = useQueryClient();
  useEffect(() => {
    let gone = false;
    const read = async () => {
      try {
        const form = { file, ...(archive ? {}
          : { title: file.name.replace(/\.[^.]+$/, "").replace(/[_-]+/g, " ").slice(0, 120) || "layered file",
            ...(piece ? { piece: String(piece) } : {}) }) };
        const done = await follow(await send(archive ? "/api/pieces/restore" : "/api/layered", form),
          (now) => { if (!gone) setJob(now); });
        await client.invalidateQueries({ queryKey: [archive ? "pieces" : "layered-files"] });
        if (gone) return;
        onClose();
        if (done.state === "done") void navigate(archive ? `/piece/${done.piece}` : `/layered/${done.layered}`);
      } catch (problem) {
        if (!gone) setError(toProblem(problem).message);
      }
    };
    void read();
    return () => { gone = true; };
    // The file is read once, when the dialog opens.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [file]);
  return (
    <Dialog open maxWidth="xs" fullWidth onClose={() => error && onClose()}>
      <DialogTitle>{archive ? "Bring back a piece" : "Open a layered file"}</DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 1 }}>
        <Typography noWrap>{file.name}</Typography>
        {error ? <Alert severity="warning" variant="outlined">{error} Nothing was saved.</Alert> : (
          <>
            <Typography variant="body2">{job?.doing || "Sending"} …</Typography>
            <LinearProgress variant={job ? "determinate" : "indeterminate"} value={100 * (job?.progress ?? 0)}
              aria-label="Progress" sx={{ height: 6, borderRadius: 1 }} />
          </>
        )}
      </DialogContent>
      <DialogActions sx={{ px: 3, pb: 2 }}>
        {error ? <Button variant="contained" onClick={onClose}>Close</Button> : <Button color="inherit"
          onClick={() => { if (job) void cancel(job); else onClose(); }}>Cancel</Button>}
      </DialogActions>
    </Dialog>
  );
}
