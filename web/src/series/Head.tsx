import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import LinearProgress from "@mui/material/LinearProgress";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import { Link } from "react-router";
import type { useSeriesWork } from "../api/series";

/** The head of a series or page: the way back, its title, what can be done; below it how far long work is. */
export function Head({ back, title, told, work, children }: { back: readonly [to: string, label: string];
  title: string; told?: ReactNode; work: ReturnType<typeof useSeriesWork>; children: ReactNode }) {
  return (
    <>
      <title>{`${title} · Wardrobe`}</title>
      <Box component="header" sx={{ display: "flex", alignItems: "center", gap: 1, px: 4, height: 72, flexShrink: 0,
        bgcolor: "background.paper", borderBottom: 1, borderColor: "divider" }}>
        <Button component={Link} to={back[0]} color="inherit" sx={{ ml: -1, flexShrink: 0 }}>{back[1]}</Button>
        <Typography variant="h1" noWrap>{title}</Typography>
        {told && <Typography variant="body2" sx={{ ml: 1 }} noWrap>{told}</Typography>}
        <Box sx={{ flex: 1 }} />
        {children}
      </Box>
      {work.job && <Box role="status" sx={{ display: "flex", alignItems: "center", gap: 2, px: 4, py: 0.75,
        bgcolor: "background.paper", borderBottom: 1, borderColor: "divider" }}>
        <LinearProgress variant="determinate" value={100 * work.job.progress} aria-label="Progress"
          sx={{ width: 260, height: 6, borderRadius: 1 }} />
        <Typography variant="body2" noWrap sx={{ flex: 1 }}>{work.job.doing || "Waiting"}</Typography>
        <Button color="inherit" onClick={work.stop}>Cancel</Button>
      </Box>}
    </>
  );
}
