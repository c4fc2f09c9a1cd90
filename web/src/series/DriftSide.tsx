import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import type { Drift, Series, useSeriesWork } from "../api/series";
import { Figure } from "../theme/Figure";

const SAYS = { colour: "colour", shade: "amount of shade", light: "direction of light" };

/** Which pictures have drifted from what is usual, the worst first. */
export function DriftSide({ series, drift, work }: { series: Series; drift: readonly Drift[];
  work: ReturnType<typeof useSeriesWork> }) {
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
