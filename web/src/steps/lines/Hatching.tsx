import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import Typography from "@mui/material/Typography";
import { useState, type ReactNode } from "react";
import type { Edit, HatchedPlace, Piece } from "../../api/client";
import { useChanges, useHatching } from "../../api/pieces";
import { PictureView } from "../../picture/PictureView";
import { Key } from "../../ui/Key";
import { useKeys } from "../../ui/useKeys";
import { HATCHING } from "./keys";
import { Workplace } from "../../shell/Workplace";
import { Figure } from "../../theme/Figure";
import { Seam } from "../../theme/Seam";
import { SecondDrawing } from "./SecondDrawing";
import { paintHatching } from "./paintHatching";
import { useDrawnClosing } from "./useDrawnClosing";

interface Props {
  piece: Piece;
  lead: string;
  choice: ReactNode;
}

/** Ink that bounds nothing: found by families, decided one by one, pointed out by hand. */
export function Hatching({ piece, lead, choice }: Props) {
  const { data: report, isPlaceholderData: old } = useHatching(piece);
  const { edit } = useChanges(piece.id);
  const [pointed, setPointed] = useState<string | null>(null);
  const [byHand, setByHand] = useState(false);
  const decided = piece.recipe.hatching ?? [];
  const families = (report?.families ?? []).map((f) => (old ? asDecided(f, decided) : f));
  const set = (hatching: typeof decided) => void edit({ kind: "set_hatching", hatching });
  const onlyPrint = (rows: HatchedPlace[]) => {
    const more = rows.filter((f) => f.bounds).map((f) => ({ places: [f.place], by_hand: false }));
    if (more.length) set([...decided, ...more]);
  };
  const turn = (family: HatchedPlace) => {
    if (family.bounds) onlyPrint([family]);
    else set(decided.filter((_, k) => k !== family.index));
  };
  const takeBack = () => {
    const last = decided.findLastIndex((h) => h.by_hand);
    set(decided.filter((_, k) => k !== last));
  };
  const draw = useDrawnClosing(undefined, (places) => set([...decided, { places, by_hand: true }]));
  const step = (by: number) => {
    const at = families.findIndex((f) => nameOf(f) === pointed);
    const next = families[(at + by + families.length) % Math.max(1, families.length)];
    setPointed(next ? nameOf(next) : null);
  };
  useKeys(HATCHING.before, () => step(-1));
  useKeys(HATCHING.after, () => step(1));
  useKeys(HATCHING.draw, () => setByHand((on) => !on));
  useKeys(HATCHING.turn, () => {
    const family = families.find((f) => nameOf(f) === pointed);
    if (family) turn(family);
  });
  const shading = (change: Edit | null) => (change ? () => void edit(change) : undefined);
  const bounding = families.filter((f) => f.bounds);
  return (
    <Workplace title="Lines" lead={lead}
      picture={<PictureView piece={piece} kind="lines" tool={byHand ? draw.tool : null}
        overlay={(ctx, zoom) => { paintHatching(ctx, zoom, families, pointed); draw.paint(ctx, zoom); }} />}>
      {choice}
      <Typography variant="h3" component="div" role="status">{report ? summary(families)
        : "Looking for hatching …"}</Typography>
      {report && families.length === 0 && (
        <Typography variant="body2">Every stroke of this drawing bounds an area or lies alone in one. If that is wrong,
          draw across the strokes.</Typography>
      )}
      <Box sx={{ mt: 0.5 }} onPointerLeave={() => setPointed(null)}>
        {families.map((f) => (
          <Row key={nameOf(f)} family={f} on={nameOf(f) === pointed} onPoint={() => setPointed(nameOf(f))}
            onTurn={() => turn(f)}
            onShade={shading(f.shade)} />
        ))}
      </Box>
      {bounding.length > 1 && <Button variant="outlined" fullWidth sx={{ mt: 1 }}
        onClick={() => onlyPrint(bounding)}>Only print all {bounding.length}</Button>}
      <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
        <Button fullWidth variant="outlined" aria-pressed={byHand} onClick={() => setByHand(!byHand)}
          sx={{ outline: byHand ? "2px dashed" : "none", outlineColor: "primary.main", outlineOffset: -3 }}>Draw across
            strokes<Key of={HATCHING.draw} /></Button>
        {report && report.by_hand > 0 && <Button color="inherit"
          onClick={takeBack}>Take back 1 of {report.by_hand}</Button>}
      </Box>
      {byHand && <Typography variant="body2" sx={{ mt: 0.75 }}>Whatever stroke you cross is printed,
        but bounds nothing.</Typography>}
      <Seam />
      <SecondDrawing piece={piece} />
    </Workplace>
  );
}

/** A family as the recipe has it now, until the report of that recipe is there. */
function asDecided(family: HatchedPlace, decided: NonNullable<Piece["recipe"]["hatching"]>): HatchedPlace {
  const at = decided.findIndex((h) => !h.by_hand && h.places.some((p) => p.join(" ") === nameOf(family)));
  return { ...family, bounds: at < 0, index: at < 0 ? null : at };
}

const nameOf = (family: HatchedPlace) => family.place.join(" ");

function summary(families: HatchedPlace[]): string {
  if (!families.length) return "No hatching was found.";
  const printed = families.filter((f) => !f.bounds).length;
  const places = families.length === 1 ? "1 hatched place" : `${families.length} hatched places`;
  if (!printed) return `${places}, cut into areas`;
  return printed === families.length ? `${places}, only printed` : `${places}, ${printed} only printed`;
}

function Row({ family, on, onPoint, onTurn, onShade }: {
  family: HatchedPlace; on: boolean; onPoint: () => void; onTurn: () => void; onShade?: (() => void) | undefined;
}) {
  return (
    <Box onPointerEnter={onPoint} onFocus={onPoint} data-testid="family"
      sx={{ display: "grid", gridTemplateColumns: "1fr auto auto", columnGap: 0.5, alignItems: "center", minHeight: 44,
        px: 1, borderRadius: 1, bgcolor: on ? "action.hover" : "transparent" }}>
      <Box sx={{ minWidth: 0, lineHeight: 1.25 }}>
        <Box sx={{ overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>{family.words}</Box>
        <Typography variant="body2" component="div" sx={{ fontSize: 12 }}>
          <Figure size={11.5}>{family.strokes}</Figure> marks, <Figure
            size={11.5}>{Math.round(100 * (1 - family.chance))} %</Figure> doubt
        </Typography>
      </Box>
      {onShade ? <Button size="small" color="inherit" onClick={onShade}>Shade it</Button> : <span />}
      <FormControlLabel sx={{ mr: 0 }} label="Only print" labelPlacement="start"
        slotProps={{ typography: { sx: { fontSize: 13 } } }}
        control={<Switch size="small" checked={!family.bounds} onChange={onTurn}
          slotProps={{ input: { "aria-label": `Only print: ${family.words}` } }} />} />
    </Box>
  );
}
