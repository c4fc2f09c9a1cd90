import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useMemo, useState } from "react";
import { useKeys } from "../../ui/useKeys";
import { toProblem, type AreaInfo, type Edit, type PartView, type Piece } from "../../api/client";
import { useChanges, useCut } from "../../api/pieces";
import { PictureView } from "../../picture/PictureView";
import type { StepProps } from "../StepProps";
import { Workplace } from "../../shell/Workplace";
import { Seam } from "../../theme/Seam";
import { ACT_KEYS, ACTS, type Act } from "./acts";
import { Acts } from "./Acts";
import { tintAreas, useAreaMap } from "../../picture/areaMap";
import { familyOf, rowsOf } from "./family";
import { WholeFigure } from "../lines/WholeFigure";
import { Fullness } from "./Fullness";
import { PARTS } from "./keys";
import { PartList } from "./PartList";
import { Proposal } from "./Proposal";
import { usePlace } from "../../api/series";
import { Doubts } from "../../series/Doubts";
import { asAnswer } from "../../series/wall";
import { Together } from "./Together";
import { useGesture } from "./useGesture";
import { useSweep } from "./useSweep";
import { VIEWS, Views } from "./Views";

export function PartsStep({ piece }: StepProps) {
  const { data: cut, error, isPlaceholderData } = useCut(piece);
  const map = useAreaMap(piece);
  const { edit, gesture } = useChanges(piece.id);
  const { parts } = piece.recipe;
  const [chosen, setChosen] = useState<string | null>(null);
  const [solo, setSolo] = useState<string | null>(null);
  const [act, setAct] = useState<Act>("claim");
  const [view, setView] = useState<PartView>("parts");
  const [pointed, setPointed] = useState<readonly [number, number] | null>(null);
  const rows = rowsOf(parts);
  const part = parts.find((p) => p.id === chosen)?.id ?? rows[0]?.part.id ?? null;
  const selected = parts.find((p) => p.id === part);
  const sweeps = act === "claim" || act === "ground";
  const { data: place } = usePlace(piece.id, piece.revision);
  const asked = (place?.sources.length ?? 0) > 0;
  const claim = (wanted: Edit) => edit(asked ? asAnswer(wanted) : wanted);
  const sweep = useSweep(map, cut, part, sweeps ? act : "claim", claim, Boolean(selected?.scenery),
    cut !== undefined && !isPlaceholderData);
  const pen = useGesture(sweeps ? null : act, (stroke) => gesture(act as Exclude<Act, "claim" | "ground">, stroke,
    part));

  const others = useMemo(() => {
    if (!solo || !map) return null;
    const family = familyOf(parts, solo);
    const rest = (cut?.areas ?? []).filter((a) => !a.part || !family.has(a.part)).map((a) => a.area);
    return tintAreas(map, new Set(rest), [22, 22, 25, 225]);
  }, [solo, map, parts, cut]);

  const step = (by: number) => {
    const next = rows[rows.findIndex((r) => r.part.id === part) + by];
    if (next) setChosen(next.part.id);
  };
  useKeys(PARTS.above, () => step(-1));
  useKeys(PARTS.below, () => step(1));
  useKeys(PARTS.before, () => sweep.stepTo(-1));
  useKeys(PARTS.after, () => sweep.stepTo(1));
  useKeys(PARTS.press, (_, e) => { if (!(e.target instanceof Element)
    || !e.target.closest("button, a, [role=row], [role=combobox]")) sweep.press(); });
  useKeys(ACT_KEYS, (key) => { const found = ACTS.find((a) => a.keyed.on[0] === key); if (found) setAct(found.key); });
  useKeys(PARTS.view, () => setView((now) => VIEWS[(VIEWS.findIndex((v) => v.key === now) + 1) % VIEWS.length]?.key ??
    "parts"));
  useKeys(PARTS.only, () => setSolo((now) => (now ? null : part)));

  return (
    <Workplace title="Parts" lead="Give every area of the figure to a part: one pass of the pen."
      picture={
        <PictureView piece={piece} kind={view} tool={sweeps ? sweep.tool : pen.tool}
          overlay={(ctx, zoom) => {
            for (const layer of [others, sweep.tint]) if (layer && map) ctx.drawImage(layer, 0, 0,
              map.width / map.scale, map.height / map.scale);
            sweep.paint(ctx, zoom);
            pen.paint(ctx, zoom);
            if (pointed) ring(ctx, pointed, zoom);
          }}>
          {() => <>
            <Views view={view} onChange={setView} />
            <Readout text={sweep.hovered ? describe(sweep.hovered, piece, cut?.silhouette_pixels ?? 0) : null} />
          </>}
        </PictureView>
      }>
      <WholeFigure piece={piece} edit={edit} />
      <Doubts piece={piece} edit={edit} onPoint={setPointed} />
      <Proposal piece={piece} edit={edit} />
      <Acts act={act} onChange={setAct} />
      {error && <Typography variant="body1" role="alert">{toProblem(error).message}</Typography>}
      {!error && <Fullness piece={piece} cut={cut} shown={view === "faults"}
        onShow={(on) => setView(on ? "faults" : "parts")} edit={edit} />}
      <Seam />
      <PartList piece={piece} cut={cut} selected={part} solo={solo} onSelect={setChosen} onSolo={setSolo}
        onPattern={() => setView("bases")} edit={edit} />
      {selected && <Together piece={piece} part={selected} edit={edit} />}
    </Workplace>
  );
}

/** A ring around a place that is asked about. */
function ring(ctx: CanvasRenderingContext2D, [x, y]: readonly [number, number], zoom: number): void {
  for (const [width, colour] of [[6, "#ffffff"], [3, "#a5262f"]] as const) {
    ctx.beginPath();
    ctx.arc(x, y, 18 / zoom, 0, 2 * Math.PI);
    ctx.lineWidth = width / zoom;
    ctx.strokeStyle = colour;
    ctx.stroke();
  }
}

function describe(area: AreaInfo, piece: Piece, silhouette: number): string {
  const held = piece.recipe.parts.find((p) => p.id === area.part);
  if (area.ground) return held ? `${held.name}, scenery` : "ground";
  const share = (100 * area.pixels) / Math.max(1, silhouette);
  return `${held?.name ?? "no part yet"}, ${share < 10 ? share.toFixed(2) : share.toFixed(0)} % of the silhouette`;
}

function Readout({ text }: { text: string | null }) {
  if (!text) return null;
  return (
    <Box sx={{ position: "absolute", left: 12, bottom: 12, px: 1.25, py: 0.5, borderRadius: 1,
      bgcolor: "background.paper", fontSize: 13, pointerEvents: "none" }}>
      {text}
    </Box>
  );
}
