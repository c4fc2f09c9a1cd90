import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import Checkbox from "@mui/material/Checkbox";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, need, toProblem, type PieceCard } from "../api/client";
import { tellProblem } from "../api/notice";
import { Figure } from "../theme/Figure";
import { STEPS } from "../shell/steps";
import { dueWords, STATES } from "./board";
import { Rename } from "./Rename";

/** The piece as it is, or in words why it cannot be shown. */
function SmallPicture({ url }: { url: string }) {
  const [problem, setProblem] = useState<string | null>(null);
  const ask = async () => {
    const answer = await fetch(url).catch(() => null);
    setProblem(toProblem(await answer?.json().catch(() => null), answer?.status).message);
  };
  if (problem) {
    return <Typography variant="body2" role="status"
      sx={{ height: "100%", overflow: "hidden", overflowWrap: "anywhere", color: "#141414" }}>{problem}</Typography>;
  }
  return <img src={url} alt="" onError={() => void ask()}
    style={{ width: "100%", height: "100%", objectFit: "contain", display: "block" }} />;
}

/** A piece with its picture, how far it is, its time and date. */
export function PieceTile({ piece, today, chosen, choosing, onChoose }: { piece: PieceCard; today: string;
  chosen: boolean; choosing: boolean; onChoose: (on: boolean) => void }) {
  const [asking, setAsking] = useState(false);
  const [renaming, setRenaming] = useState(false);
  const client = useQueryClient();
  const remove = async () => {
    setAsking(false);
    try {
      await need(api.DELETE("/api/pieces/{piece_id}", { params: { path: { piece_id: piece.id } } }));
    } catch (error) {
      tellProblem(error);
    }
    await client.invalidateQueries({ queryKey: ["pieces"] });
  };
  const share = Math.min(1, piece.spent_minutes / piece.planned_minutes);
  const label = STEPS.find((s) => s.key === piece.step)?.label ?? piece.step;
  const late = piece.due !== null && today !== "" && piece.due < today && piece.state !== "done";
  return (
    <Box component="article"
      sx={{ position: "relative", bgcolor: "background.paper", borderRadius: 1, overflow: "hidden", border: 1,
        borderColor: "divider", outline: chosen ? "2px dashed" : "none", outlineColor: "primary.main",
        outlineOffset: 2, "& .choose": { opacity: choosing ? 1 : 0 }, "&:hover .choose, & .choose:focus-within":
          { opacity: 1 }, "@media (hover: none)": { "& .choose": { opacity: 1 } } }}>
      <Checkbox className="choose" checked={chosen} onChange={(_, on) => onChoose(on)}
        slotProps={{ input: { "aria-label": `Choose ${piece.title}` } }}
        sx={{ position: "absolute", top: 4, left: 4, zIndex: 1, p: 0.5, borderRadius: 1, bgcolor: "background.paper",
          "&:hover": { bgcolor: "background.paper" } }} />
      <ButtonBase component={Link} to={`/piece/${piece.id}`} aria-label={`Open ${piece.title}`}
        sx={{ display: "block", width: "100%", aspectRatio: "4 / 5", bgcolor: "#8b8b8b", p: 1.5 }}>
        <SmallPicture url={`/api/pieces/${piece.id}/card?revision=${piece.revision}`} />
      </ButtonBase>
      <Box aria-hidden sx={{ height: 4, bgcolor: "divider" }}><Box
        sx={{ height: 4, width: `${100 * share}%`, bgcolor: "primary.main" }} /></Box>
      <Box sx={{ px: 1.5, pt: 1, pb: 0.5 }}>
        <Typography variant="h3" component="h2" noWrap>
          <Link to={`/piece/${piece.id}`} style={{ color: "inherit", textDecoration: "none" }}>{piece.title}</Link>
        </Typography>
        <Box sx={{ display: "flex", alignItems: "center" }}>
          <Box sx={{ flex: 1, minWidth: 0 }}>
            <Typography variant="body2" noWrap>
              {piece.state === "in work" ? label : STATES[piece.state]}, <Figure
                size={12}>{Math.round(piece.spent_minutes)}</Figure> of <Figure
                  size={12}>{Math.round(piece.planned_minutes)}</Figure> min
              {piece.demo ? ", demo" : ""}
            </Typography>
            <Typography variant="body2" noWrap sx={{ minHeight: 20, ...(late && { color: "primary.main",
              fontWeight: 600 }) }}>{[piece.due && today && dueWords(piece.due, today), piece.occasion,
                ...piece.tags].filter(Boolean).join(" · ")}</Typography>
          </Box>
          <Button color="inherit" aria-label={`Edit title, date and tags of ${piece.title}`}
            onClick={() => setRenaming(true)} sx={{ minWidth: 0, px: 1, color: "text.secondary" }}>Edit</Button>
          <Button color="inherit" aria-label={`Delete ${piece.title}`} onClick={() => setAsking(true)}
            sx={{ minWidth: 0, px: 1, mr: -1, color: "text.secondary" }}>Delete</Button>
        </Box>
      </Box>
      {renaming && <Rename piece={piece} onClose={() => setRenaming(false)} />}
      {asking && <Dialog open onClose={() => setAsking(false)}>
        <DialogTitle>Delete “{piece.title}”?</DialogTitle>
        <DialogContent><Typography variant="body1">The piece and its history are removed from Wardrobe. Files that you
          have downloaded stay.</Typography></DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={() => setAsking(false)}>Keep it</Button>
          <Button variant="contained" onClick={() => void remove()}>Delete</Button>
        </DialogActions>
      </Dialog>}
    </Box>
  );
}
