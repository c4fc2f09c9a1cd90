import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import FormControl from "@mui/material/FormControl";
import InputLabel from "@mui/material/InputLabel";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useCharacterChanges, usePieceCharacter } from "../../api/characters";
import type { CardLine, Character, Piece, Schemas } from "../../api/client";
import { tell } from "../../api/notice";
import { useChanges } from "../../api/pieces";
import { Figure } from "../../theme/Figure";
import { ReadColours } from "./ReadColours";
import { WhoseCard } from "./WhoseCard";

/** CIEDE2000 from which a part has left its card: about what is just noticed. */
const DRIFT = 1;
const SHOWN = 8;

type Shades = NonNullable<Schemas["WearRequest"]["shades"]>;

/** The character's colour card beside the piece. */
export function CardPanel({ piece }: { piece: Piece }) {
  const { data } = usePieceCharacter(piece);
  const [reading, setReading] = useState(false);
  return (
    <Box component="section" aria-label="Colour card">
      <Box sx={{ display: "flex", alignItems: "center", mb: 0.5 }}>
        <Typography variant="h3" component="h2"
          sx={{ flex: 1 }}>{data?.character ? `${data.character.name}’s colour card` : "Colour card"}</Typography>
        <Button variant="outlined" disabled={piece.recipe.parts.length === 0} onClick={() => setReading(true)}>Read from
          a picture</Button>
      </Box>
      {data && (data.character ? <Card piece={piece} character={data.character} lines={data.lines} /> : <WhoseCard
        piece={piece} />)}
      {reading && <ReadColours piece={piece} onClose={() => setReading(false)} />}
    </Box>
  );
}

function Card({ piece, character, lines }: { piece: Piece; character: Character; lines: CardLine[] }) {
  const { wearCard } = useChanges(piece.id);
  const { saveBack, give } = useCharacterChanges();
  const [asking, setAsking] = useState(false);
  const [all, setAll] = useState(false);
  const [shades, setShades] = useState<Shades>("leave");
  const drifted = lines.flatMap((l) => [
    ...(l.step !== null && l.base && l.card ? [{ part: l.name, name: "base", here: l.base, card: l.card, step: l.step }]
      : []),
    ...l.passes.map((p) => ({ part: l.name, ...p })),
  ]).filter((d) => d.step >= DRIFT).sort((a, b) => b.step - a.step);
  const shown = all ? drifted : drifted.slice(0, SHOWN);
  const kept = { perPart: character.card.some((c) => Object.keys(c.passes ?? {}).length > 0),
    washes: Object.keys(character.washes).length > 0 };
  const absent = lines.filter((l) => !l.part).map((l) => l.name);
  const uncarded = lines.filter((l) => l.part && !l.card).map((l) => l.name);
  const matched = lines.filter((l) => l.part && l.card).length;
  const wear = async () => {
    if (await wearCard(shades)) tell(absent.length
      ? `${matched} parts have the card’s colours. Not found in this piece: ${absent.join(", ")}.`
        : `${matched} parts have the card’s colours.`);
  };
  return (
    <>
      {drifted.length === 0
        ? <Typography variant="body2">{matched ? `All ${matched} parts that are on the card have its colours.`
          : "No part has a name that is on the card."}</Typography>
        : (
          <Box role="table" aria-label="Parts that have left the card">
            {shown.map((d) => (
              <Box role="row" key={d.part + d.name}
                sx={{ display: "grid", gridTemplateColumns: "1fr 72px 72px 64px", gap: 0.75, alignItems: "center",
                  mb: 0.5 }}>
                <Typography role="rowheader" variant="body2" noWrap
                  sx={{ color: "text.primary" }}>{d.part}{d.name !== "base" && `, ${d.name}`}</Typography>
                <Box role="cell" title={`here ${d.here}`}
                  sx={{ height: 26, borderRadius: 1, bgcolor: d.here, border: 1, borderColor: "divider" }} />
                <Box role="cell" title={`card ${d.card}`}
                  sx={{ height: 26, borderRadius: 1, bgcolor: d.card, border: 1, borderColor: "divider" }} />
                <Box role="cell" sx={{ textAlign: "right" }}><Figure>{d.step.toFixed(1)} ΔE</Figure></Box>
              </Box>
            ))}
            {drifted.length > SHOWN && <Button color="inherit" onClick={() => setAll(!all)}>{all ? "Only the largest"
              : `Show ${drifted.length - SHOWN} smaller differences`}</Button>}
            <Typography variant="body2" sx={{ fontSize: 12 }}>Here, on the card, and the difference between them
              (CIEDE2000).</Typography>
          </Box>
        )}
      {absent.length > 0 && <Typography variant="body2">On the card,
        but not in this piece: {absent.join(", ")}.</Typography>}
      {uncarded.length > 0 && <Typography variant="body2">Not on the card: {uncarded.join(", ")}.</Typography>}
      <FormControl size="small" fullWidth sx={{ mt: 1.5 }}>
        <InputLabel id="card-shades">Shades and lights</InputLabel>
        <Select labelId="card-shades" label="Shades and lights" value={shades}
          onChange={(e) => setShades(e.target.value as Shades)}>
          <MenuItem value="leave">Leave them as they are here</MenuItem>
          <MenuItem value="washes" disabled={!kept.washes}>As the card’s one shade and one light for all</MenuItem>
          <MenuItem value="per part" disabled={!kept.perPart}>As the card has them, part by part</MenuItem>
        </Select>
      </FormControl>
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mt: 1 }}>
        <Button variant="contained" disabled={drifted.length === 0 && shades === "leave"}
          onClick={() => void wear()}>Put on the card’s colours</Button>
        <Button variant="outlined" onClick={() => setAsking(true)}>Save these to the card</Button>
        <Button color="inherit" onClick={() => void give(piece.id, null)}>Someone else</Button>
      </Box>
      <Dialog open={asking} onClose={() => setAsking(false)}>
        <DialogTitle>Put these colours on {character.name}’s card?</DialogTitle>
        <DialogContent>
          <Typography variant="body1">
            The card will hold the {piece.recipe.parts.length} base colours of this piece, and what is seen in their
              shades and lights, in place of the {character.card.length} that it holds now.
            {character.pieces.length > 1
              && ` ${character.pieces.length - 1} other `
                + `${character.pieces.length === 2 ? "piece keeps" : "pieces keep"}`
                + " the colours they have and will show how far they are from it."}
          </Typography>
        </DialogContent>
        <DialogActions>
          <Button color="inherit" onClick={() => setAsking(false)}>Leave the card</Button>
          <Button variant="contained" onClick={() => { setAsking(false); void saveBack(character.id, piece.id); }}>Save
            to the card</Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
