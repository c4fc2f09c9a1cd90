import Box from "@mui/material/Box";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import Slider from "@mui/material/Slider";
import Switch from "@mui/material/Switch";
import Typography from "@mui/material/Typography";
import { storePicture, type MotifKey, type Part, type Piece, type Schemas } from "../../api/client";
import { tellProblem } from "../../api/notice";
import { useMeta } from "../../api/pieces";
import { ColourField } from "../../colour/ColourField";
import { Figure } from "../../theme/Figure";
import { useLiveEdit } from "../useLiveEdit";
import { FileButton } from "../../ui/FileButton";

type Pattern = Schemas["Pattern"];

const FIRST: Pattern = { motif: "stripes", picture: null, repeat: false, colour: "#f3ead6", share: 0.4, period: 120,
  angle: 0, degree: 90, dx: 0, dy: 0, follow: true, strength: 1 };

interface Rail {
  key: "period" | "share" | "angle" | "degree" | "dx" | "dy" | "strength";
  label: string;
  min: number;
  max: number;
  step: number;
  unit: string;
  scale?: number;
}

const rails = (edge: number, motif: boolean): Rail[] => [
  { key: "period", label: motif ? "Repeat" : "Size", min: 8, max: Math.round(motif ? edge / 4 : edge), step: 1,
    unit: "px" },
  ...(motif ? [{ key: "share" as const, label: "Share", min: 0.02, max: 0.98, step: 0.01, unit: "%", scale: 100 }]
    : []),
  { key: "angle", label: "Angle", min: -180, max: 180, step: 1, unit: "°" },
  { key: "degree", label: "Seen at", min: 5, max: 90, step: 1, unit: "°" },
  { key: "dx", label: "Across", min: -Math.round(edge / 4), max: Math.round(edge / 4), step: 1, unit: "px" },
  { key: "dy", label: "Down", min: -Math.round(edge / 4), max: Math.round(edge / 4), step: 1, unit: "px" },
  { key: "strength", label: "Strength", min: 0, max: 1, step: 0.01, unit: "%", scale: 100 },
];

/** Stripes, dots, checks, or a picture on a part; the picture follows each control at once. */
export function PatternEditor({ piece, part, onWork }: { piece: Piece; part: Part; onWork: () => void }) {
  const motifs = useMeta().data?.motifs ?? [];
  const live = useLiveEdit(piece, "bases");
  const pattern = part.pattern ?? null;
  const edit = (next: Pattern | null) => ({ kind: "set_pattern" as const, part: part.id, pattern: next });
  const make = (next: Pattern | null) => {
    onWork();
    void live.make(edit(next));
  };
  const choose = (what: string) => {
    if (what === "none") make(null);
    else make({ ...(pattern ?? FIRST), motif: what as MotifKey, picture: null });
  };
  const place = (file: File | undefined) => {
    if (file) storePicture(file).then((picture) => make({ ...(pattern ?? FIRST), picture, period: pattern?.picture
      ? pattern.period : Math.round(piece.width / 4) })).catch(tellProblem);
  };
  const now = pattern?.picture ? "picture" : (pattern?.motif ?? "none");
  return (
    <Box sx={{ gridColumn: "1 / -1" }}>
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr auto", gap: 1 }}>
        <Select value={now} aria-label="Pattern" onChange={(e) => choose(e.target.value)}>
          <MenuItem value="none">No pattern</MenuItem>
          {motifs.map((m) => <MenuItem key={m} value={m}>{m[0]?.toUpperCase()}{m.slice(1)}</MenuItem>)}
          <MenuItem value="picture" disabled={!pattern?.picture}>A picture</MenuItem>
        </Select>
        <FileButton label="Picture to place" accept="image/*,.svg" variant="outlined" onFiles={([file]) => place(file)}>
          {pattern?.picture ? "Another picture" : "Place a picture"}
        </FileButton>
      </Box>
      {pattern && (
        <>
          {!pattern.picture && (
            <ColourField label="Pattern colour" value={pattern.colour ?? "#f3ead6"}
              onShow={(colour) => live.show(edit({ ...pattern, colour }))}
              onMake={(colour) => make({ ...pattern, colour })} onCancel={live.drop} />
          )}
          {rails(Math.max(piece.width, piece.height),
            !pattern.picture).map(({ key, label, min, max, step, unit, scale = 1 }) => (
            <Box key={key} sx={{ display: "grid", gridTemplateColumns: "72px 1fr 64px", alignItems: "center",
              columnGap: 1.5, height: 36 }}>
              <span>{label}</span>
              <Slider size="small" aria-label={`${label} of the pattern`} value={pattern[key] ?? 0} min={min} max={max}
                step={step}
                onChange={(_, v) => live.show(edit({ ...pattern, [key]: v }))}
                  onChangeCommitted={(_, v) => make({ ...pattern, [key]: v })} />
              <Figure>{Math.round((pattern[key] ?? 0) * scale)} {unit}</Figure>
            </Box>
          ))}
          <FormControlLabel sx={{ ml: 0 }} label={<Typography variant="body2">Follows the form</Typography>}
            control={<Switch size="small" checked={pattern.follow ?? true}
              onChange={(_, follow) => make({ ...pattern, follow })} />} />
          {pattern.picture && (
            <FormControlLabel label={<Typography variant="body2">Side by side</Typography>}
              control={<Switch size="small" checked={pattern.repeat ?? false}
                onChange={(_, repeat) => make({ ...pattern, repeat })} />} />
          )}
        </>
      )}
    </Box>
  );
}
