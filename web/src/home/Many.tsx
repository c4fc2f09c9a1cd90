import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, exactly, need, type JobState, type PieceCard, type Schemas } from "../api/client";
import { cancel, follow } from "../api/jobs";
import { tellProblem } from "../api/notice";
import { Figure } from "../theme/Figure";
import { Naming } from "./SeriesList";

type Filing = Omit<Schemas["FileMany"], "pieces">;

/** What is done with several pieces at once. */
export function Many({ pieces, all, onAll, onNone }: { pieces: PieceCard[]; all: readonly PieceCard[];
  onAll: () => void; onNone: () => void }) {
  const client = useQueryClient();
  const [tag, setTag] = useState("");
  const [asking, setAsking] = useState(false);
  const [naming, setNaming] = useState(false);
  const run = async (work: () => Promise<unknown>) => {
    try {
      await work();
    } catch (error) {
      tellProblem(error);
    }
    await client.invalidateQueries({ queryKey: ["pieces"] });
    await client.invalidateQueries({ queryKey: ["today"] });
  };
  const [job, setJob] = useState<JobState | null>(null);
  const file = (filing: Partial<Filing>) => run(async () => {
    const body = { add: [], remove: [], ...filing, pieces: pieces.map((p) => p.id) };
    await follow(await exactly<"/api/filings", "post">(api.POST("/api/filings", { body })), setJob);
  }).finally(() => setJob(null));
  const remove = async () => {
    setAsking(false);
    await run(async () => {
      for (const { id } of pieces) {
        await need(api.DELETE("/api/pieces/{piece_id}", { params: { path: { piece_id: id } } }));
      }
    });
    onNone();
  };
  const has = tag.trim() !== "" && pieces.every((p) => p.tags.includes(tag.trim()));
  const done = pieces.every((p) => p.state === "done");
  const away = pieces.every((p) => p.away);
  return (
    <Box role="toolbar" aria-label="With the chosen pieces" sx={{ position: "sticky", top: 0, zIndex: 2, mt: 1.5, p: 1,
      display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1, bgcolor: "background.paper",
      border: "2px dashed", borderColor: "primary.main", borderRadius: 1 }}>
      <Typography sx={{ mx: 1 }}><Figure>{pieces.length}</Figure> chosen</Typography>
      {pieces.length < all.length && <Button color="inherit" onClick={onAll}>All <Figure>&nbsp;{all.length}</Figure>
        </Button>}
      <Button color="inherit" onClick={onNone}>None</Button>
      <Box component="form" sx={{ display: "flex", gap: 1 }} onSubmit={(e: React.FormEvent) => { e.preventDefault();
        if (tag.trim()) void file(has ? { remove: [tag.trim()] } : { add: [tag.trim()] }).then(() => setTag("")); }}>
        <TextField label="Tag" value={tag} onChange={(e) => setTag(e.target.value)} sx={{ width: 150 }}
          slotProps={{ htmlInput: { maxLength: 40 } }} />
        <Button type="submit" variant="outlined" disabled={!tag.trim()}>{has ? "Take it off" : "Put it on"}</Button>
      </Box>
      <Button variant="outlined" onClick={() => void file({ done: !done })}>{done ? "Take up again" : "Done"}</Button>
      <Button variant="outlined" onClick={() => void file({ away: !away }).then(onNone)}>{away ? "Take out again"
        : "Put away"}</Button>
      <Button variant="outlined" onClick={() => setNaming(true)}>Make a series</Button>
      <Button color="inherit" onClick={() => setAsking(true)}>Delete</Button>
      {naming && <Naming pieces={pieces.map((p) => p.id)} onClose={() => setNaming(false)} />}
      {job && <><Typography variant="body2" role="status">{job.doing || "Waiting"} …</Typography>
        <Button color="inherit" onClick={() => void cancel(job)}>Cancel</Button></>}
      <Dialog open={asking} onClose={() => setAsking(false)}>
        <DialogTitle>Delete {pieces.length} {pieces.length === 1 ? "piece" : "pieces"}?</DialogTitle>
        <DialogContent><Typography variant="body1">They and their histories are removed from Wardrobe, with their time.
          To have them out of the way, put them away instead.</Typography></DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={() => setAsking(false)}>Keep them</Button>
          <Button variant="contained" onClick={() => void remove()}>Delete</Button>
        </DialogActions>
      </Dialog>
    </Box>
  );
}
