import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";
import type { ReactNode } from "react";
import { useFigures, type LogWish } from "../api/time";
import { told } from "../clock/words";
import { STEPS } from "../shell/steps";
import { Figure } from "../theme/Figure";

const [DAYS, HIGH] = [42, 90]; // days shown, px

/** Minutes by step, by day and by finished piece; what was planned and estimated against what it took. */
export function FiguresSide({ wish }: { wish: LogWish }) {
  const { data: f } = useFigures(wish);
  if (!f) return null;
  const most = Math.max(1, ...Object.values(f.by_step));
  const days = f.by_day.slice(-DAYS);
  const top = Math.max(1, ...days.map(([, m]) => m));
  if (f.minutes === 0) {
    return <Typography component="main" variant="body1" sx={{ textAlign: "center", py: 8 }}>No time was counted here
      yet. The clock runs as soon as you work on a piece.</Typography>;
  }
  return (
    <Box component="main" tabIndex={0} aria-label="Figures" sx={{ flex: 1, overflowY: "auto", minHeight: 0 }}>
      <Box sx={{ maxWidth: 1280, mx: "auto", px: 4, pb: 5, display: "grid", gap: 4,
        gridTemplateColumns: "repeat(auto-fit, minmax(420px, 1fr))" }}>
        <Block title={<>By step, <Figure size={15}>{told(f.minutes)}</Figure> in all</>}>
          {f.done.length > 0 && <Typography variant="body2">On the right the mean of finished pieces.</Typography>}
          {STEPS.map(({ key, label }) => (
            <Box key={key} sx={{ display: "grid", gridTemplateColumns: "72px 1fr 84px 110px", columnGap: 1.5,
              alignItems: "center", minHeight: 28 }}>
              <Typography>{label}</Typography>
              <Box aria-hidden sx={{ height: 8, width: `${(100 * (f.by_step[key] ?? 0)) / most}%`,
                bgcolor: "text.secondary" }} />
              <Box sx={{ textAlign: "right" }}><Figure>{told(f.by_step[key] ?? 0)}</Figure></Box>
              <Typography variant="body2" noWrap>{f.a_piece[key] !== undefined && <><Figure size={12}>{told(
                f.a_piece[key] ?? 0)}</Figure> a piece</>}</Typography>
            </Box>
          ))}
        </Block>
        <Block title="By day">
          <Box role="img" aria-label={`Minutes a day; at most ${told(top)}`} sx={{ display: "flex",
            alignItems: "flex-end", gap: "2px", height: HIGH, borderBottom: 1, borderColor: "divider" }}>
            {days.map(([day, m]) => <Box key={day} title={`${day}: ${told(m)}`} sx={{ flex: 1, maxWidth: 18,
              minWidth: 3, height: `${(100 * m) / top}%`, bgcolor: "text.secondary" }} />)}
          </Box>
          <Typography variant="body1" sx={{ mt: 1 }}>Work on <Figure>{f.days}</Figure>{" "}
            {f.days === 1 ? "day" : "days"}, <Figure>{told(f.minutes / Math.max(1, f.days))}</Figure> each.
            {f.run > 1 && <> The last <Figure>{f.run}</Figure> came one after the other.</>} The longest
            had <Figure>{told(top)}</Figure>.
          </Typography>
        </Block>
        <Block title="Finished pieces">
          {f.done.length === 0 ? <Typography variant="body2">None yet. Say that a piece is done in its step Deliver, on
            the side Rounds, or choose it on the list of pieces.</Typography> : (
            <>
              <Typography variant="body1">{f.off_plan !== null && <>In the middle <Figure>{Math.abs(Math.round(100
                * f.off_plan))} %</Figure> {f.off_plan >= 0 ? "longer" : "shorter"} than planned.</>}{" "}
                {f.estimated > 0 && <>Of <Figure>{f.estimated}</Figure> that were estimated{" "}
                  <Figure>{f.held}</Figure> lay within their range; four in five are meant to.</>}</Typography>
              <Box component="table" sx={{ width: "100%", borderCollapse: "collapse", mt: 1, "& td, & th": { py: 0.75,
                borderTop: 1, borderColor: "divider", textAlign: "right", fontWeight: 400 },
                "& td:first-of-type, & th:first-of-type": { textAlign: "left" } }}>
                <thead><tr>{["Piece", "planned", "estimated", "took"].map((h) => <Typography component="th"
                  variant="body2" key={h}>{h}</Typography>)}</tr></thead>
                <tbody>{f.done.map((d) => (
                  <tr key={d.piece}>
                    <td><Link to={`/piece/${d.piece}`} style={{ color: "inherit" }}>{d.title}</Link></td>
                    <td><Figure>{told(d.planned)}</Figure></td>
                    <td>{d.low != null && d.high != null ? <Figure>{told(d.low)} – {told(d.high)}</Figure> : "–"}</td>
                    <td><Figure>{told(d.took)}</Figure></td>
                  </tr>
                ))}</tbody>
              </Box>
            </>
          )}
        </Block>
      </Box>
    </Box>
  );
}

function Block({ title, children }: { title: ReactNode; children: ReactNode }) {
  return <Box component="section" sx={{ minWidth: 0 }}><Typography variant="h2" sx={{ mb: 1 }}>{title}</Typography>
    {children}</Box>;
}
