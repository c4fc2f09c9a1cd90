import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { exactly, api, type Piece, type Point, type Schemas } from "../../api/client";
import { useMeta, useSheet } from "../../api/pieces";
import { Formula } from "../../modes/Formula";
import { ModesOnPicture } from "../../modes/ModesOnPicture";
import { Figure } from "../../theme/Figure";
import { saying } from "../colour/Laying";
import { MARKS } from "../colour/marks";
import type { LiveEdit } from "../useLiveEdit";

const LISTED = 4;

type Mode = NonNullable<Schemas["Passes"]["modes"]>[string];

/** Why a place that was clicked is in shade or in light, pass by pass. */
export function WhyHere({ piece, place }: { piece: Piece; place: Point | null }) {
  const labels = useMeta().data?.passes ?? {};
  const { data: why } = useQuery({
    queryKey: ["why", piece.id, piece.revision, place], enabled: place !== null, staleTime: Infinity,
    placeholderData: keepPreviousData,
    queryFn: () => exactly<"/api/pieces/{piece_id}/why", "get">(api.GET("/api/pieces/{piece_id}/why", {
      params: { path: { piece_id: piece.id }, query: { x: place?.[0] ?? 0, y: place?.[1] ?? 0 } } })),
  });
  const part = piece.recipe.parts.find((p) => p.id === why?.part)?.name;
  const shown = place ? why?.reasons ?? [] : [];
  const sorted = [...shown.filter((r) => r.here), ...shown.filter((r) => !r.here)];
  return (
    <Box component="section" aria-label="Why here?" sx={{ mt: 1.5 }}>
      <Typography variant="h3" component="h2">Why here?</Typography>
      {!place && <Typography variant="body2">Click a place in the picture: each shape says why it is
        there.</Typography>}
      {place && why && !part && <Typography variant="body2">This is the ground: no part lies here.</Typography>}
      {place && part && (
        <Box component="ul" aria-label="Reasons" sx={{ listStyle: "none", p: 0, m: 0 }}>
          <Typography component="li" variant="body2" sx={{ fontWeight: 640 }}>{part}</Typography>
          {sorted.map((r) => (
            <Box component="li" key={r.name} sx={{ display: "grid", gridTemplateColumns: "96px 1fr", columnGap: 1,
              py: 0.25, color: r.here ? "text.primary" : "text.secondary" }}>
              <Box sx={{ fontWeight: r.here ? 640 : 400 }}>{labels[r.name] ?? r.name}{r.here ? "" : ", not"}</Box>
              <span>{r.because}</span>
            </Box>
          ))}
        </Box>
      )}
    </Box>
  );
}

/** How a pass is laid on: its mode with its formula, where it fails, and where it does so in this piece. */
export function HowLaid({ piece, pass, live }: { piece: Piece; pass: string; live: LiveEdit }) {
  const [open, setOpen] = useState(false);
  const { data: sheet } = useSheet(piece);
  const column = sheet?.columns.find((c) => c.name === pass);
  if (!column) return null;
  const weak = (sheet?.rows ?? []).flatMap((row) => row.cells.filter((c) => c.name === pass && c.mark
    && c.mark !== "not drawn").map((cell) => ({ cell, name: piece.recipe.parts.find((p) => p.id === row.part)?.name
      ?? row.part })));
  return (
    <Box component="section" aria-label="How it is laid" sx={{ mt: 0.5, pl: 1.5, borderLeft: "2px dashed",
      borderColor: "primary.main" }}>
      <Typography variant="body1"><b>{column.label}</b> is laid on by {column.mode}{column.opacity != null && <>,
        at <Figure>{Math.round(100 * column.opacity)} %</Figure></>}.</Typography>
      {!open && <Formula mode={column.mode} />}
      {weak.length > 0 && <Typography variant="body2" sx={{ mt: 0.25 }}>In this piece: {weak.slice(0, LISTED).map((w) =>
        `${w.name}, ${MARKS[w.cell.mark ?? ""]?.word.toLowerCase() ?? w.cell.mark}`).join("; ")}{weak.length > LISTED
          && `; and ${weak.length - LISTED} more`}.</Typography>}
      <Typography variant="body2">Comma and full stop take it away and lay it on again.</Typography>
      <Button size="small" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? "This mode alone" : "Every mode on this picture"}</Button>
      {open && <ModesOnPicture piece={piece} name={pass} mode={column.mode} onChoose={(mode) => void live.make({
        kind: "set_passes", passes: saying(piece.recipe.passes, "modes", pass, mode as Mode) })} />}
    </Box>
  );
}
