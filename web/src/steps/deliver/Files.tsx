import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { FormatInfo, Piece, Schemas } from "../../api/client";
import { useChanges, useMeta } from "../../api/pieces";
import { PictureView } from "../../picture/PictureView";
import { Workplace } from "../../shell/Workplace";
import { Figure } from "../../theme/Figure";
import { Seam } from "../../theme/Seam";
import { NumberField } from "../../ui/NumberField";
import { choose } from "./deliver";
import { DeliveryBar, DeliveryLine, useDelivery } from "./Delivery";
import type { SideProps } from "../StepProps";

type Request = Schemas["DeliveryRequest"];

const GROUPS = { layered: "Layered, to work on", flat: "Flat, to show and print",
  beside: "Beside the drawing", replay: "How it was made, as a film" } as const;
const INCH = 2.54;
const ARCHIVE = { key: "archive", label: "Archive of the piece",
  hint: "Recipe, history, pictures and renders in one ZIP, to keep or to take to another machine.",
    options: [] as string[] } as const;

/** Files to choose from, and how large they are on paper. */
export function Files({ piece, tabs }: SideProps) {
  const formats = useMeta().data?.formats ?? [];
  const { job, start: send } = useDelivery(piece);
  const [edge, setEdge] = useState("");
  const [curves, setCurves] = useState({ tolerance: 0.1, lines: false });
  const [clear, setClear] = useState(false);
  const [quality, setQuality] = useState("");
  const [film, setFilm] = useState({ seconds: "20", hold: "1", captions: true });
  const badFilm = !(Number(film.seconds) >= 2 && Number(film.seconds) <= 300 && film.hold.trim() !== ""
    && Number(film.hold) >= 0 && Number(film.hold) <= 10);
  const badEdge = edge !== "" && !(Number(edge) >= 64 && Number(edge) <= 16_000);
  const badQuality = quality !== "" && !(Number(quality) >= 1 && Number(quality) <= 100);

  const start = async (format: Request["format"], options: readonly string[]) => {
    const request: Partial<Request> & Pick<Request, "format"> = {
      format,
      long_edge: options.includes("long_edge") && edge ? Math.round(Number(edge)) : null,
      clear_ground: options.includes("clear_ground") && clear,
      quality: options.includes("quality") && quality ? Math.round(Number(quality)) : null,
      ...(options.includes("curves") && { curves }),
      ...(options.includes("replay") && { replay: { seconds: Number(film.seconds), fps: 24, hold: Number(film.hold),
        captions: film.captions } }),
    };
    await send(request);
  };
  const line = (f: Pick<FormatInfo, "key" | "label" | "hint"> & { options: readonly string[] }) => (
    <DeliveryLine key={f.key} format={f} main={f.key === "ora"} disabled={job !== null || badEdge || badQuality
      || (badFilm && f.options.includes("replay"))} onStart={() => void start(f.key, f.options)} />
  );
  return (
    <Workplace title="Files" lead="Every file says that it is sRGB, and how large it is on paper."
      picture={<PictureView piece={piece} kind="picture" />}>
      {tabs}
      <DeliveryBar job={job}><Resolution piece={piece} /></DeliveryBar>
      {(Object.keys(GROUPS) as (keyof typeof GROUPS)[]).map((group) => (
        <Box key={group} component="section" aria-label={GROUPS[group]}>
          <Seam />
          <Typography variant="h3" component="h2" sx={{ mb: 0.75 }}>{GROUPS[group]}</Typography>
          {group === "layered" && (
            <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1, my: 1 }}>
              <NumberField label="Curves may be off" unit="px" digits={2} value={curves.tolerance} min={0.05} max={2}
                onKeep={(tolerance) => setCurves({ ...curves, tolerance })} sx={{ width: 148 }} />
              <FormControlLabel control={<Checkbox checked={curves.lines} onChange={(_, lines) => setCurves({ ...curves,
                lines })} />} label="Lines as curves, too" />
            </Box>
          )}
          {group === "flat" && (
            <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1, my: 1 }}>
              <TextField label="Long edge, px" placeholder={String(Math.max(piece.width, piece.height))} value={edge}
                error={badEdge} onChange={(e) => setEdge(e.target.value)} sx={{ width: 112 }}
                  slotProps={{ htmlInput: { inputMode: "numeric" }, inputLabel: { shrink: true } }} />
              <TextField label="Quality" placeholder="best" value={quality} error={badQuality}
                onChange={(e) => setQuality(e.target.value)} sx={{ width: 104 }}
                  slotProps={{ htmlInput: { inputMode: "numeric" }, inputLabel: { shrink: true } }} />
              <FormControlLabel control={<Checkbox checked={clear} onChange={(_, on) => setClear(on)} />}
                label="Without ground" />
            </Box>
          )}
          {group === "replay" && (
            <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1, my: 1 }}>
              <TextField label="Seconds" value={film.seconds} onChange={(e) => setFilm({ ...film,
                seconds: e.target.value })} sx={{ width: 84 }} slotProps={{ htmlInput: { inputMode: "decimal" } }} />
              <TextField label="Hold each stage, s" value={film.hold} onChange={(e) => setFilm({ ...film,
                hold: e.target.value })} sx={{ width: 128 }} slotProps={{ htmlInput: { inputMode: "decimal" } }} />
              <TextField label="Long edge, px" placeholder="1080" value={edge} error={badEdge}
                onChange={(e) => setEdge(e.target.value)} sx={{ width: 112 }}
                slotProps={{ htmlInput: { inputMode: "numeric" }, inputLabel: { shrink: true } }} />
              <FormControlLabel control={<Checkbox checked={film.captions} onChange={(_, on) => setFilm({ ...film,
                captions: on })} />} label="Captions" />
            </Box>
          )}
          <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>{formats.filter((f) => f.group ===
            group).map(line)}</Box>
        </Box>
      ))}
      <Seam />
      <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>{line(ARCHIVE)}</Box>
    </Workplace>
  );
}

/** Resolution, and the size on paper that follows from it. */
function Resolution({ piece }: { piece: Piece }) {
  const { edit } = useChanges(piece.id);
  const dpi = piece.recipe.delivery?.dpi ?? 300;
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 1.5 }}>
      <NumberField label="Resolution, dpi" value={dpi} min={36} max={2400} sx={{ width: 124 }}
        onKeep={(next) => void edit(choose(() => ({ dpi: next })))} />
      <Box sx={{ lineHeight: 1.35 }}>
        <Figure>{piece.width} × {piece.height} px</Figure><br />
        <Figure>{((piece.width / dpi) * INCH).toFixed(1)} × {((piece.height / dpi) * INCH).toFixed(1)} cm</Figure>,{" "}
        <Figure>{(piece.width / dpi).toFixed(2)} × {(piece.height / dpi).toFixed(2)} in</Figure>
      </Box>
    </Box>
  );
}
