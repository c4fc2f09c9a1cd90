import Box from "@mui/material/Box";
import Slider from "@mui/material/Slider";
import Typography from "@mui/material/Typography";
import { useMemo, useState } from "react";
import type { Cut, Schemas, SheetRow } from "../../api/client";
import { partPixels } from "../../api/cut";
import { useCut, useMeta, useSheet } from "../../api/pieces";
import { PictureView } from "../../picture/PictureView";
import type { StepProps } from "../StepProps";
import { Workplace } from "../../shell/Workplace";
import { Figure } from "../../theme/Figure";
import { Seam } from "../../theme/Seam";
import { useLiveEdit } from "../useLiveEdit";
import { describeLight } from "./ball";
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
      ...colours, shadeShare: meta?.shade_share ?? 0.38, shadeOffset: material?.shade_offset ?? 0,
      lightShare: material?.light_share ?? 0.05, glossy: material?.glossy ?? true,
    };
  }, [sheet, cut, meta, piece.recipe.parts]);
  const show = (next: Light) => {
    setDrag(next);
    live.show({ kind: "move_light", light: next });
  };
  const make = (next: Light) => {
    setDrag(next);
    void live.make({ kind: "move_light", light: next }).then(() => setDrag(null));
  };
  return (
    <Workplace title="Light" lead="One key light for the whole piece. Drag the puck; every shade and light shape follows."
      picture={<PictureView piece={piece} kind="picture" />}>
      <Puck light={light} ball={ball} onShow={show} onMake={make} />
      <Typography variant="h3" sx={{ textAlign: "center" }}>{describeLight(light.azimuth, light.height)}</Typography>
      <Seam />
      <Rail label="Direction" unit="°" value={light.azimuth} min={0} max={360} onShow={(v) => show({ ...light, azimuth: v })} onMake={(v) => make({ ...light, azimuth: v })} />
      <Rail label="Height" unit="°" value={light.height} min={-30} max={90} onShow={(v) => show({ ...light, height: v })} onMake={(v) => make({ ...light, height: v })} />
      <Typography variant="body2" sx={{ mt: 1 }}>
        Direction runs counter-clockwise from the right. Height 90° is face on, 0° grazes, below that the light stands behind the figure.
        The amount of shadow stays the same on a ball wherever the light is.
      </Typography>
    </Workplace>
  );
}

function Rail({ label, unit, value, min, max, onShow, onMake }: {
  label: string; unit: string; value: number; min: number; max: number;
  onShow: (v: number) => void; onMake: (v: number) => void;
}) {
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "80px 1fr 60px", alignItems: "center", columnGap: 2, minHeight: 38 }}>
      <span>{label}</span>
      <Slider aria-label={label} value={value} min={min} max={max} step={1} onChange={(_, v) => onShow(v)} onChangeCommitted={(_, v) => onMake(v)} />
      <Box sx={{ textAlign: "right" }}><Figure>{value.toFixed(1)}{unit}</Figure></Box>
    </Box>
  );
}

/** The colours of the part that covers most: the ball is made of it. */
function largest(sheet: SheetRow[] | undefined, cut: Cut | undefined): SheetRow | undefined {
  const pixels = partPixels(cut);
  return sheet?.reduce<SheetRow | undefined>((best, row) => (best && (pixels.get(best.part) ?? 0) >= (pixels.get(row.part) ?? 0) ? best : row), undefined);
}
