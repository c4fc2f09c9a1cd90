import Box from "@mui/material/Box";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import Slider from "@mui/material/Slider";
import Switch from "@mui/material/Switch";
import { Choice } from "../../ui/Choice";
import Typography from "@mui/material/Typography";
import { useState, type ReactNode } from "react";
import type { Hue, Lines, Piece, Solid } from "../../api/client";
import { useChanges, useCut, useMeta } from "../../api/pieces";
import { ColourField } from "../../colour/ColourField";
import { PictureView } from "../../picture/PictureView";
import { Workplace } from "../../shell/Workplace";
import { Figure } from "../../theme/Figure";
import { Seam } from "../../theme/Seam";
import { useLiveEdit } from "../useLiveEdit";

interface Props {
  piece: Piece;
  lead: string;
  choice: ReactNode;
}

const MOST_SOLIDS = 12; // the largest; smaller ones are eyes and dots

const EDGES: [Lines["edge"], string][] = [["smooth", "Smooth"], ["hard", "Hard"], ["hard, smoothed", "Hard, smoothed"]];

/** From any drawing to lines: what came in, and the few settings that make it clean. */
export function Drawing({ piece, lead, choice }: Props) {
  const { data: cut } = useCut(piece);
  const intakes = useMeta().data?.intakes ?? [];
  const live = useLiveEdit(piece, "lines");
  const saved = piece.recipe.lines;
  const [dragged, setDragged] = useState<Partial<Lines>>({});
  const found = cut?.lines;
  const now = { ...saved, ...dragged };
  const show = (change: Partial<Lines>) => {
    setDragged(change);
    live.show({ kind: "set_lines", lines: { ...saved, ...change } });
  };
  const make = (change: Partial<Lines>) => void
    live.make({ kind: "set_lines", lines: { ...saved, ...change } }).then(() => setDragged({}));
  const intake = intakes.find((i) => i.key === found?.kind);
  const { width, height } = piece;
  const paper = now.paper ?? found?.paper ?? 0;
  const grain = now.grain ?? found?.grain ?? 0;
  return (
    <Workplace title="Lines" lead={lead} picture={<PictureView piece={piece} kind="lines" compare="before" />}>
      {choice}
      <Select value={saved.kind ?? "auto"} aria-label="What came in" fullWidth
        onChange={(e) => make({ kind: e.target.value === "auto" ? null : (e.target.value as Lines["kind"]), even: null,
          paper: null, grain: null })}>
        <MenuItem value="auto">As recognised: {intakes.find((i) => i.key === found?.recognised)?.label ??
          "…"}</MenuItem>
        {intakes.map((i) => <MenuItem key={i.key} value={i.key}>{i.label}</MenuItem>)}
      </Select>
      <Typography variant="body2" sx={{ mt: 0.75 }}>{intake?.says ?? "Measuring the drawing …"}</Typography>
      <FormControlLabel sx={{ mt: 0.5, ml: -0.75 }} label="Even out the light on the paper"
        disabled={found?.kind === "transparent"}
        control={<Switch checked={found?.even ?? false} onChange={(_, even) => make({ even })} />} />
      <Setting label="Paper" value={paper} min={0} max={0.6} step={0.01} shown={`${Math.round(paper * 100)} %`}
        hint="Tones up to this dark are paper." disabled={found?.kind === "transparent"}
        onShow={(v) => show({ paper: v })} onMake={(v) => make({ paper: v })} />
      <Setting label="Ink" value={now.threshold} min={0.05} max={0.95} step={0.01}
        shown={`${Math.round(now.threshold * 100)} %`}
        hint="Half covered at this darkness: lower strengthens pale lines, higher drops smudges." mark={0.5}
        onShow={(v) => show({ threshold: v })} onMake={(v) => make({ threshold: v })} />
      <Setting label="Grain" value={grain} min={0} max={40} step={1} shown={`${grain} px`}
        hint="Marks smaller than this are dust; thin lines stay."
        onShow={(v) => show({ grain: v })} onMake={(v) => make({ grain: v })} />
      <Setting label="Doubled" value={now.strengthen} min={0} max={3} step={0.1}
        shown={`${now.strengthen.toFixed(1)} ×`}
        hint="Lays pale lines over themselves."
        onShow={(v) => show({ strengthen: v })} onMake={(v) => make({ strengthen: v })} />
      <Setting label="Weight" value={now.weight} min={-12} max={12} step={0.5}
        shown={`${now.weight > 0 ? "+" : ""}${now.weight.toFixed(1)} px`}
        hint="Thicker or thinner; one pixel of every line stays." mark={0}
        onShow={(v) => show({ weight: v })} onMake={(v) => make({ weight: v })} />
      <Choice label="Edge of the lines" wide value={saved.edge} onChange={(edge) => make({ edge })}
        options={EDGES.map(([value, label]) => ({ value, label }))} sx={{ mt: 1 }} />
      {found && found.solids.length > 0 && <Solids piece={piece} solids={found.solids} />}
      {found && found.hues.length > 0 && <Hues piece={piece} hues={found.hues} />}
      <Seam />
      <ColourField label="Line colour" value={saved.colour}
        onShow={(colour) => show({ colour })} onMake={(colour) => make({ colour })}
        onCancel={() => { live.drop(); setDragged({}); }} />
      <Box component="dl" sx={{ display: "grid", gridTemplateColumns: "1fr auto", rowGap: 0.5, mt: 1, mb: 0,
        "& dd": { m: 0, textAlign: "right" } }}>
        <dt>Size</dt><dd><Figure>{width} × {height} px</Figure></dd>
        <dt>Median line width</dt><dd><Figure>{found ? found.line_width.toFixed(1) : "–"} px</Figure></dd>
        <dt>Areas, specks given away</dt><dd><Figure>{found ? `${found.areas}, ${found.specks}` : "–"}</Figure></dd>
      </Box>
    </Workplace>
  );
}

/** Solid blacks, and the rim that keeps them apart from what is dark beside them. */
function Solids({ piece, solids }: { piece: Piece; solids: Solid[] }) {
  const live = useLiveEdit(piece);
  const saved = piece.recipe.halo ?? { width: 0, colour: "#f4efe4" };
  const [drag, setDrag] = useState<number | null>(null);
  const share = (100 * solids.reduce((sum, s) => sum + s.pixels, 0)) / (piece.width * piece.height);
  const width = drag ?? saved.width ?? 0;
  const halo = (change: Partial<typeof saved>) => ({ kind: "set_halo" as const, halo: { ...saved, ...change } });
  return (
    <>
      <Seam />
      <Typography variant="h3">Solid blacks <Figure>{solids.length}</Figure></Typography>
      <Typography variant="body2"><Figure size={12}>{share.toFixed(1)} %</Figure> of the picture. Each belongs to the
        form beside it; black hair or a boot may be a part of its own, which takes colour and light.</Typography>
      {solids.slice(0, MOST_SOLIDS).map((s, k) => (
        <FormControlLabel key={`${s.x} ${s.y}`} sx={{ display: "flex", ml: -0.75, mr: 0 }}
          label={<>Black {k + 1}, <Figure
            size={12}>{((100 * s.pixels) / (piece.width * piece.height)).toFixed(1)} %</Figure>, takes colour</>}
          control={<Switch checked={s.coloured}
            onChange={(_, coloured) => void live.make({ kind: "colour_black", place: [s.x, s.y], coloured })} />} />
      ))}
      <Typography variant="body2">A rim parts those that touch, and those beside a dark colour.</Typography>
      <Setting label="Rim" value={width} min={0} max={16} step={0.5} shown={width ? `${width.toFixed(1)} px` : "none"}
        hint="Width of the light rim."
        onShow={(v) => { setDrag(v); live.show(halo({ width: v })); }}
          onMake={(v) => void live.make(halo({ width: v })).then(() => setDrag(null))} />
      {width > 0 && (
        <ColourField label="Rim colour" value={saved.colour ?? "#f4efe4"}
          onShow={(colour) => live.show(halo({ colour }))}
          onMake={(colour) => void live.make(halo({ colour }))} onCancel={live.drop} />
      )}
    </>
  );
}

const ROLES: { key: Hue["role"]; label: string }[] = [
  { key: "printed", label: "printed like the others" },
  { key: "shade edge", label: "edge of the shade" },
  { key: "light edge", label: "edge of the light" },
];

/** Lines drawn in a hue: what each set is for. */
function Hues({ piece, hues }: { piece: Piece; hues: Hue[] }) {
  const { edit } = useChanges(piece.id);
  return (
    <>
      <Seam />
      <Typography variant="h3">Coloured lines</Typography>
      <Typography variant="body2">An edge bounds areas without being printed;
        the smaller side becomes the shade or light of its part.</Typography>
      {hues.map((h) => (
        <Box key={h.hue} sx={{ display: "grid", gridTemplateColumns: "26px 1fr", alignItems: "center", columnGap: 1.25,
          mt: 1 }}>
          <Box sx={{ width: 26, height: 10, borderRadius: 0.5, bgcolor: h.colour }} />
          <Select value={h.role} aria-label={`Lines in ${h.colour}`}
            onChange={(e) => void edit({ kind: "name_boundary", boundary: { hue: h.hue, role: e.target.value } })}>
            {ROLES.map((r) => <MenuItem key={r.key} value={r.key}>{r.label}</MenuItem>)}
          </Select>
        </Box>
      ))}
    </>
  );
}

function Setting({ label, value, min, max, step, shown, hint, mark, disabled, onShow, onMake }: {
  label: string; value: number; min: number; max: number; step: number; shown: string; hint: string; mark?: number;
    disabled?: boolean;
  onShow: (v: number) => void; onMake: (v: number) => void;
}) {
  return (
    <Box title={hint} sx={{ display: "grid", gridTemplateColumns: "72px 1fr 62px", alignItems: "center", columnGap: 1.5,
      minHeight: 38, opacity: disabled ? 0.5 : 1 }}>
      <Typography variant="body1">{label}</Typography>
      <Slider size="small" aria-label={`${label}. ${hint}`} value={value} min={min} max={max} step={step}
        disabled={disabled ?? false}
        track={mark === undefined ? "normal" : false} marks={mark === undefined ? false : [{ value: mark }]}
        onChange={(_, v) => onShow(v)} onChangeCommitted={(_, v) => onMake(v)} />
      <Box sx={{ textAlign: "right" }}><Figure>{shown}</Figure></Box>
    </Box>
  );
}
