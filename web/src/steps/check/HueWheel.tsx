import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, need, type Piece, type Schemas } from "../../api/client";
import { Figure } from "../../theme/Figure";

const EDGE = 240; // px of the drawing
const PUREST = 80; // CIELAB chroma at its rim
const RINGS = [20, 40, 60];
const RIM = Array.from({ length: 72 }, (_, k) => 5 * k); // degrees
const LEAST = 1.5; // px
const ALL = 46; // px: radius of a disc for the whole picture

type Wheel = Schemas["HueWheel"];

function arc(hue: number): string {
  const [from, to] = [hue - 2.6, hue + 2.6].map((h) => (h * Math.PI) / 180) as [number, number];
  const at = (turn: number) => `${EDGE / 2 + (EDGE / 2 - 4) * Math.cos(turn)} ${
    EDGE / 2 - (EDGE / 2 - 4) * Math.sin(turn)}`;
  return `M ${at(from)} A ${EDGE / 2 - 4} ${EDGE / 2 - 4} 0 0 0 ${at(to)}`;
}

/** Where a colour lies, and how large: area for area. */
export function discOf({ hue, chroma, share }: Wheel["fields"][number]): { x: number; y: number; r: number } {
  const [turn, out] = [(hue * Math.PI) / 180, ((EDGE / 2 - 16) * Math.min(chroma, PUREST)) / PUREST];
  return { x: EDGE / 2 + out * Math.cos(turn), y: EDGE / 2 - out * Math.sin(turn),
    r: Math.max(LEAST, ALL * Math.sqrt(share)) };
}

/** The colours of a picture on the hue wheel, by area. */
export function HueWheel({ piece, look }: { piece: Piece; look: string }) {
  const { data } = useQuery({
    queryKey: ["hues", piece.id, look, piece.revision], placeholderData: keepPreviousData, staleTime: Infinity,
    queryFn: ({ signal }) => need(api.GET("/api/pieces/{piece_id}/hues", { signal, params: {
      path: { piece_id: piece.id }, query: { look, revision: piece.revision } } })) });
  if (!data) return <Box sx={{ height: EDGE }} />;
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: `${EDGE}px 1fr`, alignItems: "center", gap: 2, mb: 1 }}>
      <svg width={EDGE} height={EDGE} viewBox={`0 0 ${EDGE} ${EDGE}`} role="img" aria-label="Hue wheel">
        <circle cx={EDGE / 2} cy={EDGE / 2} r={EDGE / 2 - 1} fill="#7f7f7f" />
        {RIM.map((h) => <path key={h} d={arc(h)} stroke={`lch(66% 46 ${h})`} strokeWidth={6} fill="none" />)}
        {RINGS.map((c) => <circle key={c} cx={EDGE / 2} cy={EDGE / 2} r={((EDGE / 2 - 16) * c) / PUREST} fill="none"
          stroke="#939393" strokeDasharray="3 3" />)}
        {data.fields.map((f) => {
          const { x, y, r } = discOf(f);
          return (
            <circle key={`${f.hue} ${f.chroma}`} data-testid="hue" cx={x} cy={y} r={r} fill={f.colour}
              stroke="#00000055" strokeWidth={0.5}>
              <title>{`${f.colour}: ${(100 * f.share).toFixed(1)} %`}</title>
            </circle>
          );
        })}
      </svg>
      <Box component="dl" sx={{ m: 0, display: "grid", gridTemplateColumns: "auto auto", gap: "2px 12px",
        "& dd": { m: 0, textAlign: "right" } }}>
        {([["Warm", data.warm], ["Cool", data.cool], ["Grey", data.grey]] as const).map(([name, share]) => [
          <Typography key={name} variant="body2" component="dt">{name}</Typography>,
          <dd key={`${name} share`}><Figure>{Math.round(100 * share)} %</Figure></dd>])}
      </Box>
    </Box>
  );
}
