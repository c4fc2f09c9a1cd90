import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import { useState, type ReactNode } from "react";
import type { FormatInfo, JobState, Piece, Schemas } from "../../api/client";
import { cancel } from "../../api/jobs";
import { tell, tellProblem } from "../../api/notice";
import { deliver } from "./deliver";

type Request = Partial<Schemas["DeliveryRequest"]> & Pick<Schemas["DeliveryRequest"], "format">;

/** Files of a piece are written one at a time, and said to be there or not. */
export function useDelivery(piece: Piece) {
  const [job, setJob] = useState<JobState | null>(null);
  const start = async (request: Request) => {
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
  return { job, start };
}

/** How far a file is; what else stands in its place while none is written. */
export function DeliveryBar({ job, children }: { job: JobState | null; children?: ReactNode }) {
  return (
    <Box sx={{ minHeight: children ? 48 : 0, flexShrink: 0 }} aria-live="polite">
      {job ? (
        <Box sx={{ display: "grid", gridTemplateColumns: "1fr auto", alignItems: "center", columnGap: 2,
          minHeight: 48 }}>
          <Box>
            <Typography variant="body2">{job.doing || "Waiting"} …</Typography>
            <LinearProgress variant="determinate" value={job.progress * 100} aria-label="Progress"
              sx={{ height: 6, borderRadius: 1 }} />
          </Box>
          <Button variant="outlined" onClick={() => void cancel(job)}>Cancel</Button>
        </Box>
      ) : children}
    </Box>
  );
}

/** A kind of file, what it is good for, and the button that has it written. */
export function DeliveryLine({ format, main = false, disabled, onStart }: { format: Pick<FormatInfo, "label" | "hint">;
  main?: boolean; disabled: boolean; onStart: () => void }) {
  return (
    <Box component="li" sx={{ display: "grid", gridTemplateColumns: "1fr auto", columnGap: 1.5, alignItems: "center",
      minHeight: 44, borderTop: 1, borderColor: "divider", py: 0.5 }}>
      <Box><b>{format.label}</b><Typography variant="body2">{format.hint}</Typography></Box>
      <Button variant={main ? "contained" : "outlined"} disabled={disabled} aria-label={`Deliver ${format.label}`}
        onClick={onStart}>Deliver</Button>
    </Box>
  );
}
