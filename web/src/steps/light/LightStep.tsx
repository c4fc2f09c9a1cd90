import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Slider from "@mui/material/Slider";
import Switch from "@mui/material/Switch";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import Typography from "@mui/material/Typography";
import { useMemo, useState } from "react";
import type { Cut, Schemas, SheetRow } from "../../api/client";
import { partPixels } from "../../api/cut";
import { useCut, useMeta, useSheet } from "../../api/pieces";
import { ColourField } from "../../colour/ColourField";
import { PictureView } from "../../picture/PictureView";
import type { StepProps } from "../StepProps";
import { Workplace } from "../../shell/Workplace";
import { Figure } from "../../theme/Figure";
import { Seam } from "../../theme/Seam";
import { useLiveEdit } from "../useLiveEdit";
import { describeLight } from "./ball";
import { PRESETS, sideFor, type SideLight } from "./presets";
import { Puck } from "./Puck";

type Light = Schemas["Light"];

const GREY = { base: "#9a9a9a", shade: "#5f5f66", light: "#d8d8d4" };

export function LightStep({ piece }: StepProps) {
  const { data: sheet } = useSheet(piece);
  const { data: cut } = useCut(piece);
  const live = useLiveEdit(piece);
  const [drag, setDrag] = useState<Light | null>(null);
  const light = drag ?? piece.recipe.light;
  const meta = useMeta().data;
  const ball = useMemo(() => {
    const row = largest(sheet?.rows, cut);
    const seen = (name: string, otherwise: string) => row?.cells.find((c) => c.name === name)?.colour ?? row?.cells[0]?.colour ?? otherwise;
    const colours = { base: seen("base", GREY.base), shade: seen("shade", GREY.shade), light: seen("light", GREY.light) };
    const part = piece.recipe.parts.find((p) => p.id === row?.part);
    const material = meta?.materials.find((m) => m.key === part?.material);
    return {
      ...colours, shadeShare: light.amount, shadeOffset: material?.shade_offset ?? 0,
      lightShare: material?.light_share ?? 0.05, glossy: material?.glossy ?? true,
    };
  }, [sheet, cut, meta, piece.recipe.parts, light.amount]);
  const show = (next: Light) => {
    setDrag(next);
    live.show({ kind: "move_light", light: next });
  };
  const make = (next: Light) => {
    setDrag(next);
    void live.make({ kind: "move_light", light: next }).then(() => setDrag(null));
  };
  return (
    <Workplace title="Light" lead="One light for the whole piece. Drag the pucks; every shape follows."
      picture={<PictureView piece={piece} kind="picture" />}>
      <Puck light={light} ball={ball} onShow={show} onMake={make} />
      <Typography variant="h3" sx={{ textAlign: "center" }}>{describeLight(light.azimuth, light.height)}</Typography>
      <Box role="group" aria-label="Places for the light" sx={{ display: "flex", flexWrap: "wrap", gap: 0.75, my: 1, justifyContent: "center" }}>
        {PRESETS.map(([label, place]) => <Button key={label} variant="outlined" size="small" onClick={() => make(place(light))}>{label}</Button>)}
      </Box>
      <Rail label="Direction" value={light.azimuth} min={0} max={360} says={(v) => `${v.toFixed(1)}°`} onShow={(v) => show({ ...light, azimuth: v })} onMake={(v) => make({ ...light, azimuth: v })} />
      <Rail label="Height" value={light.height} min={-30} max={90} says={(v) => `${v.toFixed(1)}°`} onShow={(v) => show({ ...light, height: v })} onMake={(v) => make({ ...light, height: v })} />
      {(["rim", "bounce"] as const).map((name) => <Side key={name} name={name} light={light} onShow={show} onMake={make} drop={live.drop} />)}
      <Seam />
      <Typography variant="h3" component="h2">Shapes</Typography>
      <Rail label="In shade" value={light.amount} min={0.1} max={0.7} step={0.01} says={(v) => `${Math.round(100 * v)} %`} onShow={(v) => show({ ...light, amount: v })} onMake={(v) => make({ ...light, amount: v })} />
      <Rail label="Simplify" value={light.simple} min={0} max={1} step={0.05} says={(v) => `${Math.round(100 * v)} %`} onShow={(v) => show({ ...light, simple: v })} onMake={(v) => make({ ...light, simple: v })} />
      <Rail label="Cast" value={light.cast} min={0} max={3} step={0.05} says={(v) => (v === 0 ? "none" : `× ${v.toFixed(2)}`)} onShow={(v) => show({ ...light, cast: v })} onMake={(v) => make({ ...light, cast: v })} />
      <Box sx={{ display: "grid", gridTemplateColumns: "80px 1fr", alignItems: "center", columnGap: 2, minHeight: 40 }}>
        <span>In front</span>
        <ToggleButtonGroup exclusive size="small" fullWidth value={light.depth} aria-label="Which parts are in front" onChange={(_, v: Light["depth"] | null) => v && make({ ...light, depth: v })}>
          <ToggleButton value="guessed">as drawn and named</ToggleButton>
          <ToggleButton value="as listed">as listed in Parts</ToggleButton>
        </ToggleButtonGroup>
      </Box>
      <Typography variant="body2" sx={{ mt: 1 }}>
        Direction runs counter-clockwise from the right. Height 90° is face on, 0° grazes, below that the light stands behind the figure.
        How much of a ball is in shade stays the same wherever the light is. Parts in front throw shadows on those behind.
      </Typography>
    </Workplace>
  );
}

function Rail({ label, value, min, max, step = 1, says, onShow, onMake }: {
  label: string; value: number; min: number; max: number; step?: number;
  says: (v: number) => string; onShow: (v: number) => void; onMake: (v: number) => void;
}) {
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "80px 1fr 60px", alignItems: "center", columnGap: 2, minHeight: 38 }}>
      <span>{label}</span>
      <Slider aria-label={label} value={value} min={min} max={max} step={step} onChange={(_, v) => onShow(v)} onChangeCommitted={(_, v) => onMake(v)} />
      <Box sx={{ textAlign: "right" }}><Figure>{says(value)}</Figure></Box>
    </Box>
  );
}

const SIDES = {
  rim: { title: "Rim", strength: "Rim strength" },
  bounce: { title: "Bounce", strength: "Bounce strength" },
};

/** A second or third light: on or off, its colour, how strong. */
function Side({ name, light, onShow, onMake, drop }: {
  name: "rim" | "bounce"; light: Light; onShow: (light: Light) => void; onMake: (light: Light) => void; drop: () => void;
}) {
  const side = light[name];
  const { title, strength } = SIDES[name];
  const change = (more: Partial<SideLight>): Light => ({ ...light, [name]: { ...(side ?? sideFor(name, light)), ...more } });
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "80px 44px 48px 1fr 60px", alignItems: "center", columnGap: 1.25, minHeight: 40 }}>
      <span>{title}</span>
      <Switch size="small" checked={side != null} slotProps={{ input: { "aria-label": title } }} onChange={(_, on) => onMake({ ...light, [name]: on ? sideFor(name, light) : null })} />
      {side && (
        <>
          <ColourField label={`${title} colour`} value={side.colour} onShow={(colour) => onShow(change({ colour }))} onMake={(colour) => onMake(change({ colour }))} onCancel={drop}>
            <Box sx={{ width: 44, height: 28, borderRadius: 1, bgcolor: side.colour, border: 1, borderColor: "divider" }} />
          </ColourField>
          <Slider aria-label={strength} value={side.strength} min={0} max={1} step={0.01} onChange={(_, v) => onShow(change({ strength: v }))} onChangeCommitted={(_, v) => onMake(change({ strength: v }))} />
          <Box sx={{ textAlign: "right" }}><Figure>{Math.round(100 * side.strength)} %</Figure></Box>
        </>
      )}
    </Box>
  );
}

/** The colours of the part that covers most: the ball is made of it. */
function largest(sheet: SheetRow[] | undefined, cut: Cut | undefined): SheetRow | undefined {
  const pixels = partPixels(cut);
  return sheet?.reduce<SheetRow | undefined>((best, row) => (best && (pixels.get(best.part) ?? 0) >= (pixels.get(row.part) ?? 0) ? best : row), undefined);
}
