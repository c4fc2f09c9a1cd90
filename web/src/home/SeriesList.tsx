import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, need } from "../api/client";
import { tellProblem } from "../api/notice";
import { useNewSeries, useSeriesList, type SeriesCard } from "../api/series";
import { Figure } from "../theme/Figure";

/** Series of pictures with the same characters. */
export function SeriesList() {
  const { data: series } = useSeriesList();
  const [naming, setNaming] = useState(false);
  return (
    <Box component="section" aria-label="Series" sx={{ px: 4, pb: 4, maxWidth: 1640, mx: "auto" }}>
      <Box sx={{ display: "flex", alignItems: "center", mb: 1.5 }}>
        <Typography variant="h2" sx={{ flex: 1 }}>Series</Typography>
        <Button variant="outlined" onClick={() => setNaming(true)}>New series</Button>
      </Box>
      {series?.length === 0 && <Typography variant="body2">None yet. A series keeps the characters, the light and the
        stack of many pictures: pages, frames, stickers, sitters.</Typography>}
      <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: "repeat(auto-fill, minmax(320px, 1fr))" }}>
        {series?.map((s) => <Card key={s.id} series={s} />)}
      </Box>
      {naming && <Naming onClose={() => setNaming(false)} />}
    </Box>
  );
}

function Card({ series }: { series: SeriesCard }) {
  const client = useQueryClient();
  const [asking, setAsking] = useState(false);
  const remove = async () => {
    setAsking(false);
    try {
      await need(api.DELETE("/api/series/{series_id}", { params: { path: { series_id: series.id } } }));
    } catch (error) {
      tellProblem(error);
    }
    await client.invalidateQueries({ queryKey: ["series"] });
    await client.invalidateQueries({ queryKey: ["pieces"] });
  };
  return (
    <Box component="article" sx={{ bgcolor: "background.paper", border: 1, borderColor: "divider", borderRadius: 1,
      overflow: "hidden" }}>
      <ButtonBase component={Link} to={`/series/${series.id}`} aria-label={`Open ${series.title}`} sx={{
        display: "flex", width: "100%", height: 116, bgcolor: "#8b8b8b", p: 1, gap: 1, justifyContent: "flex-start" }}>
        {series.first.map((id) => <img key={id} src={`/api/pieces/${id}/card`} alt="" loading="lazy" style={{
          height: "100%", minWidth: 0, flex: "0 1 auto", objectFit: "contain" }} />)}
      </ButtonBase>
      <Box sx={{ display: "flex", alignItems: "center", px: 1.5, py: 0.5 }}>
        <Box sx={{ flex: 1, minWidth: 0 }}>
          <Typography variant="h3" noWrap><Link to={`/series/${series.id}`} style={{ color: "inherit",
            textDecoration: "none" }}>{series.title}</Link></Typography>
          <Typography variant="body2"><Figure size={12}>{series.pieces}</Figure> {series.pieces === 1 ? "picture"
            : "pictures"}, <Figure size={12}>{series.done}</Figure> done</Typography>
        </Box>
        <Button color="inherit" aria-label={`Delete ${series.title}`} onClick={() => setAsking(true)}
          sx={{ color: "text.secondary" }}>Delete</Button>
      </Box>
      {asking && <Dialog open onClose={() => setAsking(false)}>
        <DialogTitle>Delete “{series.title}”?</DialogTitle>
        <DialogContent><Typography variant="body1">The order, and what its pictures share, are removed. The pictures
          themselves stay, as pieces.</Typography></DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={() => setAsking(false)}>Keep it</Button>
          <Button variant="contained" onClick={() => void remove()}>Delete</Button>
        </DialogActions>
      </Dialog>}
    </Box>
  );
}

/** A new series begins with its name. */
export function Naming({ pieces = [], onClose }: { pieces?: number[]; onClose: () => void }) {
  const [title, setTitle] = useState("");
  const make = useNewSeries();
  const navigate = useNavigate();
  return (
    <Dialog open onClose={onClose} maxWidth="xs" fullWidth>
      <Box component="form" onSubmit={(e: React.FormEvent) => {
        e.preventDefault();
        make.mutate({ title: title.trim(), pieces }, { onSuccess: (made) => { onClose();
          void navigate(`/series/${made.id}`); } });
      }}>
        <DialogTitle>New series</DialogTitle>
        <DialogContent>
          <TextField autoFocus fullWidth label="Title" value={title} onChange={(e) => setTitle(e.target.value)}
            slotProps={{ htmlInput: { maxLength: 120 } }} sx={{ mt: 1 }} />
          {pieces.length > 0 && <Typography variant="body2" sx={{ mt: 1 }}>It begins with the <Figure
            size={12}>{pieces.length}</Figure> chosen {pieces.length === 1 ? "piece" : "pieces"}.</Typography>}
        </DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={onClose}>Cancel</Button>
          <Button type="submit" variant="contained" disabled={title.trim() === "" || make.isPending}>Make it</Button>
        </DialogActions>
      </Box>
    </Dialog>
  );
}
