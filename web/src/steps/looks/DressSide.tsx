import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import TextField from "@mui/material/TextField";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Edit, Part } from "../../api/client";
import { tell } from "../../api/notice";
import { useMeta } from "../../api/pieces";
import { ColourField } from "../../colour/ColourField";
import { Key } from "../../shell/GlanceBar";
import { useKeys } from "../../shell/useKeys";
import { Figure } from "../../theme/Figure";
import { Seam } from "../../theme/Seam";
import { useLiveEdit } from "../useLiveEdit";
import type { Wearing } from "./LooksStep";

type Reach = "this" | "marked" | "all";

const NUDGE_KEYS: Record<string, string> = { l: "lighter", d: "darker", w: "warmer", c: "cooler", r: "richer", u: "duller" };

/** Colours of one look, part by part; a change goes to this look, to the marked ones, or to all. */
export function DressSide({ wearing, retired, onRetired }: { wearing: Wearing; retired: boolean; onRetired: (on: boolean) => void }) {
  const { piece, report, chosen, choose, marked, part, setPart } = wearing;
  const live = useLiveEdit(piece, `look:${chosen}`);
  const [reach, setReach] = useState<Reach>("this");
  const nudges = useMeta().data?.nudges ?? [];
  const looks = piece.recipe.looks ?? [];
  const line = report?.looks.find((l) => l.id === chosen);
  const look = looks.find((k) => k.id === chosen);
  const wearers = reach === "all" ? ["piece", ...looks.map((k) => k.id)] : reach === "marked" ? [...new Set([chosen, ...marked])] : [chosen];
  const { parts } = piece.recipe;
  const changed = new Set(line?.changed ?? []);
  const dress = (id: string, colour: string | null): Edit => ({ kind: "dress", looks: wearers, bases: { [id]: colour } });
  const nudge = (to: string) => part && void live.make({ kind: "dress_nudge", looks: wearers, parts: [part], to, times: 1 });
  useKeys(Object.keys(NUDGE_KEYS), (e) => { const to = NUDGE_KEYS[e.key.toLowerCase()]; if (to) nudge(to); }, { enabled: part !== null });
  useKeys("[, ]", (e) => {
    const at = parts.findIndex((p) => p.id === part);
    const next = parts[(at + (e.key === "]" ? 1 : parts.length - 1) + parts.length) % parts.length];
    if (next) setPart(next.id);
  });
  const add = async () => {
    const after = await live.make({ kind: "add_look", name: freshName(looks.map((k) => k.name)), like: chosen });
    const made = after?.recipe.looks?.find((k) => !looks.some((old) => old.id === k.id));
    if (made) choose(made.id);
  };
  return (
    <>
      {look ? <Head key={look.id} wearing={wearing} look={look} make={live.make} /> : (
        <Typography variant="body2" sx={{ mb: 1 }}>The piece is the first look. What you change here, every other look follows, but for what it says itself.</Typography>
      )}
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
        <Button variant="contained" onClick={() => void add()}>{chosen === "piece" ? "New look" : "Duplicate"}</Button>
        {look && <Button variant="outlined" onClick={() => void live.make({ kind: "change_look", look: look.id, retired: !look.retired }).then((done) => done && !look.retired && tell("Retired: off the rail, but kept. Show retired looks to bring it back."))}>{look.retired ? "Bring back" : "Retire"}</Button>}
        {look && <Button color="inherit" sx={{ color: "text.secondary" }} onClick={() => void live.make({ kind: "remove_look", look: look.id }).then(() => choose("piece"))}>Throw away</Button>}
        {looks.some((k) => k.retired) && <FormControlLabel sx={{ ml: 0 }} control={<Checkbox size="small" checked={retired} onChange={(_, on) => onRetired(on)} />} label="Show retired" />}
      </Box>
      <Seam />
      <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, mb: 1 }}>
        <Typography variant="h3" component="h2">A change goes to</Typography>
        <ToggleButtonGroup exclusive size="small" value={reach} aria-label="A change goes to" onChange={(_, v: Reach | null) => v && setReach(v)}>
          <ToggleButton value="this">this look</ToggleButton>
          <ToggleButton value="marked" disabled={marked.size === 0}>marked</ToggleButton>
          <ToggleButton value="all">all</ToggleButton>
        </ToggleButtonGroup>
      </Box>
      {part && (
        <Box role="group" aria-label="Move the colour" sx={{ display: "grid", gridTemplateColumns: "repeat(3, 1fr)", gap: 0.75, mb: 1 }}>
          {nudges.map((to) => <Button key={to} variant="outlined" onClick={() => nudge(to)}>{to}<Key>{(Object.entries(NUDGE_KEYS).find(([, n]) => n === to)?.[0] ?? "").toUpperCase()}</Key></Button>)}
        </Box>
      )}
      <Box component="ul" aria-label="Parts of the look" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {parts.map((p) => (
          <PartRow key={p.id} part={p} base={line?.bases[p.id] ?? p.base} chosen={p.id === part} differs={changed.has(p.id)} area={report?.areas[p.id] ?? 0} onChoose={() => setPart(p.id === part ? null : p.id)}
            onShow={(c) => live.show(dress(p.id, c))} onMake={(c) => void live.make(dress(p.id, c))} onCancel={live.drop} onBack={() => void live.make({ kind: "dress", looks: wearers.filter((w) => w !== "piece"), bases: { [p.id]: null } })} />
        ))}
      </Box>
      {parts.length === 0 && <Typography variant="body2">There are no parts yet: a figure is dressed part by part.</Typography>}
    </>
  );
}

function freshName(taken: string[]): string {
  for (let k = 2; ; k += 1) if (!taken.includes(`Look ${k}`)) return `Look ${k}`;
}

function Head({ wearing, look, make }: { wearing: Wearing; look: NonNullable<Wearing["piece"]["recipe"]["looks"]>[number]; make: (edit: Edit) => Promise<unknown> }) {
  const { piece } = wearing;
  const [name, setName] = useState<string | null>(null);
  const looks = piece.recipe.looks ?? [];
  const at = looks.findIndex((k) => k.id === look.id);
  const keep = () => { if (name !== null && name.trim() && name.trim() !== look.name) void make({ kind: "change_look", look: look.id, name: name.trim() }).then(() => setName(null)); else setName(null); };
  const own = look.background;
  return (
    <Box sx={{ mb: 1 }}>
      <Box sx={{ display: "flex", gap: 0.75 }}>
        <TextField fullWidth label="Name of the look" value={name ?? look.name} onChange={(e) => setName(e.target.value)} onBlur={keep} onKeyDown={(e) => { if (e.key === "Enter") keep(); if (e.key === "Escape") setName(null); }} slotProps={{ htmlInput: { maxLength: 80 } }} />
        <Button variant="outlined" aria-label="Hang it one to the left" disabled={at <= 0} sx={{ minWidth: 36, px: 0 }} onClick={() => void make({ kind: "move_look", look: look.id, before: looks[at - 1]?.id ?? null })}>←</Button>
        <Button variant="outlined" aria-label="Hang it one to the right" disabled={at >= looks.length - 1} sx={{ minWidth: 36, px: 0 }} onClick={() => void make({ kind: "move_look", look: look.id, before: looks[at + 2]?.id ?? null })}>→</Button>
      </Box>
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr auto", alignItems: "center", mt: 0.5 }}>
        <ColourField label="Background" value={own ?? piece.recipe.background} onShow={() => undefined} onMake={(c) => void make({ kind: "change_look", look: look.id, background: c })} onCancel={() => undefined} />
        {own ? <Button color="inherit" onClick={() => void make({ kind: "change_look", look: look.id, background: "piece" })}>As the piece</Button> : <Typography variant="body2">as the piece</Typography>}
        {(look.light || look.passes) && <Typography variant="body2">It has a light of its own.</Typography>}
        {(look.light || look.passes) && <Button color="inherit" onClick={() => void make({ kind: "change_look", look: look.id, light: "piece", passes: "piece" })}>Light as the piece</Button>}
      </Box>
    </Box>
  );
}

interface RowProps {
  part: Part;
  base: string;
  chosen: boolean;
  differs: boolean;
  area: number;
  onChoose: () => void;
  onShow: (hex: string) => void;
  onMake: (hex: string) => void;
  onCancel: () => void;
  onBack: () => void;
}

function PartRow({ part, base, chosen, differs, area, onChoose, onShow, onMake, onCancel, onBack }: RowProps) {
  return (
    <Box component="li" sx={{ display: "grid", gridTemplateColumns: "64px 1fr auto", alignItems: "center", columnGap: 1, minHeight: 40, borderRadius: 1, ...(chosen && { outline: "2px dashed", outlineColor: "primary.main", outlineOffset: -2 }) }}>
      <ColourField label={`Base of ${part.name}`} value={base} starters={part.material} onShow={onShow} onMake={onMake} onCancel={onCancel}>
        <Box sx={{ width: 56, height: 30, ml: 0.5, borderRadius: 1, bgcolor: base, border: 1, borderColor: "divider" }} />
      </ColourField>
      <ButtonBase onClick={onChoose} aria-pressed={chosen} sx={{ justifyContent: "flex-start", gap: 1, minHeight: 36, textAlign: "left", borderRadius: 1 }}>
        <Box component="span" sx={{ fontWeight: differs ? 640 : 450 }}>{part.name}</Box>
        <Figure size={11.5}>{base}</Figure>
        <Typography component="span" variant="body2" sx={{ ml: "auto", fontSize: 12 }}>{(100 * area).toFixed(0)} %</Typography>
      </ButtonBase>
      {differs ? <Button color="inherit" size="small" aria-label={`${part.name} as in the piece`} sx={{ minWidth: 0, color: "text.secondary" }} onClick={onBack}>as the piece</Button> : <span />}
    </Box>
  );
}
