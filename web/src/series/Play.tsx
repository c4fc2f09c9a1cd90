import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import Slider from "@mui/material/Slider";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import type { SeriesMember } from "../api/series";
import { Figure } from "../theme/Figure";
import { Key } from "../ui/Key";
import { useKeys } from "../ui/useKeys";
import { WALL } from "./keys";
import { frameAt } from "./wall";

const EDGE = 1100; // px
const ALL = 60; // pictures that are held at once; of longer series those ahead are
const AHEAD = 24;

const address = (m: SeriesMember) => {
  const scale = Math.min(1, EDGE / Math.max(m.width, m.height));
  const query = new URLSearchParams({ revision: String(m.revision), kind: "picture", x: "0", y: "0",
    width: String(m.width), height: String(m.height), scale: String(scale) });
  return `/api/pieces/${m.id}/picture?${query}`;
};

/** One picture large, its neighbours a key away or faintly under it, or all of them running. */
export function Play({ members, fps, first, onClose }: { members: readonly SeriesMember[]; fps: number; first: number;
  onClose: () => void }) {
  const holds = members.map((m) => m.hold);
  const [at, setAt] = useState(first);
  const [running, setRunning] = useState(false);
  const [onion, setOnion] = useState(false);
  const count = members.length;
  const step = (by: number) => { setRunning(false); setAt((k) => (k + by + count) % count); };
  useKeys(WALL.before, () => step(-1), "keydown", true);
  useKeys(WALL.after, () => step(1), "keydown", true);
  useKeys(WALL.play, () => setRunning((on) => !on), "keydown", true);
  useKeys(WALL.onion, () => setOnion((on) => !on), "keydown", true);
  useEffect(() => {
    if (!running) return undefined;
    let frame = holds.slice(0, at).reduce((a, b) => a + b, 0);
    const tick = setInterval(() => { frame += 1; setAt(frameAt(holds, frame)); }, 1000 / fps);
    return () => clearInterval(tick);
    // Runs on from where it was when it was started.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [running, fps]);
  const here = members[at];
  if (!here) return null;
  const faint = onion && !running ? [members[at - 1], members[at + 1]].filter((m) => m !== undefined) : [];
  return (
    <Dialog open fullScreen onClose={onClose} aria-label="Pictures one after the other">
      <Box sx={{ flex: 1, minHeight: 0, position: "relative", bgcolor: "#8b8b8b", isolation: "isolate" }}>
        {/* They are there before they are shown, so that the first round does not stutter. */}
        {members.map((m, k) => {
          const shown = k === at || faint.includes(m);
          const ahead = (k - at + count) % count;
          if (!shown && (running ? count > ALL && ahead > AHEAD : Math.abs(k - at) > 2)) return null;
          return <img key={m.id} src={address(m)} alt={k === at ? `${k + 1}. ${m.title}` : ""} style={{
            position: "absolute", inset: 16, width: "calc(100% - 32px)", height: "calc(100% - 32px)",
            objectFit: "contain", visibility: shown ? "visible" : "hidden", opacity: k === at ? 1 : 0.32,
            zIndex: k === at ? 0 : 1, mixBlendMode: k === at ? "normal" : "multiply" }} />;
        })}
      </Box>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, px: 2, height: 58, bgcolor: "background.paper",
        borderTop: 1, borderColor: "divider" }}>
        <Button variant="contained" aria-pressed={running} onClick={() => setRunning(!running)} sx={{ width: 110 }}>
          {running ? "Stop" : "Run"}<Key of={WALL.play} /></Button>
        <Button color="inherit" onClick={() => step(-1)}>Before<Key of={WALL.before} /></Button>
        <Button color="inherit" onClick={() => step(1)}>After<Key of={WALL.after} /></Button>
        <Button color="inherit" aria-pressed={onion} onClick={() => setOnion(!onion)} sx={onion ? {
          color: "primary.main", outline: "2px dashed", outlineOffset: -4 } : {}}>Neighbours under it<Key
          of={WALL.onion} /></Button>
        <Slider aria-label="Picture" value={at} min={0} max={Math.max(0, count - 1)} step={1} marks={count <= 40}
          onChange={(_, k) => { setRunning(false); setAt(k); }} sx={{ flex: 1, mx: 2 }} />
        <Typography variant="body1" noWrap sx={{ maxWidth: 280 }}><Figure>{at + 1}</Figure> of <Figure>{count}</Figure>,
          {" "}{here.title}</Typography>
        <Button color="inherit" onClick={onClose}>Close</Button>
      </Box>
    </Dialog>
  );
}
