import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Slider from "@mui/material/Slider";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Look, MethodKey } from "../../api/client";
import { useMeta } from "../../api/pieces";
import { ColourField } from "../../colour/ColourField";
import { Figure } from "../../theme/Figure";
import type { LiveEdit } from "../useLiveEdit";
import type { Wearing } from "./LooksStep";

/** Name, place on the rail, background, method and light of a look. */
export function LookHead({ wearing, look, live }: { wearing: Wearing; look: Look; live: LiveEdit }) {
  const { piece } = wearing;
  const { make } = live;
  const [name, setName] = useState<string | null>(null);
  const [more, setMore] = useState(look.light != null || look.passes != null);
  const looks = piece.recipe.looks ?? [];
  const at = looks.findIndex((k) => k.id === look.id);
  const keep = () => { if (name !== null && name.trim() && name.trim() !== look.name) void
    make({ kind: "change_look", look: look.id, name: name.trim() }).then(() => setName(null)); else setName(null); };
  const own = look.background;
  return (
    <Box sx={{ mb: 1 }}>
      <Box sx={{ display: "flex", gap: 0.75 }}>
        <TextField fullWidth label="Name of the look" value={name ?? look.name}
          onChange={(e) => setName(e.target.value)} onBlur={keep} onKeyDown={(e) => { if (e.key === "Enter") keep();
            if (e.key === "Escape") setName(null); }} slotProps={{ htmlInput: { maxLength: 80 } }} />
        <Button variant="outlined" aria-label="Hang it one to the left" disabled={at <= 0} sx={{ minWidth: 36, px: 0 }}
          onClick={() => void make({ kind: "move_look", look: look.id, before: looks[at - 1]?.id ?? null })}>←</Button>
        <Button variant="outlined" aria-label="Hang it one to the right" disabled={at >= looks.length - 1}
          sx={{ minWidth: 36, px: 0 }}
            onClick={() => void make({ kind: "move_look", look: look.id, before: looks[at + 2]?.id ??
              null })}>→</Button>
      </Box>
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr auto", alignItems: "center", mt: 0.5 }}>
        <ColourField label="Background" value={own ?? piece.recipe.background}
          onShow={(c) => live.show({ kind: "set_background", colour: c, targets: [look.id] })}
            onMake={(c) => void make({ kind: "set_background", colour: c, targets: [look.id] })} onCancel={live.drop} />
        {own ? <Button color="inherit"
          onClick={() => void make({ kind: "follow_piece", looks: [look.id], what: ["background"], parts: [] })}>As the
            piece</Button> : <Typography variant="body2">as the piece</Typography>}
      </Box>
      <Button color="inherit" aria-expanded={more} onClick={() => setMore(!more)}>{more ? "Less"
        : "Method, light and lines"}</Button>
      {more && <OwnLight wearing={wearing} look={look} live={live} />}
    </Box>
  );
}

/** Method and light of a look, where it has its own. */
function OwnLight({ wearing, look, live }: { wearing: Wearing; look: Look; live: LiveEdit }) {
  const { make } = live;
  const methods = useMeta().data?.methods ?? [];
  const { recipe } = wearing.piece;
  const [drag, setDrag] = useState<{ azimuth: number; height: number } | null>(null);
  const light = look.light ?? recipe.light;
  const shown = drag ?? { azimuth: light.azimuth ?? 128, height: light.height ?? 38 };
  const slider = (key: "azimuth" | "height", label: string, min: number, max: number) => (
    <Box sx={{ display: "grid", gridTemplateColumns: "92px 1fr 48px", alignItems: "center", columnGap: 1.5 }}>
      <span>{label}</span>
      <Slider size="small" aria-label={`${label} of the look’s light`} value={shown[key]} min={min} max={max} step={1}
        onChange={(_, v) => { setDrag({ ...shown, [key]: v });
          live.show({ kind: "move_light", light: { ...light, [key]: v }, targets: [look.id] }); }}
        onChangeCommitted={(_, v) => void
          make({ kind: "move_light", light: { ...light, [key]: v }, targets: [look.id] }).then(() => setDrag(null))} />
      <Figure>{Math.round(shown[key])}°</Figure>
    </Box>
  );
  return (
    <Box sx={{ mt: 1 }}>
      <TextField select fullWidth label="Method" value={look.passes?.method ?? ""}
        onChange={(e) => void make(e.target.value
          ? { kind: "set_passes", passes: { ...(look.passes ?? recipe.passes), method: e.target.value as MethodKey },
            targets: [look.id] } : { kind: "follow_piece", looks: [look.id], what: ["passes"], parts: [] })}
              slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}>
        <MenuItem value="">as the piece</MenuItem>
        {methods.map((m) => <MenuItem key={m.key} value={m.key}>{m.label}</MenuItem>)}
      </TextField>
      <TextField select fullWidth label="Lines" sx={{ mt: 1 }}
        value={look.ink ? (look.ink.on ? "coloured" : "one") : ""}
        onChange={(e) => void make(e.target.value
          ? { kind: "set_ink", ink: { ...(look.ink ?? recipe.ink), on: e.target.value === "coloured" },
            targets: [look.id] } : { kind: "follow_piece", looks: [look.id], what: ["ink"], parts: [] })}
              slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}>
        <MenuItem value="">as the piece</MenuItem>
        <MenuItem value="coloured">coloured by what they bound</MenuItem>
        <MenuItem value="one">in one colour</MenuItem>
      </TextField>
      <FormControlLabel control={<Checkbox checked={look.light !== null && look.light !== undefined}
        onChange={(_, on) => void make(on ? { kind: "move_light", light, targets: [look.id] }
          : { kind: "follow_piece", looks: [look.id], what: ["light"], parts: [] })} />} label="A light of its own" />
      {look.light && <>{slider("azimuth", "Direction", 0, 359)}{slider("height", "Height", -20, 90)}</>}
    </Box>
  );
}
