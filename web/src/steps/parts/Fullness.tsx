import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import Typography from "@mui/material/Typography";
import type { Cut, Edit, Piece } from "../../api/client";
import { useChanges, useCompleteness } from "../../api/pieces";
import { Figure } from "../../theme/Figure";

/** How completely the figure is filled, measured on its pixels. */
export function Fullness({ piece, cut, shown, onShow, edit }: {
  piece: Piece; cut: Cut | undefined; shown: boolean; onShow: (on: boolean) => void;
    edit: (edit: Edit) => Promise<unknown>;
}) {
  const { data } = useCompleteness(piece);
  const { suggestParts, shareGround } = useChanges(piece.id);
  const bare = cut?.areas.filter((a) => a.ground && !a.part).length ?? 0;
  const scenery = cut?.areas.some((a) => a.ground && a.part) ?? false;
  if (!cut || !data) return <Typography variant="body2">Cutting areas …</Typography>;
  const share = data.silhouette ? (100 * data.claimed) / data.silhouette : 100;
  // Never rounded up to 100: a missing speck must show.
  const claimed = share === 100 ? "100" : Math.min(99.99, share).toFixed(2);
  const faults = data.silhouette - data.claimed + data.bleed;
  return (
    <>
      <Box sx={{ display: "flex", alignItems: "flex-start", gap: 1, mt: 1 }}>
        <Typography variant="body2" sx={{ flex: 1 }} data-testid="completeness">
          <Figure>{claimed} %</Figure> of the silhouette claimed, <Figure>{data.specks}</Figure> {data.specks === 1
            ? "speck" : "specks"} given to their neighbours,{" "}
          <Figure>{data.bleed}</Figure> {data.bleed === 1 ? "pixel bleeds"
            : "pixels bleed"}, <Figure>{data.pinholes}</Figure> {data.pinholes === 1 ? "pixel"
              : "pixels"} of pinholes. <Figure>{cut.areas.length}</Figure> areas,{" "}
          <Figure>{cut.unclaimed}</Figure> without a part.
        </Typography>
        <Button variant="outlined" size="small" aria-pressed={shown} disabled={!shown && faults === 0}
          onClick={() => onShow(!shown)}>{shown ? "Done" : "Show"}</Button>
      </Box>
      {cut.unclaimed > 0 && <Button variant="outlined" sx={{ mt: 1 }} onClick={() => void suggestParts()}>Suggest parts
        for what has none</Button>}
      {scenery && bare > 0 && <Button variant="outlined" sx={{ mt: 1 }} onClick={() => void shareGround()}>Give the
        ground that is left to the scenery beside it ({bare} {bare === 1 ? "area" : "areas"})</Button>}
      <Box sx={{ display: "grid", gridTemplateColumns: "auto 1fr", alignItems: "center", gap: 1.5, mt: 1 }}>
        <Typography variant="body2" id="fill-label">Parts are filled</Typography>
        <Select value={piece.recipe.fill ?? "under the line"} labelId="fill-label"
          onChange={(e) => void edit({ kind: "set_fill", fill: e.target.value })}>
          <MenuItem value="under the line">under the line, to its middle</MenuItem>
          <MenuItem value="to the line">exactly to the line, for hard-edged art</MenuItem>
        </Select>
      </Box>
    </>
  );
}
