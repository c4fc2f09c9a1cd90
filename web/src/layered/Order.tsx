import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, exactly, type StackFinding, type JobState, type LayeredFile } from "../api/client";
import { follow } from "../api/jobs";
import { tell, tellProblem } from "../api/notice";
import { Findings } from "../stack/Findings";

interface Props {
  file: LayeredFile;
  findings: StackFinding[] | undefined;
  lit: number | null;
  onLight: (index: number | null) => void;
}

/** The findings, and repairs that make a new version. */
export function Order({ file, findings, lit, onLight }: Props) {
  const [chosen, setChosen] = useState<ReadonlySet<number> | null>(null);
  const [job, setJob] = useState<JobState | null>(null);
  const navigate = useNavigate();
  const client = useQueryClient();
  if (!findings) return <Typography variant="body2">Looking at names, order, flats, passes, light …</Typography>;
  const safe = findings.flatMap((f, k) => (f.repair ? [k] : []));
  const wanted = chosen ?? new Set<number>();
  const repair = async (which: number[]) => {
    try {
      const done = await follow(await exactly<"/api/layered/{file_id}/repairs", "post">(api.POST(
        "/api/layered/{file_id}/repairs",
        { params: { path: { file_id: file.id } }, body: { findings: which } })), setJob);
      await client.invalidateQueries({ queryKey: ["layered-files"] });
      if (done.layered) {
        tell("A new version was made. The file that came in is as it was.");
        void navigate(`/layered/${done.layered}`);
      }
    } catch (error) {
      tellProblem(error);
    } finally {
      setJob(null);
    }
  };
  return (
    <>
      {safe.length > 0 && (
        <Box sx={{ display: "flex", alignItems: "center", flexWrap: "wrap", gap: 1, mb: 1 }} aria-live="polite">
          <Typography variant="body2" sx={{ width: "100%" }}>{job ? `${job.doing || "Waiting"} …`
            : "Repairs make a new version; this file stays as it is."}</Typography>
          <Button variant="outlined" disabled={job !== null || wanted.size === 0}
            onClick={() => void repair([...wanted])}>Repair chosen</Button>
          <Button variant="contained" disabled={job !== null} onClick={() => void repair(safe)}>Repair
            all {safe.length}</Button>
        </Box>
      )}
      <Findings findings={findings} lit={lit} onLight={onLight} chosen={wanted} onChoose={setChosen} />
    </>
  );
}
