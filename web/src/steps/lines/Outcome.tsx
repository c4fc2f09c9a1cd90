import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect, useRef } from "react";
import type { Part, Piece } from "../../api/client";
import { Figure } from "../../theme/Figure";
import { Seam } from "../../theme/Seam";
import { Key } from "../../ui/Key";
import { useKeys } from "../../ui/useKeys";
import type { ChangedHands, Corrected } from "./corrected";
import { VERSIONS } from "./keys";

type Box4 = [number, number, number, number];
interface Place { key: string; box: Box4; says: string; size: string }

/** What a corrected drawing would come to, place by place, before it is taken. */
export function Outcome({ piece, offer, file, pointed, onPoint, onTake, onLeave }: {
  piece: Piece; offer: Corrected; file: string; pointed: string | null; onPoint: (key: string | null) => void;
  onTake: () => void; onLeave: () => void;
}) {
  const changed = changedPlaces(offer, piece.recipe.parts ?? []);
  const redrawn = redrawnPlaces(offer);
  const all = [...changed, ...redrawn];
  const step = (by: number) => {
    const at = all.findIndex((p) => p.key === pointed);
    onPoint(all[(at + by + all.length) % Math.max(1, all.length)]?.key ?? null);
  };
  useKeys(VERSIONS.before, () => step(-1));
  useKeys(VERSIONS.after, () => step(1));
  useKeys(VERSIONS.take, onTake);
  return (
    <>
      <Box role="region" aria-label="The corrected drawing"
        sx={{ border: "2px dashed", borderColor: "primary.main", borderRadius: 1, p: 1.25 }}>
        <Typography noWrap title={file}>{file}</Typography>
        <Typography variant="body2"><Figure size={12}>{percent(offer.agreement)}</Figure> of the lines agree
          {offer.sure ? "" : ": look whether it is the same drawing"}. {moved(offer)}</Typography>
        <Typography variant="body2"><Figure size={12}>{percent(offer.kept)}</Figure> of the figure keeps its
          part.</Typography>
        <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
          <Button variant="contained" onClick={onTake} sx={{ flex: 1 }}>Put it in place<Key
            of={VERSIONS.take} /></Button>
          <Button color="inherit" onClick={onLeave}>Leave it</Button>
        </Box>
      </Box>
      <Seam />
      <Places title="Changes hands" places={changed} none="Nothing: every place keeps its part." pointed={pointed}
        onPoint={onPoint} />
      <Places title="Drawn anew" places={redrawn} none="No line that the other does not have." pointed={pointed}
        onPoint={onPoint} />
    </>
  );
}

function Places({ title, places, none, pointed, onPoint }: {
  title: string; places: Place[]; none: string; pointed: string | null; onPoint: (key: string | null) => void;
}) {
  return (
    <Box component="section" aria-label={title} onPointerLeave={() => onPoint(null)} sx={{ mb: 1.5 }}>
      <Typography variant="h3" component="h2">{title} <Figure>{places.length}</Figure></Typography>
      {places.length === 0 && <Typography variant="body2">{none}</Typography>}
      {places.map((p) => <Row key={p.key} place={p} on={p.key === pointed} onPoint={() => onPoint(p.key)} />)}
    </Box>
  );
}

function Row({ place, on, onPoint }: { place: Place; on: boolean; onPoint: () => void }) {
  const row = useRef<HTMLDivElement>(null);
  useEffect(() => { if (on) row.current?.scrollIntoView({ block: "nearest" }); }, [on]);
  return (
    <Box ref={row} data-testid="place" aria-current={on || undefined} onPointerEnter={onPoint}
      sx={{ display: "flex", alignItems: "center", gap: 1, minHeight: 36, px: 1, borderRadius: 1,
        bgcolor: on ? "action.hover" : "transparent" }}>
      <Box sx={{ flex: 1, minWidth: 0, overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>
        {place.says}</Box>
      <Figure>{place.size}</Figure>
    </Box>
  );
}

function changedPlaces(offer: Corrected, parts: Part[]): Place[] {
  const name = (id: ChangedHands["before"]) => id === "ground" ? "the ground" : id === "none" ? "no part"
    : parts.find((p) => p.id === id)?.name ?? id;
  return offer.changed.map((c, k) => ({ key: `c${k}`, box: c.box as Box4,
    says: `${name(c.before)} to ${name(c.after)}`, size: extent(c.box as Box4) }));
}

function redrawnPlaces(offer: Corrected): Place[] {
  return offer.redrawn.map((r, k) => ({ key: `r${k}`, box: r.box as Box4, says: r.new ? "new lines" : "lines are gone",
    size: extent(r.box as Box4) }));
}

const extent = ([, , w, h]: Box4) => `${w} × ${h} px`;
const percent = (share: number) => share > 0.99 && share < 1 ? `${(Math.floor(share * 1000) / 10).toFixed(1)} %`
  : `${Math.round(100 * share)} %`;

function moved({ dx, dy, clockwise, scale }: Corrected): string {
  const still = Math.abs(dx) < 0.05 && Math.abs(dy) < 0.05 && Math.abs(clockwise) < 0.005 && Math.abs(scale - 1) < 5e-5;
  if (still) return "It lies just as the one before did.";
  const told = [`shifted by ${dx.toFixed(1)}, ${dy.toFixed(1)} px`];
  const way = clockwise > 0 ? "clockwise" : "counter-clockwise";
  if (Math.abs(clockwise) >= 0.005) told.push(`turned by ${Math.abs(clockwise).toFixed(2)}° ${way}`);
  if (Math.abs(scale - 1) >= 5e-5) told.push(`scaled to ${(100 * scale).toFixed(1)} %`);
  return `To lie on the first it is ${told.join(", ")}.`;
}

/** A box round each place: of whole lines where it changes hands, dashed where it is drawn anew. */
export function paintPlaces(ctx: CanvasRenderingContext2D, zoom: number, offer: Corrected,
  pointed: string | null): void {
  const all = [...offer.changed.map((c, k) => [`c${k}`, c.box as Box4] as const),
    ...offer.redrawn.map((r, k) => [`r${k}`, r.box as Box4] as const)];
  for (const [key, [x, y, w, h]] of all) {
    const on = key === pointed;
    const room = 6 / zoom;
    for (const [width, colour, dash] of [[on ? 5 : 3, "#ffffff", []], [on ? 2.5 : 1.5, "#1b1b1b",
      key.startsWith("c") ? [] : [6, 5]]] as const) {
      ctx.lineWidth = width / zoom;
      ctx.strokeStyle = colour;
      ctx.setLineDash(dash.map((d) => d / zoom));
      ctx.strokeRect(x - room, y - room, w + 2 * room, h + 2 * room);
    }
  }
  ctx.setLineDash([]);
}
