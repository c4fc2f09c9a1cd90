import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import Slider from "@mui/material/Slider";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { toProblem, type Edit, type Piece } from "../../api/client";
import { useMeta, useProposal } from "../../api/pieces";
import { ColourField } from "../../colour/ColourField";
import { Figure } from "../../theme/Figure";
import { Seam } from "../../theme/Seam";
import type { FieldCalls, Live } from "./live";
import { Proposed } from "./Proposed";

// Reciprocal temperatures look evenly spaced; the rail runs from warm to cool.
const [WARMEST, COOLEST] = [1e6 / 1800, 1e6 / 20000];
const GROUND = "ground";
const kelvinAt = (mired: number) => Math.round(1e6 / mired / 50) * 50;

/** Light and ambient colour together: by name, or by temperature. */
export function LightColour({ piece, live, field, onLook }: {
  piece: Piece; live: Live; field: (edit: (hex: string) => Edit) => FieldCalls; onLook: (on: boolean) => void;
}) {
  const lights = useMeta().data?.lights ?? [];
  const [wanted, setWanted] = useState<string | number | null>(null);
  const [mired, setMired] = useState(1e6 / 5500);
  const { data, error } = useProposal(piece, wanted === null ? null : wanted === GROUND
    ? { kind: "light_by", light: null, from_background: true }
      : { kind: "light_by", light: wanted, from_background: false });
  const { light } = piece.recipe;
  return (
    <Box>
      <Typography variant="body2">Sets the light’s colour, what fills the shade, and the two washes that follow from
        them.</Typography>
      <Box role="radiogroup" aria-label="Light by name"
        sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 0.75, my: 1 }}>
        {lights.map((l) => (
          <ButtonBase key={l.name} role="radio" aria-checked={wanted === l.name} title={l.note}
            onClick={() => { setWanted(l.name); if (l.kelvin) setMired(1e6 / l.kelvin); }}
            sx={{ justifyContent: "flex-start", gap: 1, minHeight: 40, p: 0.5, borderRadius: 1, border: 1,
              borderColor: "divider", outline: wanted === l.name ? "2px dashed" : "none", outlineColor: "primary.main",
                outlineOffset: -2 }}>
            <Box sx={{ width: 40, height: 30, borderRadius: 0.5,
              background: `linear-gradient(100deg, ${l.key} 55%, ${l.ambient} 55%)`, border: 1,
                borderColor: "divider" }} />
            <Box sx={{ textAlign: "left", lineHeight: 1.15, minWidth: 0 }}>
              <div>{l.name}</div>
              <Typography variant="body2" noWrap sx={{ fontSize: 11.5 }}>{l.kelvin ? `${l.kelvin} K`
                : "as painted"}</Typography>
            </Box>
          </ButtonBase>
        ))}
      </Box>
      <Box sx={{ display: "grid", gridTemplateColumns: "90px 1fr 64px", alignItems: "center", columnGap: 1.5,
        minHeight: 38 }}>
        <span>Temperature</span>
        <Slider aria-label="Light temperature" value={mired} min={COOLEST} max={WARMEST} step={1} track={false}
          scale={kelvinAt} valueLabelFormat={(k) => `${k} K`}
          onChange={(_, v) => setMired(v)} onChangeCommitted={(_, v) => setWanted(kelvinAt(v))} />
        <Figure>{kelvinAt(mired)} K</Figure>
      </Box>
      <Button variant="outlined" fullWidth aria-pressed={wanted === GROUND} sx={{ mt: 0.5 }}
        onClick={() => setWanted(GROUND)}>Light the shade from the background</Button>
      {error && wanted !== null ? <Typography variant="body2" role="alert">{toProblem(error).message}</Typography>
        : data && wanted !== null && <Proposed piece={piece} proposal={data} live={live} use="Use this light" shown
          onLook={onLook} />}
      <Seam />
      <ColourField label="Light" value={light.colour ?? "#ffffff"}
        {...field((colour) => ({ kind: "move_light", light: { ...light, colour } }))} />
      <ColourField label="Ambient, in the shade" value={light.ambient ?? "#8f86b8"}
        {...field((ambient) => ({ kind: "move_light", light: { ...light, ambient } }))} />
      <ColourField label="Background" value={piece.recipe.background ?? "#ffffff"}
        {...field((colour) => ({ kind: "set_background", colour }))} />
    </Box>
  );
}
