import Box from "@mui/material/Box";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Cut, Edit, Piece } from "../../api/client";
import { partPixels, partShare } from "../../api/cut";
import { rowsOf } from "./family";
import { NameSets } from "./NameSets";
import { NewPart } from "./NewPart";
import { PartLine } from "./PartLine";
import { usePartDrag } from "./usePartDrag";

interface Props {
  piece: Piece;
  cut: Cut | undefined;
  selected: string | null;
  solo: string | null;
  onSelect: (part: string) => void;
  onSolo: (part: string | null) => void;
  onPattern: () => void;
  edit: (edit: Edit) => Promise<Piece | null>;
}

const SEARCH_FROM = 6;

/** The parts from front to behind; what belongs to a part stands under it. */
export function PartList({ piece, cut, selected, solo, onSelect, onSolo, onPattern, edit }: Props) {
  const { parts } = piece.recipe;
  const pixels = partPixels(cut);
  const [wanted, setWanted] = useState("");
  const all = rowsOf(parts);
  const sought = wanted.trim().toLowerCase();
  const rows = all.filter(({ part }) => !sought || part.name.toLowerCase().includes(sought)
    || part.material.includes(sought));
  const { list, landing, handle, step } = usePartDrag(all, parts, edit);
  const seam = <Box aria-hidden sx={{ borderTop: "2px dashed", borderColor: "primary.main", ml: landing?.parent ? 4
    : 0 }} />;
  return (
    <>
      <NewPart edit={edit} onMade={(after) => { const last = after.recipe.parts.at(-1);
        if (last) onSelect(last.id); }} />
      <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
        {parts.length >= SEARCH_FROM
          ? <TextField label="Search" value={wanted} onChange={(e) => setWanted(e.target.value)} sx={{ flex: 1 }}
            onKeyDown={(e) => { if (e.key === "Escape") setWanted(""); }} />
          : <Typography variant="body2" sx={{ flex: 1, alignSelf: "center" }}>{parts.length
            ? "Front to behind; drag to change." : ""}</Typography>}
        <NameSets parts={parts} edit={edit} />
      </Box>
      {parts.length === 0 && (
        <Typography variant="body2" sx={{ mt: 1 }}>
          No parts yet. Name the first one above, for example “skin”, or add a set of names; then sweep over its areas.
        </Typography>
      )}
      {sought && rows.length === 0 && <Typography variant="body2"
        sx={{ mt: 1 }}>No part is called “{wanted.trim()}”.</Typography>}
      <Box role={rows.length > 0 ? "grid" : undefined} aria-label="Parts, front to behind" ref={list} sx={{ mt: 1 }}>
        {rows.map((row) => (
          <Box key={row.part.id}>
            {landing?.at === all.indexOf(row) && seam}
            <PartLine piece={piece} row={row} selected={row.part.id === selected} solo={row.part.id === solo}
              share={partShare(cut, pixels, row.part.id)}
              onSelect={() => onSelect(row.part.id)} onSolo={() => onSolo(solo === row.part.id ? null : row.part.id)}
              onPattern={onPattern} onStep={(key) => step(row, key)} handle={sought ? {} : handle(row)} edit={edit} />
          </Box>
        ))}
        {landing?.at === all.length && seam}
      </Box>
    </>
  );
}
