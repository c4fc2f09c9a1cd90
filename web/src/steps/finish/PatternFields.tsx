import Box from "@mui/material/Box";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import Switch from "@mui/material/Switch";
import Typography from "@mui/material/Typography";
import { storePicture, type MotifKey, type Piece } from "../../api/client";
import { tellProblem } from "../../api/notice";
import { useMeta } from "../../api/pieces";
import { ColourField } from "../../colour/ColourField";
import { FileButton } from "../../ui/FileButton";
import { perCent, Rail } from "../../ui/Rail";
import type { LaidPattern, Paint } from "./finish";

/** A motif or a picture of one's own: how large, how turned, side by side, how blurred. */
export function PatternFields({ piece, paint, onShow, onMake, onCancel }: {
  piece: Piece; paint: LaidPattern; onShow: (paint: Paint) => void; onMake: (paint: Paint) => void;
    onCancel: () => void;
}) {
  const motifs = useMeta().data?.motifs ?? [];
  const { pattern } = paint;
  const edge = Math.max(piece.width, piece.height);
  const withPattern = (more: Partial<typeof pattern>): Paint => ({ ...paint, pattern: { ...pattern, ...more } });
  const rail = (name: "period" | "angle" | "share" | "strength" | "degree") => ({
    value: pattern[name] ?? 0, onShow: (v: number) => onShow(withPattern({ [name]: v })),
    onMake: (v: number) => onMake(withPattern({ [name]: v })),
  });
  const place = (file: File | undefined) => {
    if (file) storePicture(file, edge).then((picture) => onMake(withPattern({ picture, repeat: false,
      period: pattern.picture ? pattern.period : piece.width }))).catch(tellProblem);
  };
  return (
    <Box role="group" aria-label="Pattern or picture">
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr auto", gap: 1, mb: 0.5 }}>
        <Select value={pattern.picture ? "picture" : pattern.motif} inputProps={{ "aria-label": "Motif" }}
          onChange={(e) => onMake(withPattern({ motif: e.target.value as MotifKey, picture: null }))}>
          {motifs.map((m) => <MenuItem key={m} value={m}>{m[0]?.toUpperCase()}{m.slice(1)}</MenuItem>)}
          <MenuItem value="picture" disabled={!pattern.picture}>A picture</MenuItem>
        </Select>
        <FileButton label="Picture to place" accept="image/*,.svg" variant="outlined" onFiles={([file]) => place(file)}>
          {pattern.picture ? "Another picture" : "Place a picture"}
        </FileButton>
      </Box>
      {!pattern.picture && <ColourField label="Colour" value={pattern.colour ?? "#f3ead6"}
        onShow={(colour) => onShow(withPattern({ colour }))} onMake={(colour) => onMake(withPattern({ colour }))}
        onCancel={onCancel} />}
      <Rail label={pattern.picture ? "Size" : "Repeat"} min={8} max={Math.round(pattern.picture ? 2 * edge : edge / 4)}
        says={(v) => `${Math.round(v)} px`} {...rail("period")} />
      {!pattern.picture && <Rail label="Share" min={0.02} max={0.98} step={0.01} says={perCent} {...rail("share")} />}
      <Rail label="Turned" min={-180} max={180} says={(v) => `${Math.round(v)}°`} {...rail("angle")} />
      <Rail label="Seen at" min={5} max={90} says={(v) => (v >= 90 ? "from above" : `${Math.round(v)}°`)}
        {...rail("degree")} />
      <Rail label="Blurred" value={paint.blur ?? 0} min={0} max={Math.min(200, Math.round(edge / 30))}
        says={(v) => `${Math.round(v)} px`} onShow={(blur) => onShow({ ...paint, blur })}
        onMake={(blur) => onMake({ ...paint, blur })} />
      {pattern.picture && (
        <FormControlLabel label={<Typography variant="body2">Side by side</Typography>}
          control={<Switch size="small" checked={pattern.repeat ?? false}
            onChange={(_, repeat) => onMake(withPattern({ repeat }))} />} />
      )}
    </Box>
  );
}
