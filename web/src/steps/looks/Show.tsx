import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import LinearProgress from "@mui/material/LinearProgress";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, need, type JobState, type Schemas } from "../../api/client";
import { usePieceCharacter } from "../../api/characters";
import { cancel } from "../../api/jobs";
import { tell, tellProblem } from "../../api/notice";
import { Seam } from "../../theme/Seam";
import { deliver } from "../deliver/deliver";
import { Answers } from "./Answers";
import type { Wearing } from "./LooksStep";

type Request = Schemas["DeliveryRequest"];
type Sheet = Schemas["ContactSheet"];

/** Contact sheet, layered files of looks, answers, outfits. */
export function Show({ wearing }: { wearing: Wearing }) {
  const { piece, report, marked } = wearing;
  const [sheet, setSheet] = useState<Sheet>({ size: "A4", landscape: true, columns: 0, swatches: 8, approval: false,
    dpi: 150 });
  const [job, setJob] = useState<JobState | null>(null);
  const hanging = (report?.looks ?? []).filter((l) => !l.retired);
  const chosen = marked.size > 0 ? hanging.filter((l) => marked.has(l.id)) : hanging;
  const send = async (format: Request["format"], withSheet: boolean) => {
    try {
      const done = await deliver(piece, { format, looks: chosen.map((l) => l.id), sheet: withSheet ? sheet
        : null, clear_ground: false }, setJob);
      tell(done.state === "cancelled" ? "Stopped. No file was written."
        : `${done.file_name ?? "The file"} is in your downloads.`);
    } catch (error) {
      tellProblem(error);
    } finally {
      setJob(null);
    }
  };
  const set = (part: Partial<Sheet>) => setSheet((s) => ({ ...s, ...part }));
  return (
    <>
      <Typography variant="body2">{marked.size > 0 ? `The ${chosen.length} marked looks.`
        : `All ${chosen.length} looks on the rail; mark some to take only those.`}</Typography>
      <Box sx={{ minHeight: 40 }} aria-live="polite">
        {job && (
          <Box sx={{ display: "grid", gridTemplateColumns: "1fr auto", alignItems: "center", columnGap: 2 }}>
            <Box><Typography variant="body2">{job.doing || "Waiting"} …</Typography><LinearProgress
              variant="determinate" value={job.progress * 100} aria-label="Progress"
                sx={{ height: 6, borderRadius: 1 }} /></Box>
            <Button variant="outlined" onClick={() => void cancel(job)}>Cancel</Button>
          </Box>
        )}
      </Box>
      <Typography variant="h3" component="h2" sx={{ mb: 1 }}>Contact sheet</Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr 1fr", gap: 1 }}>
        <TextField select label="Page" value={sheet.size}
          onChange={(e) => set({ size: e.target.value as Sheet["size"] })}>{["A4", "A3", "Letter"].map((s) => <MenuItem
            key={s} value={s}>{s}</MenuItem>)}</TextField>
        <TextField select label="Beside each other" value={sheet.columns}
          onChange={(e) => set({ columns: Number(e.target.value) })}>{[0, 1, 2, 3, 4, 5, 6, 8].map((n) => <MenuItem
            key={n} value={n}>{n || "as fits"}</MenuItem>)}</TextField>
        <TextField select label="Swatches" value={sheet.swatches}
          onChange={(e) => set({ swatches: Number(e.target.value) })}>{[0, 4, 6, 8, 12, 16, 24].map((n) => <MenuItem
            key={n} value={n}>{n}</MenuItem>)}</TextField>
      </Box>
      <Box sx={{ display: "flex", flexWrap: "wrap" }}>
        <FormControlLabel control={<Checkbox checked={sheet.landscape} onChange={(_, on) => set({ landscape: on })} />}
          label="Across" />
        <FormControlLabel control={<Checkbox checked={sheet.approval} onChange={(_, on) => set({ approval: on })} />}
          label="With a box to tick and room for notes" />
      </Box>
      <Box sx={{ display: "flex", gap: 1 }}>
        <Button variant="contained" disabled={job !== null || !chosen.length}
          onClick={() => void send("contact pdf", true)}>PDF</Button>
        <Button variant="outlined" disabled={job !== null || !chosen.length}
          onClick={() => void send("contact png", true)}>PNG</Button>
        <TextField select label="PNG, dpi" value={sheet.dpi} sx={{ width: 104 }}
          onChange={(e) => set({ dpi: Number(e.target.value) })}>{[96, 150, 200, 300].map((n) => <MenuItem key={n}
            value={n}>{n}</MenuItem>)}</TextField>
      </Box>
      <Seam />
      <Typography variant="h3" component="h2" sx={{ mb: 1 }}>Every look as a file</Typography>
      <Box sx={{ display: "flex", gap: 1 }}>
        <Button variant="outlined" disabled={job !== null || !chosen.length}
          onClick={() => void send("ora", false)}>OpenRaster</Button>
        <Button variant="outlined" disabled={job !== null || !chosen.length}
          onClick={() => void send("png", false)}>PNG</Button>
      </Box>
      <Seam />
      <Answers wearing={wearing} />
      <Seam />
      <Outfits wearing={wearing} />
    </>
  );
}

/** Looks that the character keeps. */
function Outfits({ wearing }: { wearing: Wearing }) {
  const { piece, report, chosen } = wearing;
  const { data: whose } = usePieceCharacter(piece);
  const client = useQueryClient();
  const character = whose?.character;
  if (!character) return <Typography variant="body2">Give the piece a character in Colour, and looks can be kept on its
    card as outfits.</Typography>;
  const line = report?.looks.find((l) => l.id === chosen);
  const after = async (call: Promise<unknown>, said: string) => {
    try {
      await call;
      await client.invalidateQueries();
      tell(said);
    } catch (error) {
      tellProblem(error);
    }
  };
  const wear = async (outfit: string) => {
    try {
      const done = await need(api.POST("/api/pieces/{piece_id}/wear-outfit", { params: { path: { piece_id: piece.id } },
        body: { seen: piece.revision, outfit } }));
      await client.invalidateQueries();
      tell(done.missing.length ? `Hung on the rail. Not found in this piece: ${done.missing.join(", ")}.`
        : "Hung on the rail.");
    } catch (error) {
      tellProblem(error);
    }
  };
  return (
    <Box>
      <Typography variant="h3" component="h2">{character.name}’s outfits</Typography>
      <Box component="ul" aria-label="Outfits" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {character.outfits?.map((o) => (
          <Box component="li" key={o.name} sx={{ display: "flex", alignItems: "center", gap: 1, minHeight: 40 }}>
            <Box sx={{ display: "flex", width: 90, height: 18, borderRadius: 0.5,
              overflow: "hidden" }}>{Object.entries(o.colours).map(([n, c]) => <Box key={n} title={`${n} ${c}`}
                sx={{ flex: 1, bgcolor: c }} />)}</Box>
            <Box sx={{ flex: 1, minWidth: 0, overflow: "hidden", textOverflow: "ellipsis" }}>{o.name}{o.finish
              ? `, with ${o.finish.layers.length} finish layers` : ""}</Box>
            <Button color="inherit" onClick={() => void wear(o.name)}>Hang here</Button>
            <Button color="inherit" aria-label={`Delete the outfit ${o.name}`} sx={{ color: "text.secondary" }}
              onClick={() => void after(need(api.DELETE("/api/characters/{character_id}/outfits/{name}", {
                params: { path: { character_id: character.id, name: o.name } } })),
                  "The outfit was removed; looks made from it stay.")}>Delete</Button>
          </Box>
        ))}
      </Box>
      <Button variant="outlined" disabled={chosen === "piece" || !line}
        onClick={() => void after(need(api.POST("/api/characters/{character_id}/outfits", {
          params: { path: { character_id: character.id } },
            body: { piece: piece.id, look: chosen, name: line?.name ?? "" } })),
              `“${line?.name}” is an outfit of ${character.name} now.`)}>
        {chosen === "piece" ? "Choose a look to keep it as an outfit" : `Keep “${line?.name}” as an outfit`}
      </Button>
    </Box>
  );
}
