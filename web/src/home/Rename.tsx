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

/** Title and planned minutes of a piece. */
export function Rename({ piece, onClose }: { piece: PieceCard; onClose: () => void }) {
  const [title, setTitle] = useState(piece.title);
  const [minutes, setMinutes] = useState(String(piece.planned_minutes));
  const client = useQueryClient();
  const good = title.trim() !== "" && Number(minutes) > 0 && Number(minutes) <= 6000;
  const save = async () => {
    try {
      await need(api.PATCH("/api/pieces/{piece_id}", {
        params: { path: { piece_id: piece.id } }, body: { title, planned_minutes: Number(minutes) },
      }));
      onClose();
    } catch (error) {
      tellProblem(error);
    }
    await client.invalidateQueries({ queryKey: ["pieces"] });
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
        </DialogContent>
        <DialogActions sx={{ px: 3, pb: 2 }}>
          <Button color="inherit" onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={!good}>Save</Button>
        </DialogActions>
      </form>
    </Dialog>
  );
}
