import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Slider from "@mui/material/Slider";
import Switch from "@mui/material/Switch";
import { Choice } from "../../ui/Choice";
import Typography from "@mui/material/Typography";
import { useMemo, useState } from "react";
import type { Cut, Piece, Schemas, SheetRow } from "../../api/client";
import { partPixels } from "../../api/cut";
import { useCut, useMeta, useSheet } from "../../api/pieces";
import { ColourField } from "../../colour/ColourField";
import { Figure } from "../../theme/Figure";
import { Seam } from "../../theme/Seam";
import type { LiveEdit } from "../useLiveEdit";
import { describeLight } from "./ball";
import { EightLights } from "./EightLights";
import { GROUND, PRESETS, sideFor, type SideLight } from "./presets";
import { Puck } from "./Puck";
import { perCent, Rail, times } from "../../ui/Rail";

type Light = Schemas["Light"];

const GREY = { base: "#9a9a9a", shade: "#5f5f66", light: "#d8d8d4" };

/** Where the lights stand, and how their shapes are drawn. */
export function Lights({ piece, live }: { piece: Piece; live: LiveEdit }) {
  const { data: sheet } = useSheet(piece);
  const { data: cut } = useCut(piece);
  const [drag, setDrag] = useState<Light | null>(null);
  const light = drag ?? piece.recipe.light;
  const meta = useMeta().data;
  const ball = useMemo(() => {
    const row = largest(sheet?.rows, cut);
    const seen = (name: string, otherwise: string) => row?.cells.find((c) => c.name === name)?.colour ??
      row?.cells[0]?.colour ?? otherwise;
    const colours = { base: seen("base", GREY.base), shade: seen("shade", GREY.shade),
      light: seen("light", GREY.light) };
    const part = piece.recipe.parts.find((p) => p.id === row?.part);
    const material = meta?.materials.find((m) => m.key === part?.material);
    const highlight = part?.form.highlight ?? material?.highlight ?? 1;
    return {
      ...colours, shadeShare: light.amount, shadeOffset: material?.shade_offset ?? 0,
      lightShare: (material?.light_share ?? 0.05) * highlight,
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
  const rail = (name: "azimuth" | "height" | "amount" | "simple" | "cast") => ({
    value: light[name], onShow: (v: number) => show({ ...light, [name]: v }),
      onMake: (v: number) => make({ ...light, [name]: v }),
  });
  return (
    <>
      <Box sx={{ display: "grid", gridTemplateColumns: "auto minmax(0, 1fr)", columnGap: 1, alignItems: "center",
        flexShrink: 0 }}>
        <Box>
          <Puck light={light} ball={ball} onShow={show} onMake={make} />
          <Typography variant="h3" component="p"
            sx={{ textAlign: "center" }}>{describeLight(light.azimuth, light.height)}</Typography>
        </Box>
        <Box role="group" aria-label="Places for the light" sx={{ display: "grid", gap: 0.5, maxWidth: 180 }}>
          {PRESETS.map(([label, place]) => <Button key={label} variant="outlined" size="small"
            onClick={() => make(place(light))} sx={{ px: 1 }}>{label}</Button>)}
        </Box>
      </Box>
      <EightLights piece={piece} light={piece.recipe.light} onMake={make} />
      <Rail label="Direction" min={0} max={360} says={(v) => `${v.toFixed(1)}°`} {...rail("azimuth")} />
      <Rail label="Height" min={-30} max={90} says={(v) => `${v.toFixed(1)}°`} {...rail("height")} />
      {(["rim", "bounce"] as const).map((name) => <Side key={name} name={name} light={light} onShow={show} onMake={make}
        drop={live.drop} />)}
      <Ground light={light} onShow={show} onMake={make} drop={live.drop} />
      <Seam />
      <Typography variant="h3" component="h2">Shapes</Typography>
      <Rail label="In shade" min={0.1} max={0.7} step={0.01} says={perCent} {...rail("amount")} />
      <Rail label="Simplify" min={0} max={1} step={0.05} says={perCent} {...rail("simple")} />
      <Rail label="Cast" min={0} max={3} step={0.05} says={times} {...rail("cast")} />
      <Box sx={{ display: "grid", gridTemplateColumns: "80px 1fr", alignItems: "center", columnGap: 2, minHeight: 40 }}>
        <span>In front</span>
        <Choice label="Which parts are in front" wide value={light.depth}
          onChange={(depth) => make({ ...light, depth })}
          options={[{ value: "guessed", label: "as drawn and named" }, { value: "as listed",
            label: "as listed in Parts" }]} />
      </Box>
      <Typography variant="body2" sx={{ mt: 1 }}>
        Direction runs counter-clockwise from the right. Height 90° is face on, 0° grazes, below that the light stands
          behind the figure.
        How much of a ball is in shade stays the same wherever the light is. Parts in front throw shadows on those
          behind.
      </Typography>
    </>
  );
}

interface Extra {
  light: Light;
  onShow: (light: Light) => void;
  onMake: (light: Light) => void;
  drop: () => void;
}

const SIDES = { rim: "Rim", bounce: "Bounce" };

/** A second or third light: on or off, its colour, how strong. */
function Side({ name, light, onShow, onMake, drop }: Extra & { name: "rim" | "bounce" }) {
  const side = light[name];
  const change = (more: Partial<SideLight>):
    Light => ({ ...light, [name]: { ...(side ?? sideFor(name, light)), ...more } });
  return (
    <Lamp title={SIDES[name]} of={side ?? null} drop={drop}
      onSwitch={(on) => onMake({ ...light, [name]: on ? sideFor(name, light) : null })}
      onShow={(more) => onShow(change(more))} onMake={(more) => onMake(change(more))} />
  );
}

/** The shadow on the ground: its colour and strength, and below, how the ground lies. */
function Ground({ light, onShow, onMake, drop }: Extra) {
  const { ground } = light;
  const change = (more: Partial<typeof GROUND>): Light => ({ ...light, ground: { ...(ground ?? GROUND), ...more } });
  const rail = (name: "pitch" | "soft") => ({
    value: ground?.[name] ?? GROUND[name], onShow: (v: number) => onShow(change({ [name]: v })),
      onMake: (v: number) => onMake(change({ [name]: v })),
  });
  return (
    <>
      <Lamp title="Ground" of={ground ?? null} drop={drop}
        onSwitch={(on) => onMake({ ...light, ground: on ? { ...GROUND, colour: light.ambient } : null })}
        onShow={(more) => onShow(change(more))} onMake={(more) => onMake(change(more))} />
      {ground && (
        <Box sx={{ pl: 2, borderLeft: "2px dashed", borderColor: "divider", ml: 0.5 }}>
          <Rail label="From above" min={0.02} max={1} step={0.02} says={perCent} {...rail("pitch")} />
          <Rail label="Soft" min={0} max={1} step={0.05} says={perCent} {...rail("soft")} />
        </Box>
      )}
    </>
  );
}

/** A line with a switch; when it is on, a colour and a strength. */
function Lamp({ title, of, drop, onSwitch, onShow, onMake }: {
  title: string; of: { colour: string; strength: number } | null; drop: () => void; onSwitch: (on: boolean) => void;
  onShow: (more: { colour?: string; strength?: number }) => void;
    onMake: (more: { colour?: string; strength?: number }) => void;
}) {
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "80px 44px 48px 1fr 64px", alignItems: "center", columnGap: 1.25,
      minHeight: 40 }}>
      <span>{title}</span>
      <Switch size="small" checked={of !== null} slotProps={{ input: { "aria-label": title } }}
        onChange={(_, on) => onSwitch(on)} />
      {of && (
        <>
          <ColourField label={`${title} colour`} value={of.colour} onShow={(colour) => onShow({ colour })}
            onMake={(colour) => onMake({ colour })} onCancel={drop}>
            <Box sx={{ width: 44, height: 28, borderRadius: 1, bgcolor: of.colour, border: 1,
              borderColor: "divider" }} />
          </ColourField>
          <Slider aria-label={`${title} strength`} value={of.strength} min={0} max={1} step={0.01}
            onChange={(_, v) => onShow({ strength: v })} onChangeCommitted={(_, v) => onMake({ strength: v })} />
          <Box sx={{ textAlign: "right" }}><Figure>{perCent(of.strength)}</Figure></Box>
        </>
      )}
    </Box>
  );
}

/** The colours of the part that covers most: the ball is made of it. */
function largest(sheet: SheetRow[] | undefined, cut: Cut | undefined): SheetRow | undefined {
  const pixels = partPixels(cut);
  return sheet?.reduce<SheetRow |
    undefined>((best, row) => (best && (pixels.get(best.part) ?? 0) >= (pixels.get(row.part) ?? 0) ? best : row),
      undefined);
}
