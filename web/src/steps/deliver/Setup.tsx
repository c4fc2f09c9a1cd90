import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Slider from "@mui/material/Slider";
import TextField from "@mui/material/TextField";
import { Choice } from "../../ui/Choice";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Delivery, Piece, Schemas } from "../../api/client";
import { useChanges, useMeta, useStack } from "../../api/pieces";
import { NewPiece } from "../../home/NewPiece";
import { PictureView } from "../../picture/PictureView";
import { Workplace } from "../../shell/Workplace";
import { Figure } from "../../theme/Figure";
import { Seam } from "../../theme/Seam";
import { Templates } from "./Templates";
import { choose } from "./deliver";
import type { SideProps } from "../StepProps";

type Extra = Schemas["ExtraLayer"];
type Place = NonNullable<Extra["place"]>;

const PLACES: Record<Place, string> = { "over lines": "over the lines", "over figure": "over the figure",
  "in parts": "in every part", "behind": "behind the figure" };

/** Clipping, names, empty layers to paint on, templates, the next piece. */
export function Setup({ piece, tabs }: SideProps) {
  const { edit } = useChanges(piece.id);
  const [next, setNext] = useState(false);
  const delivery: Delivery = piece.recipe.delivery ?? {};
  const set = (some: Partial<Delivery>) => edit(choose(() => some));
  const masked = delivery.clipping === "masked";
  return (
    <Workplace title="Set up" lead="How the stack is built, here and in pieces to come."
      picture={<PictureView piece={piece} kind="picture" />}>
      {tabs}
      <Typography variant="h3" component="h2">Clipping</Typography>
      <Choice label="Clipping" wide value={delivery.clipping ?? "limited"} sx={{ my: 0.75 }}
        onChange={(clipping) => void set({ clipping })}
        options={[{ value: "limited", label: "Cut to the base" }, { value: "masked", label: "Live, by a mask" }]} />
      <Typography variant="body2">
        {masked
          ? "For a file that is painted on elsewhere: each group ends in a mask that keeps what is painted inside its "
            + "base, now and later. Needs a program that knows “destination in”; others show the mask as a grey layer."
          : "For a file that is looked at or printed: every pass ends where its base ends, so every program shows the "
            + "same picture. What is painted on it later is not kept inside; choose the live form for that."}
      </Typography>
      <Seam />
      <Names piece={piece} delivery={delivery} set={set} />
      <FormControlLabel control={<Checkbox checked={delivery.numbered ?? false}
        onChange={(_, on) => void set({ numbered: on })} />} label="Numbers before the names, from the bottom" />
      <FormControlLabel control={<Checkbox checked={delivery.empties ?? false}
        onChange={(_, on) => void set({ empties: on })} />} label="Keep passes on which nothing is painted" />
      <FormControlLabel control={<Checkbox checked={delivery.lines === "by part"}
        onChange={(_, on) => void set({ lines: on ? "by part" : "one layer" })} />}
        label="A layer of lines for each part that owns some" />
      <Seam />
      <Extras extras={delivery.extras ?? []}
        set={(extras) => edit(choose((now) => ({ extras: extras(now.extras ?? []) })))} />
      <Seam />
      <Growth piece={piece} />
      <Seam />
      <Templates piece={piece} />
      <Seam />
      <Typography variant="h3" component="h2">The next piece</Typography>
      <Typography variant="body2" sx={{ mb: 1 }}>A new drawing that begins with this one’s card, light, method,
        stack and planned minutes.</Typography>
      <Button variant="outlined" onClick={() => setNext(true)}>Start the next piece from this one</Button>
      {next && <NewPiece file={null} like={piece} onClose={() => setNext(false)} />}
    </Workplace>
  );
}

function Names({ piece, delivery, set }: { piece: Piece; delivery: Delivery;
  set: (change: Partial<Delivery>) => Promise<Piece | null> }) {
  const now = delivery.names ?? "{part} / {pass}";
  const [typed, setTyped] = useState<string | null>(null);
  const { data: section } = useStack(piece);
  const text = typed ?? now;
  const bad = !/\{(part|pass)\}/.test(text) || /[{}]/.test(text.replace(/\{(part|pass|number)\}/g, ""));
  const keep = () => { if (!bad && text !== now) void set({ names: text }).then(() => setTyped(null));
    else if (!bad) setTyped(null); };
  const some = section?.lines.filter((l) => l.kind === "layer" && l.columns.length === 1).slice(0,
    2).map((l) => l.name).join(" · ");
  return (
    <Box sx={{ display: "grid", gap: 1.25 }}>
      <Typography variant="h3" component="h2">Names</Typography>
      <TextField label="Pattern" value={text} error={bad} onChange={(e) => setTyped(e.target.value)} onBlur={keep}
        onKeyDown={(e) => { if (e.key === "Enter") keep(); if (e.key === "Escape") setTyped(null); }}
        helperText={bad ? "Use {part}, {pass} and {number}; one of the first two is needed." : some}
          slotProps={{ htmlInput: { maxLength: 120, spellCheck: false } }} />
    </Box>
  );
}

function Extras({ extras, set }: { extras: Extra[];
  set: (extras: (now: Extra[]) => Extra[]) => Promise<Piece | null> }) {
  const modes = useMeta().data?.modes ?? ["normal"];
  const [name, setName] = useState("");
  const change = (k: number, part: Partial<Extra>) => void
    set((now) => now.map((e, i) => (i === k ? { ...e, ...part } : e)));
  const add = () => { if (name.trim()) void
    set((now) => [...now, { name: name.trim(), mode: "normal", opacity: 1, place: "over figure" }]).then((done) => done
      && setName("")); };
  return (
    <Box>
      <Typography variant="h3" component="h2">Empty layers to paint on</Typography>
      <Box component="ul" aria-label="Empty layers" sx={{ listStyle: "none", m: 0, mt: 0.5, p: 0 }}>
        {extras.map((e, k) => (
          <Box component="li" key={k}
            sx={{ display: "grid", gridTemplateColumns: "minmax(56px,1fr) 116px 148px auto", gap: 0.75,
              alignItems: "center", minHeight: 44 }}>
            <Box sx={{ fontWeight: 560, overflow: "hidden", textOverflow: "ellipsis" }}>{e.name}</Box>
            <TextField select aria-label={`Mode of ${e.name}`} value={e.mode ?? "normal"}
              onChange={(ev) => change(k, { mode: ev.target.value as typeof e.mode })}>
              {modes.map((m) => <MenuItem key={m} value={m}>{m}</MenuItem>)}
            </TextField>
            <TextField select aria-label={`Place of ${e.name}`} value={e.place ?? "over figure"}
              onChange={(ev) => change(k, { place: ev.target.value as Place })}>
              {Object.entries(PLACES).map(([key, label]) => <MenuItem key={key} value={key}>{label}</MenuItem>)}
            </TextField>
            <Button color="inherit" aria-label={`Remove ${e.name}`} sx={{ minWidth: 0, color: "text.secondary" }}
              onClick={() => void set((now) => now.filter((_, i) => i !== k))}>Remove</Button>
            <Box sx={{ gridColumn: "1 / -1", display: "grid", gridTemplateColumns: "72px 1fr 48px",
              alignItems: "center", gap: 1.5 }}>
              <Typography variant="body2">Opacity</Typography>
              <Opacity name={e.name} value={e.opacity ?? 1} onDone={(opacity) => change(k, { opacity })} />
            </Box>
          </Box>
        ))}
      </Box>
      <Box sx={{ display: "flex", gap: 1, mt: 1.25 }}>
        <TextField fullWidth label="Name of a new one" value={name} onChange={(e) => setName(e.target.value)}
          onKeyDown={(e) => { if (e.key === "Enter") add(); }} slotProps={{ htmlInput: { maxLength: 60 } }} />
        <Button variant="outlined" disabled={!name.trim()} onClick={add}>Add</Button>
      </Box>
    </Box>
  );
}

function Opacity({ name, value, onDone }: { name: string; value: number; onDone: (value: number) => void }) {
  const [drag, setDrag] = useState<number | null>(null);
  const shown = drag ?? value;
  return (
    <>
      <Slider size="small" aria-label={`Opacity of ${name}`} value={shown} min={0} max={1} step={0.01}
        onChange={(_, v) => setDrag(v)} onChangeCommitted={(_, v) => { onDone(v); setDrag(null); }} />
      <Figure>{Math.round(100 * shown)} %</Figure>
    </>
  );
}

/** How far the silhouette's edge lies under the outline. */
function Growth({ piece }: { piece: Piece }) {
  const { edit } = useChanges(piece.id);
  const [drag, setDrag] = useState<number | null>(null);
  const growth = drag ?? piece.recipe.silhouette_growth ?? 2;
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "1fr 120px 56px", alignItems: "center", columnGap: 1.5 }}>
      <Typography variant="body1">Silhouette under the line</Typography>
      <Slider size="small" aria-label="How far the outside is grown under the line, px" value={growth} min={0} max={4}
        step={0.5}
        onChange={(_, v) => setDrag(v)}
        onChangeCommitted={(_, v) => void edit({ kind: "grow_silhouette", growth: v }).then(() => setDrag(null))} />
      <Box sx={{ textAlign: "right" }}><Figure>{growth.toFixed(1)} px</Figure></Box>
    </Box>
  );
}
