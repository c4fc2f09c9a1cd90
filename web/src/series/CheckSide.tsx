import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import { useMeta } from "../api/pieces";
import type { Drift, Series, useSeriesWork } from "../api/series";
import { Figure } from "../theme/Figure";
import { Seam } from "../theme/Seam";
import { findingsOf } from "./wall";

const SAYS = { colour: "colour", shade: "amount of shade", light: "direction of light" };

type Work = ReturnType<typeof useSeriesWork>;

/** Which pictures have drifted from what is usual, and what the checks notice in them. */
export function CheckSide({ series, drift, work, finding, onFinding }: { series: Series; drift: readonly Drift[];
  work: Work; finding: string | null; onFinding: (check: string | null) => void }) {
  const checks = useMeta().data?.checks ?? [];
  const unseen = series.members.filter((m) => m.findings === null).length;
  return (
    <>
      <Typography variant="h2" sx={{ mb: 0.5 }}>Drift</Typography>
      <Drifted series={series} drift={drift} work={work} />
      <Seam />
      <Typography variant="h2" sx={{ mb: 0.5 }}>Findings</Typography>
      {unseen > 0 && <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, mb: 1 }}>
        <Typography variant="body2" sx={{ flex: 1 }}><Figure size={12}>{unseen}</Figure> {unseen === 1
          ? "picture was" : "pictures were"} not looked over as {unseen === 1 ? "it is" : "they are"} now.</Typography>
        <Button variant="outlined" disabled={work.job !== null} onClick={() => void work.lookOver()}>Look over</Button>
      </Box>}
      {unseen < series.members.length && findingsOf(series.members).length === 0
        && <Typography variant="body1">The checks notice nothing.</Typography>}
      {findingsOf(series.members).map(([check, count]) => (
        <ButtonBase key={check} aria-pressed={finding === check}
          onClick={() => onFinding(finding === check ? null : check)} sx={{ display: "flex", width: "100%", gap: 1,
            minHeight: 36, px: 1, mx: -1, borderRadius: 1, justifyContent: "flex-start", textAlign: "left",
            outline: finding === check ? "2px dashed" : "none", outlineColor: "primary.main",
            "&:hover": { bgcolor: "action.hover" } }}>
          <Typography variant="body1" sx={{ flex: 1 }} noWrap>{checks.find((c) => c.key === check)?.label
            ?? check}</Typography>
          <Typography variant="body2"><Figure size={12}>{count}</Figure> {count === 1 ? "picture"
            : "pictures"}</Typography>
        </ButtonBase>
      ))}
    </>
  );
}

function Drifted({ series, drift, work }: { series: Series; drift: readonly Drift[]; work: Work }) {
  const number = new Map(series.members.map((m, k) => [m.id, k + 1]));
  const fix = (d: Drift) => void work.change(d.what === "colour"
    ? { change: { part: d.part, base: d.usual, material: null }, scene: null, azimuth: null, pieces: [d.piece] }
    : { change: null, scene: null, azimuth: Number(d.usual.replace("°", "")), pieces: [d.piece] });
  return (
    <>
      <Typography variant="body2" sx={{ mb: 1.5 }}>Pictures whose parts are kept, against what is usual in the series:
        colours from <Figure size={12}>2</Figure> (CIEDE2000), shade from <Figure size={12}>18</Figure> % of a part,
        light from <Figure size={12}>8</Figure>°.</Typography>
      {drift.length === 0 && <Typography variant="body1">Nothing has drifted.</Typography>}
      {drift.map((d, k) => (
        <Box key={k} sx={{ display: "flex", alignItems: "center", gap: 1, py: 0.75, borderTop: k ? 1 : 0,
          borderColor: "divider" }}>
          <Box sx={{ flex: 1, minWidth: 0 }}>
            <Typography variant="body1" noWrap><Link to={`/piece/${d.piece}`} style={{ color: "inherit" }}>Picture{" "}
              {number.get(d.piece)}</Link>, {d.part.length ? d.part.join(" › ") : SAYS[d.what]}</Typography>
            <Typography variant="body2" noWrap>{d.part.length ? `${SAYS[d.what]}, ` : ""}<Figure size={12}>{d.here}
            </Figure> for <Figure size={12}>{d.usual}</Figure></Typography>
          </Box>
          {d.what === "colour" && <Box aria-hidden sx={{ display: "flex", border: 1, borderColor: "divider" }}>
            {[d.here, d.usual].map((c) => <Box key={c} sx={{ width: 18, height: 28, bgcolor: c }} />)}
          </Box>}
          {d.what !== "shade" && <Button color="inherit" disabled={work.job !== null} onClick={() => fix(d)}
            aria-label={`As usual: picture ${number.get(d.piece)}, ${d.part.join(" ") || d.what}`}>As usual</Button>}
        </Box>
      ))}
    </>
  );
}
