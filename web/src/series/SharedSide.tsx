import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { api, exactly } from "../api/client";
import { tellProblem } from "../api/notice";
import type { Series, useSeriesWork, What } from "../api/series";
import { Figure } from "../theme/Figure";
import { Seam } from "../theme/Seam";

const WHAT: Record<Exclude<What, "light" | "background">, [string, string]> = {
  lines: ["Lines", "How drawings become lines, and their colour."],
  passes: ["Method and passes", "The school of shading, washes and amounts."],
  delivery: ["Stack", "Arrangement, names and resolution of layered files."],
  fill: ["Fill", "Under the line, or exactly to it."],
};

const LISTED = 24; // pictures whose scenes are told one by one

/** Pictures play in a scene, one after the other. */
async function putAll(work: ReturnType<typeof useSeriesWork>, pieces: number[], scene: string): Promise<void> {
  for (const piece of pieces) await work.place(piece, { scene });
}

/** Minutes by step as they are planned of a piece. */
async function planOf(piece: number): Promise<Record<string, number>> {
  const clock = await exactly<"/api/pieces/{piece_id}/clock", "get">(api.GET("/api/pieces/{piece_id}/clock",
    { params: { path: { piece_id: piece } } }));
  return clock.plan.minutes;
}

/** What is said once for all pictures, and the scenes with their light. */
export function SharedSide({ series, picked, work }: { series: Series; picked: number[];
  work: ReturnType<typeof useSeriesWork> }) {
  const { shared, members } = series;
  const [from, setFrom] = useState<number | "">("");
  const [scene, setScene] = useState("");
  const model = from === "" ? members.find((m) => !m.carried)?.id ?? members[0]?.id : from;
  const busy = work.job !== null || model === undefined;
  const own = (what: What) => members.filter((m) => m.own.includes(what));
  const scenes = shared.scenes ?? [];
  return (
    <>
      <Typography variant="body2" sx={{ mb: 1.5 }}>What is shared is said once and followed by all pictures. What a
        picture has of its own stays, and is marked.</Typography>
      <TextField select fullWidth label="As it is in" value={model ?? ""} onChange={(e) => setFrom(Number(
        e.target.value))} sx={{ mb: 1.5 }}>
        {members.map((m, k) => <MenuItem key={m.id} value={m.id}>{k + 1}. {m.title}</MenuItem>)}
      </TextField>
      {(Object.keys(WHAT) as (keyof typeof WHAT)[]).map((what) => (
        <Line key={what} label={WHAT[what][0]} hint={WHAT[what][1]} shared={shared[what] != null}
          own={own(what).length} busy={busy} onShare={() => void work.shareFrom(model ?? 0, [what])}
          onLeave={() => void work.share({ ...shared, [what]: null })}
          onFollow={() => void work.followAgain(own(what).map((m) => m.id), [what])} />
      ))}
      <Line label="Plan" hint="Minutes by step, for the pictures that come in from now on." own={0} busy={busy}
        shared={Object.keys(shared.minutes ?? {}).length > 0} onFollow={() => undefined}
        onShare={() => void planOf(model ?? 0).then((minutes) => work.share({ ...shared, minutes }), tellProblem)}
        onLeave={() => void work.share({ ...shared, minutes: {} })} />
      <Seam />
      <Typography variant="h2" sx={{ mb: 0.5 }}>Scenes</Typography>
      <Typography variant="body2" sx={{ mb: 1 }}>One light and one ground for a place and an hour.</Typography>
      {scenes.map((s) => {
        const here = members.filter((m) => m.scene === s.name);
        return (
          <Box key={s.name} sx={{ mb: 1.5 }}>
            <Box sx={{ display: "flex", alignItems: "center", gap: 1 }}>
              <Typography variant="h3" sx={{ flex: 1 }} noWrap>{s.name}</Typography>
              <Typography variant="body2"><Figure size={12}>{here.length}</Figure> pictures{s.light && <>, light from
                {" "}<Figure size={12}>{Math.round(s.light.azimuth)}°</Figure></>}</Typography>
            </Box>
            <Box sx={{ display: "flex", flexWrap: "wrap" }}>
              <Button disabled={busy} onClick={() => {
                const first = here.find((m) => m.id === from) ?? here[0];
                if (first) void work.shareFrom(first.id, ["light", "background"]);
              }}>Take from its {here.some((m) => m.id === from) ? "chosen" : "first"} picture</Button>
              <Button color="inherit" disabled={busy || !here.some((m) => m.own.includes("light")
                || m.own.includes("background"))} onClick={() => void work.followAgain(here.map((m) => m.id),
                ["light", "background"])}>All follow</Button>
              <Button color="inherit" disabled={busy} aria-label={`Remove the scene ${s.name}`}
                onClick={() => void work.share({ ...shared, scenes: scenes.filter((x) => x.name !== s.name) })}>
                Remove</Button>
            </Box>
          </Box>
        );
      })}
      <Box component="form" onSubmit={(e: React.FormEvent) => {
        e.preventDefault();
        const name = scene.trim();
        if (!name || scenes.some((s) => s.name.toLowerCase() === name.toLowerCase())) return;
        setScene("");
        void work.share({ ...shared, scenes: [...scenes, { name, light: null, background: null }] });
      }} sx={{ display: "flex", gap: 1 }}>
        <TextField label="New scene" value={scene} onChange={(e) => setScene(e.target.value)} sx={{ flex: 1 }}
          slotProps={{ htmlInput: { maxLength: 60 } }} />
        <Button type="submit" variant="outlined" disabled={work.job !== null || scene.trim() === ""}>Add</Button>
      </Box>
      {scenes.length > 0 && <>
        {picked.length > 0 && <TextField select fullWidth label={picked.length === 1 ? "The chosen picture plays in"
          : `The ${picked.length} chosen pictures play in`} value="" sx={{ mt: 2 }} disabled={work.job !== null}
          onChange={(e) => void putAll(work, picked, e.target.value)}>
          {scenes.map((s) => <MenuItem key={s.name} value={s.name}>{s.name}</MenuItem>)}
        </TextField>}
        <Typography variant="body2" sx={{ mt: 2, mb: 0.5 }}>{members.length > LISTED
          ? "Tick pictures on the wall to say where several of them play. The first of them:"
          : "Which picture plays where:"}</Typography>
        {members.slice(0, LISTED).map((m, k) => (
          <TextField key={m.id} select fullWidth variant="standard" value={scenes.some((s) => s.name === m.scene)
            ? m.scene : ""} onChange={(e) => void work.place(m.id, { scene: e.target.value })}
            slotProps={{ select: { displayEmpty: true }, htmlInput: { "aria-label": `Scene of ${m.title}` },
              input: { startAdornment: <Typography variant="body2" noWrap sx={{ width: 150, flexShrink: 0 }}><Figure
                size={12}>{k + 1}</Figure> {m.title}</Typography> } }}>
            <MenuItem value="">no scene</MenuItem>
            {scenes.map((s) => <MenuItem key={s.name} value={s.name}>{s.name}</MenuItem>)}
          </TextField>
        ))}
      </>}
    </>
  );
}

function Line({ label, hint, shared, own, busy, onShare, onLeave, onFollow }: { label: string; hint: string;
  shared: boolean; own: number; busy: boolean; onShare: () => void; onLeave: () => void; onFollow: () => void }) {
  return (
    <Box sx={{ mb: 1 }}>
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 1 }}>
        <Typography variant="h3" sx={{ flex: 1 }}>{label}</Typography>
        <Typography variant="body2" sx={own > 0 ? { color: "primary.main", fontWeight: 600 } : {}}>{!shared
          ? "left to each" : own > 0 ? `${own} of ${own === 1 ? "its" : "their"} own` : "all follow"}</Typography>
      </Box>
      <Typography variant="body2">{hint}</Typography>
      <Box sx={{ display: "flex", ml: -1 }}>
        <Button disabled={busy} onClick={onShare}>{shared ? "Share anew" : "Share"}</Button>
        {shared && own > 0 && <Button color="inherit" disabled={busy} onClick={onFollow}>All follow</Button>}
        {shared && <Button color="inherit" disabled={busy} onClick={onLeave}>Leave to each</Button>}
      </Box>
    </Box>
  );
}
