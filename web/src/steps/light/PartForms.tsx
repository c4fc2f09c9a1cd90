import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import Typography from "@mui/material/Typography";
import { useMemo, useState, type ReactNode } from "react";
import type { LightReport, Part, PartForm, Piece } from "../../api/client";
import { useCut, useLightReport, useMeta } from "../../api/pieces";
import { areaAt, tintAreas, useAreaMap } from "../../picture/areaMap";
import { PictureView, type Tool } from "../../picture/PictureView";
import { tracePoints, usePen } from "../../picture/usePen";
import { Choice } from "../../ui/Choice";
import { Key } from "../../ui/Key";
import { useKeys } from "../../ui/useKeys";
import { FORMS } from "./keys";
import { Workplace } from "../../shell/Workplace";
import { Figure } from "../../theme/Figure";
import type { LiveEdit } from "../useLiveEdit";
import { perCent, Rail, times } from "../../ui/Rail";

const USUAL: PartForm = { volume: "as drawn", depth: 1, soft: 0, highlight: null, nearer: 0, recedes: false,
  edges: [] };
const HOVER: [number, number, number, number] = [255, 255, 255, 70];
// Thousandths of a pixel say nothing about an edge.
const whole = (v: number) => Math.round(v * 10) / 10;

/** How each part takes shape: click one on the figure, change it, and see. */
export function PartForms({ piece, live, tabs }: { piece: Piece; live: LiveEdit; tabs: ReactNode }) {
  const { data: cut } = useCut(piece);
  const report = useLightReport(piece).data;
  const map = useAreaMap(piece);
  const [chosen, setChosen] = useState<string | null>(null);
  const [hover, setHover] = useState<string | null>(null);
  const [drawing, setDrawing] = useState(false);
  const parts = inOrder(piece.recipe.parts, report);
  const part = parts.find((p) => p.id === chosen) ?? parts[0];
  const partOfArea = useMemo(() => new Map((cut?.areas ?? []).map((a) => [a.area, a.part ?? null])), [cut]);

  const pick = useMemo<Tool | null>(() => {
    if (!map) return null;
    const at = (x: number, y: number) => partOfArea.get(areaAt(map, x, y)) ?? null;
    return {
      cursor: "pointer",
      move: (x, y) => setHover(at(x, y)),
      leave: () => setHover(null),
      up: (x, y) => { const found = at(x, y); if (found) setChosen(found); },
    };
  }, [map, partOfArea]);
  const folded = part?.form.volume === "folded";
  const pen = usePen(async ({ points }) => {
    if (!part || points.length < 2) return;
    const edge = points.map(([x, y]): [number, number] => [whole(x), whole(y)]);
    await live.make({ kind: "set_form", part: part.id, form: { ...part.form, edges: [...part.form.edges, edge] } });
  }, drawing && folded);
  const tint = useMemo(() => {
    if (!map || !hover || drawing) return null;
    return tintAreas(map, new Set([...partOfArea].filter(([, p]) => p === hover).map(([a]) => a)), HOVER);
  }, [map, hover, partOfArea, drawing]);

  const step = (by: number) => {
    const next = parts[parts.findIndex((p) => p.id === part?.id) + by];
    if (next) setChosen(next.id);
  };
  useKeys(FORMS.before, () => step(-1));
  useKeys(FORMS.after, () => step(1));
  useKeys(FORMS.edge, () => { if (folded) setDrawing((on) => !on); });

  const drawsNow = drawing && folded;
  return (
    <Workplace title="Forms" lead="How each part takes shape, from front to behind. Click a part on the figure."
      picture={
        <PictureView piece={piece} kind="picture" tool={drawsNow ? pen.tool : pick}
          overlay={(ctx, zoom) => {
            if (tint && map) ctx.drawImage(tint, 0, 0, map.width / map.scale, map.height / map.scale);
            if (drawsNow) for (const edge of part?.form.edges ?? []) tracePoints(ctx, edge as [number, number][], zoom);
            tracePoints(ctx, pen.stroke.points, zoom);
          }} />
      }>
      {tabs}
      <Box role={parts.length > 0 ? "grid" : undefined} aria-label="Parts, from front to behind">
        {parts.map((p) => (
          <Line key={p.id} part={p} selected={p.id === part?.id} hovered={p.id === hover}
            onSelect={() => setChosen(p.id)}>
            <Details key={p.id} piece={piece} part={p} live={live} report={report} drawing={drawsNow}
              onDraw={setDrawing} />
          </Line>
        ))}
      </Box>
    </Workplace>
  );
}

function inOrder(parts: Part[], report: LightReport | undefined): Part[] {
  const rank = new Map((report?.order ?? []).map((id, k) => [id, k]));
  return parts.filter((p) => !p.scenery && (rank.size === 0 || rank.has(p.id))).sort((a, b) => (rank.get(a.id) ?? 0) -
    (rank.get(b.id) ?? 0));
}

function Line({ part, selected, hovered, onSelect, children }: { part: Part; selected: boolean; hovered: boolean;
  onSelect: () => void; children: ReactNode }) {
  return (
    <Box sx={{ borderRadius: 1, outline: selected ? "2px dashed" : "none", outlineColor: "primary.main",
      outlineOffset: -2, bgcolor: hovered ? "action.hover" : undefined }}>
      <Box role="row" aria-selected={selected} tabIndex={0} onClick={onSelect}
        onKeyDown={(e) => { if (e.key === "Enter" || e.key === " ") { e.preventDefault(); onSelect(); } }}
        sx={{ display: "grid", gridTemplateColumns: "20px 1fr auto", alignItems: "center", columnGap: 1, minHeight: 36,
          px: 1, cursor: "pointer", borderRadius: 1, "&:hover": { bgcolor: "action.hover" } }}>
        <Box aria-hidden sx={{ width: 18, height: 18, borderRadius: "50%", bgcolor: part.base, border: 1,
          borderColor: "divider" }} />
        <Box role="gridcell" sx={{ fontWeight: selected ? 640 : 450, overflow: "hidden", textOverflow: "ellipsis",
          whiteSpace: "nowrap" }}>{part.name}</Box>
        <Typography role="gridcell" component="div" variant="body2" noWrap>{describe(part.form)}</Typography>
      </Box>
      {selected && <Box role="row"><Box role="gridcell" sx={{ px: 1.5, pb: 1.5 }}>{children}</Box></Box>}
    </Box>
  );
}

/** What differs from the usual, in a few words. */
function describe(form: PartForm): string {
  const said = [
    form.volume === "as drawn" ? "" : form.volume,
    form.depth === 1 ? "" : `depth ${form.depth.toFixed(1)}`,
    form.soft > 0 ? "soft" : "",
    form.highlight == null ? "" : form.highlight === 0 ? "no highlight" : `highlight ${form.highlight.toFixed(1)}`,
    form.recedes ? "recedes" : "",
    form.nearer === 0 ? "" : form.nearer > 0 ? "nearer" : "further",
  ];
  return said.filter(Boolean).join(", ");
}

function Details({ piece, part, live, report, drawing, onDraw }: {
  piece: Piece; part: Part; live: LiveEdit; report: LightReport | undefined; drawing: boolean;
    onDraw: (on: boolean) => void;
}) {
  const meta = useMeta().data;
  const [drag, setDrag] = useState<PartForm | null>(null);
  const form = drag ?? part.form;
  const material = meta?.materials.find((m) => m.key === part.material);
  const show = (more: Partial<PartForm>) => {
    setDrag({ ...form, ...more });
    live.show({ kind: "set_form", part: part.id, form: { ...form, ...more } });
  };
  const make = (more: Partial<PartForm>) => {
    setDrag({ ...form, ...more });
    void live.make({ kind: "set_form", part: part.id, form: { ...form, ...more } }).then(() => setDrag(null));
  };
  const rail = (name: "depth" | "soft" | "nearer") => ({ value: form[name], onShow: (v: number) => show({ [name]: v }),
    onMake: (v: number) => make({ [name]: v }) });
  const changed = describe(part.form) !== "" || part.form.edges.length > 0;
  return (
    <>
      <Choice label={`Volume of ${part.name}`} wide value={form.volume} onChange={(v) => { make({ volume: v });
        onDraw(v === "folded"); }}
        options={(Object.keys(meta?.volumes ?? {}) as PartForm["volume"][]).map((name) => ({ value: name,
          label: name }))} />
      <Typography variant="body2" sx={{ my: 0.75 }}>{meta?.volumes[form.volume]}</Typography>
      {form.volume === "folded" && (
        <Box sx={{ display: "flex", alignItems: "center", gap: 1, mb: 0.5 }}>
          <Button variant={drawing ? "contained" : "outlined"} aria-pressed={drawing}
            onClick={() => onDraw(!drawing)}>Draw an edge<Key of={FORMS.edge} /></Button>
          <Button disabled={form.edges.length === 0} onClick={() => make({ edges: form.edges.slice(0, -1) })}>Remove the
            last</Button>
          <Typography variant="body2">{form.edges.length === 1 ? "1 edge" : `${form.edges.length} edges`}</Typography>
        </Box>
      )}
      {form.volume !== "flat" && <Rail label="Depth" min={0} max={3} step={0.05} says={(v) => `× ${v.toFixed(2)}`}
        {...rail("depth")} />}
      <Rail label="Soft edge" min={0} max={1} step={0.05} says={perCent} {...rail("soft")} />
      <Rail label="Highlight" min={0} max={4} step={0.05} value={form.highlight ?? material?.highlight ?? 1}
        says={times} onShow={(v) => show({ highlight: v })} onMake={(v) => make({ highlight: v })} />
      <Rail label="Nearer" min={-3} max={3} step={0.1}
        says={(v) => (v === 0 ? "as guessed" : `${v > 0 ? "+" : "−"}${Math.abs(v).toFixed(1)}`)} {...rail("nearer")} />
      <FormControlLabel sx={{ ml: 0 }} label={<Typography variant="body2">Recedes: in shade as a whole</Typography>}
        control={<Switch size="small" checked={form.recedes} onChange={(_, recedes) => make({ recedes })} />} />
      <Casts piece={piece} part={part} live={live} report={report} />
      {changed && <Button onClick={() => make(USUAL)}>Back to the usual</Button>}
    </>
  );
}

/** On which parts this one throws its shadow, and how long it is there. */
function Casts({ piece, part, live, report }: { piece: Piece; part: Part; live: LiveEdit;
  report: LightReport | undefined }) {
  const { light, parts } = piece.recipe;
  const [drag, setDrag] = useState<[string, number] | null>(null);
  const under = (report?.casts ?? []).filter(([caster]) => caster === part.id).map(([, receiver]) => receiver);
  if (under.length === 0) return null;
  const lengthOn = (id: string) => (drag?.[0] === id ? drag[1]
    : (light.pairs.find((p) => p.caster === part.id && p.receiver === id)?.length ?? 1));
  const edit = (id: string, length: number) => {
    const others = light.pairs.filter((p) => p.caster !== part.id || p.receiver !== id);
    const pairs = length === 1 ? others : [...others, { caster: part.id, receiver: id, length }];
    return { kind: "move_light" as const, light: { ...light, pairs } };
  };
  return (
    <Box role="group" aria-label={`Shadows of ${part.name}`} sx={{ mt: 0.5 }}>
      <Typography variant="body2">Throws its shadow on</Typography>
      {under.map((id) => (
        <Box key={id} sx={{ pl: 2 }}>
          <Rail label={parts.find((p) => p.id === id)?.name ?? id} value={lengthOn(id)} min={0} max={4} step={0.1}
            says={times}
            onShow={(v) => { setDrag([id, v]); live.show(edit(id, v)); }}
              onMake={(v) => void live.make(edit(id, v)).then(() => setDrag(null))} />
        </Box>
      ))}
      {under.length > 0 && light.cast === 0 && <Typography variant="body2"><Figure>Cast</Figure> is at none under
        Lights.</Typography>}
    </Box>
  );
}
