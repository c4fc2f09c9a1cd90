import Box from "@mui/material/Box";
import Slider from "@mui/material/Slider";
import Typography from "@mui/material/Typography";
import { useMeta } from "../api/pieces";
import { Figure } from "../theme/Figure";
import { useWishes } from "./state";
import type { Standing } from "./useStanding";

const MOST = 120;

/** How often breaks are told, as one wishes; with what is advised and by whom. */
export function Breaks({ standing }: { standing: Standing }) {
  const meta = useMeta().data;
  const breaks = useWishes((s) => s.breaks);
  const wish = (key: string, minutes: number) => useWishes.setState((s) => ({ breaks: { ...s.breaks,
    [key]: minutes } }));
  return (
    <Box sx={{ display: "grid", gap: 2 }}>
      {meta?.advice.map((a) => {
        const every = breaks[a.key] ?? a.every;
        const worked = Math.round(standing.state.since_break[a.key] ?? 0);
        return (
          <Box key={a.key} component="section" aria-label={a.label}>
            <Box sx={{ display: "flex", alignItems: "baseline" }}>
              <Typography variant="h3" component="h2" sx={{ flex: 1 }}>{a.label}</Typography>
              <Typography variant="body2"><Figure>{worked} min</Figure> since a break</Typography>
            </Box>
            <Typography variant="body1">{a.text}</Typography>
            <Box sx={{ display: "grid", gridTemplateColumns: "1fr 120px", alignItems: "center", gap: 2, px: 1 }}>
              <Slider size="small" min={0} max={MOST} step={5} value={every} aria-label={`Minutes between breaks, ${
                a.label}`} onChange={(_, v) => wish(a.key, v)} />
              <Typography>{every ? <>every <Figure>{every} min</Figure></> : "never told"}</Typography>
            </Box>
            <Typography variant="body2">{a.source}</Typography>
          </Box>
        );
      })}
      <Typography variant="body2">{meta?.caution} A break is told when no pen is down, and never stops
        anything.</Typography>
    </Box>
  );
}
