import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import TextField from "@mui/material/TextField";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, need, type PieceCard } from "../api/client";
import { tellProblem } from "../api/notice";
import type { Plan } from "../api/time";

const MOST_TAGS = 20;

/** Title, minutes, date, for whom, and tags of a piece. */
export function Rename({ piece, onClose }: { piece: PieceCard; onClose: () => void }) {
  const [title, setTitle] = useState(piece.title);
  const [minutes, setMinutes] = useState(String(Math.round(piece.planned_minutes)));
  const [due, setDue] = useState(piece.due ?? "");
  const [occasion, setOccasion] = useState(piece.occasion);
  const [tags, setTags] = useState(piece.tags.join(", "));
  const client = useQueryClient();
  const good = title.trim() !== "" && Number(minutes) > 0 && Number(minutes) <= 6000;
  const path = { params: { path: { piece_id: piece.id } } };
  const plan = async () => {
    const now = (await need(api.GET("/api/pieces/{piece_id}/clock", path))).plan as Plan;
    const total = Object.values(now.minutes).reduce((a, b) => a + b, 0);
    const scale = Number(minutes) === Math.round(total) ? 1 : Number(minutes) / total;
    await need(api.POST("/api/pieces/{piece_id}/events", { ...path, body: { ...now, due: due || null,
      occasion: occasion.trim(), minutes: Object.fromEntries(Object.entries(now.minutes).map(([step, m]) => [step,
        m * scale])) } }));
  };
  const save = async () => {
    try {
      if (title !== piece.title) await need(api.PATCH("/api/pieces/{piece_id}", { ...path, body: { title } }));
      if (Number(minutes) !== Math.round(piece.planned_minutes) || due !== (piece.due ?? "")
        || occasion.trim() !== piece.occasion) await plan();
      const next = [...new Set(tags.split(",").map((t) => t.trim().slice(0, 40)).filter(Boolean))].slice(0, MOST_TAGS);
      if (next.join() !== piece.tags.join()) await need(api.POST("/api/pieces/{piece_id}/events", { ...path,
        body: { kind: "filing", tags: next, away: piece.away } }));
      onClose();
    } catch (error) {
      tellProblem(error);
    }
    await client.invalidateQueries({ queryKey: ["pieces"] });
    await client.invalidateQueries({ queryKey: ["today"] });
  };
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth>
      <form onSubmit={(e) => { e.preventDefault(); if (good) void save(); }}>
        <DialogTitle>Title and plan</DialogTitle>
        <DialogContent sx={{ display: "grid", gap: 2, overflow: "visible" }}>
          <TextField label="Title" value={title} onChange={(e) => setTitle(e.target.value)}
            slotProps={{ htmlInput: { maxLength: 120 } }} />
          <TextField label="Planned minutes" value={minutes} onChange={(e) => setMinutes(e.target.value)}
            slotProps={{ htmlInput: { inputMode: "numeric" } }} />
          <TextField label="Due" type="date" value={due} onChange={(e) => setDue(e.target.value)}
            slotProps={{ inputLabel: { shrink: true } }} />
          <TextField label="For whom or what" value={occasion} onChange={(e) => setOccasion(e.target.value)}
            slotProps={{ htmlInput: { maxLength: 120 } }} />
          <TextField label="Tags, with commas" value={tags} onChange={(e) => setTags(e.target.value)} />
        </DialogContent>
        <DialogActions sx={{ px: 3, pb: 2 }}>
          <Button color="inherit" onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={!good}>Save</Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
