import Box from "@mui/material/Box";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import Slider from "@mui/material/Slider";
import Switch from "@mui/material/Switch";
import { Choice } from "../../ui/Choice";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { toProblem, type Piece, type Schemas, type Wish } from "../../api/client";
import { useMeta, useProposal, useShadeHues } from "../../api/pieces";
import { Figure } from "../../theme/Figure";
import { Seam } from "../../theme/Seam";
import type { Live } from "./live";
import { Proposed } from "./Proposed";

type Name = Schemas["EvenOut"]["name"];

const HUES = [["as it is", "the hue it has"], ["any", "any hue"], ["warm", "warm"], ["cool", "cool"]] as const;

/** One wash by which all parts read alike; and the ways between the schools. */
export function EvenOut({ piece, live, onLook }: { piece: Piece; live: Live; onLook: (on: boolean) => void }) {
  const spans = useMeta().data?.spans ?? {};
  const hues = useShadeHues(piece).data ?? [];
  const [name, setName] = useState<Name>("shade");
  const [hue, setHue] = useState<string>("as it is");
  const [own, setOwn] = useState(true);
  const [wanted, setWanted] = useState<number | null>(null);
  const [drag, setDrag] = useState<number | null>(null);
  const usual = spans[name ?? "shade"]?.wanted ?? 13.5;
  const wish: Wish = {
    kind: "even_out", name, own, wanted: wanted ?? usual,
    hue: HUES.some(([key]) => key === hue) ? (hue as "any") : (hues.find((h) => h.why === hue)?.hue ?? "as it is"),
  };
  const { data, error } = useProposal(piece, piece.recipe.parts.length ? wish : null);
  return (
    <Box>
      <Typography variant="body2">Finds the one colour and strength that bring every part’s step closest to the wanted
        one, and says where none can.</Typography>
      <Choice label="Pass to even out" wide value={name} sx={{ my: 1 }}
        onChange={(v) => { setName(v); setWanted(null); }}
        options={[{ value: "shade", label: "Shade, multiply" }, { value: "light", label: "Light, screen" }]} />
      <Box sx={{ display: "grid", gridTemplateColumns: "90px 1fr 64px", alignItems: "center", columnGap: 1.5,
        minHeight: 38 }}>
        <span>Step</span>
        <Slider aria-label="Wanted step" value={drag ?? wanted ?? usual} min={4} max={40} step={0.5}
          marks={[{ value: usual }]}
          onChange={(_, v) => setDrag(v)} onChangeCommitted={(_, v) => { setDrag(null); setWanted(v); }} />
        <Figure>{(drag ?? wanted ?? usual).toFixed(1)} ΔE</Figure>
        <span>Hue</span>
        <Select size="small" value={hue} aria-label="Hue of the wash" onChange={(e) => setHue(e.target.value)}
          sx={{ gridColumn: "2 / 4" }}>
          {HUES.map(([key, label]) => <MenuItem key={key} value={key}>{label}</MenuItem>)}
          {hues.map((h) => (
            <MenuItem key={h.why} value={h.why}>
              <Box component="span" sx={{ display: "inline-block", width: 14, height: 14, mr: 1, borderRadius: "50%",
                bgcolor: h.colour, verticalAlign: "-2px" }} />{h.why}
            </MenuItem>
          ))}
        </Select>
      </Box>
      <FormControlLabel label="Own colours for parts that it cannot serve" sx={{ mt: 0.5 }}
        control={<Switch size="small" checked={own} onChange={(_, v) => setOwn(v)} />} />
      {error ? <Typography variant="body2" role="alert" sx={{ mt: 1 }}>{toProblem(error).message}</Typography>
        : data && <Proposed piece={piece} proposal={data} live={live} use="Use this wash" onLook={onLook} />}
      <Seam />
      <Between piece={piece} live={live} onLook={onLook} />
    </Box>
  );
}

/** From colours picked part by part to one wash, and back. */
function Between({ piece, live, onLook }: { piece: Piece; live: Live; onLook: (on: boolean) => void }) {
  const [way, setWay] = useState<"match" | "spell_out" | null>(null);
  const { data } = useProposal(piece, way && piece.recipe.parts.length ? { kind: way } : null);
  const told = data && (way === "match") === data.rows.length > 0 ? data : null;
  return (
    <Box component="section" aria-label="Between the schools">
      <Typography variant="h3" component="h2">Between the schools</Typography>
      <Choice label="Move between schools" wide value={way} sx={{ my: 1 }} onChange={setWay}
        options={[{ value: "match", label: "Match with one wash" }, { value: "spell_out", label: "Keep per part" }]} />
      {way === null && <Typography variant="body2">Match looks for one multiply and one screen layer nearest to all
        colours seen now, with the error of each part. Keep per part turns what is seen into colours of each part’s
          own.</Typography>}
      {way && told && <Proposed piece={piece} proposal={told} live={live} use={way === "match" ? "Use these washes"
        : "Keep them per part"} several onLook={onLook} />}
    </Box>
  );
}
