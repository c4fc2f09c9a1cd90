import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useMemo, useState } from "react";
import { useParams } from "react-router";
import { toProblem } from "../api/client";
import { useMeta } from "../api/pieces";
import { useDrift, useSeries, useSeriesWork, type Series, type SeriesEdit } from "../api/series";
import { LostPage } from "../shell/LostPage";
import { Figure } from "../theme/Figure";
import { Choice } from "../ui/Choice";
import { FileButton } from "../ui/FileButton";
import { ChangeSide } from "./ChangeSide";
import { CheckSide } from "./CheckSide";
import { FilesSide } from "./FilesSide";
import { Head } from "./Head";
import { Play } from "./Play";
import { SharedSide } from "./SharedSide";
import { Wall } from "./Wall";
import { allParts, wanted, type Filter, type Only } from "./wall";

const DRAWINGS = "image/png,image/jpeg,image/webp,image/tiff,image/svg+xml,.png,.jpg,.jpeg,.webp,.tif,.tiff,.svg";
const PORTION = 120; // pictures that the wall shows at first, and more at a time
type Side = "shared" | "change" | "check" | "files";
const SIDES: { value: Side; label: string }[] = [{ value: "shared", label: "Shared" },
  { value: "change", label: "Change" }, { value: "check", label: "Check" }, { value: "files", label: "Files" }];
const ONLY: Record<Only, string> = { all: "All", carried: "Parts to keep", doubtful: "With doubts",
  own: "Not as shared", open: "Not done" };

/** All pictures of a series as a wall, and what they share. */
export function SeriesPage() {
  const id = Number(useParams().id);
  const { data: series, error } = useSeries(id);
  if (!Number.isInteger(id)) return <LostPage />;
  if (error && !series) return <LostPage detail={toProblem(error).message} />;
  return series ? <SeriesDesk key={series.id} series={series} /> : null;
}

function SeriesDesk({ series }: { series: Series }) {
  const work = useSeriesWork(series.id);
  const checks = useMeta().data?.checks ?? [];
  const [side, setSide] = useState<Side>("shared");
  const [filter, setFilter] = useState<Filter>({ text: "", only: "all", part: null, finding: null });
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const [playing, setPlaying] = useState<number | null>(null);
  const [most, setMost] = useState(PORTION);
  const [tried, setTried] = useState<SeriesEdit | null>(null);
  const { data: drift = [] } = useDrift(series.id, side === "check" || filter.only === "own");
  const drifted = useMemo(() => new Set(drift.map((d) => d.piece)), [drift]);
  const members = series.members;
  const shown = wanted(members, filter, drifted);
  const picked = shown.filter((m) => chosen.has(m.id)).map((m) => m.id);
  const waiting = members.filter((m) => m.carried).length;
  return (
    <Box sx={{ height: "100%", display: "flex", flexDirection: "column" }}>
      <Head back={["/", "All pieces"]} title={series.title} work={work} told={<><Figure
        size={13}>{members.length}</Figure> {members.length === 1 ? "picture" : "pictures"}{waiting > 0 && <>, <Figure
          size={13}>{waiting}</Figure> with parts to keep</>}</>}>
        <FileButton label="Drawings" accept={DRAWINGS} multiple color="inherit" disabled={work.job !== null}
          onFiles={(files) => void work.bring(files, "")}>Add drawings</FileButton>
        <FileButton label="A page of panels" accept={DRAWINGS} color="inherit" disabled={work.job !== null}
          onFiles={([file]) => { if (file) void work.bringPage(file); }}>Add a page</FileButton>
        <Button color="inherit" disabled={members.length === 0} onClick={() => setPlaying(0)}>Play</Button>
        <Button variant="contained" disabled={work.job !== null || waiting === 0}
          onClick={() => void work.carry(picked)}>Carry parts over</Button>
      </Head>
      <Box component="main" sx={{ flex: 1, minHeight: 0, display: "flex" }}>
        <Box sx={{ flex: 1, minWidth: 0, overflowY: "auto", px: 4, py: 2 }}>
          <Box role="search" sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, mb: 2 }}>
            <TextField type="search" label="Find" placeholder="title, scene, part" value={filter.text}
              onChange={(e) => setFilter({ ...filter, text: e.target.value })} sx={{ width: 210 }}
              slotProps={{ inputLabel: { shrink: true } }} />
            <TextField select label="Only" value={filter.only} sx={{ width: 160 }}
              onChange={(e) => setFilter({ ...filter, only: e.target.value as Only })}>
              {(Object.keys(ONLY) as Only[]).map((o) => <MenuItem key={o} value={o}>{ONLY[o]}</MenuItem>)}
            </TextField>
            <TextField select label="With part" value={filter.part ?? ""} sx={{ width: 180 }}
              onChange={(e) => setFilter({ ...filter, part: e.target.value || null })}
              slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}>
              <MenuItem value="">Any</MenuItem>
              {allParts(members).map((p) => <MenuItem key={p} value={p}>{p}</MenuItem>)}
            </TextField>
            {filter.finding && <Button color="inherit" onClick={() => setFilter({ ...filter, finding: null })}>With the
              finding “{checks.find((c) => c.key === filter.finding)?.label}”, show all</Button>}
            {picked.length > 0 && <Button color="inherit" onClick={() => setChosen(new Set())}><Figure
              size={13}>{picked.length}</Figure>&nbsp;chosen, choose none</Button>}
          </Box>
          {members.length === 0 && <Empty />}
          {members.length > 0 && shown.length === 0 && <Typography variant="body1" sx={{ py: 6,
            textAlign: "center" }}>No picture is like that.</Typography>}
          <Wall series={series} members={shown.slice(0, most)} chosen={chosen} onChoose={setChosen} tried={tried}
            drift={drift} onOrder={(order) => void work.arrange(order)} onPlay={(k) => setPlaying(k)} work={work} />
          {shown.length > most && <Box sx={{ textAlign: "center", pb: 3 }}>
            <Button variant="outlined" onClick={() => setMost(most + PORTION)}>Show {Math.min(PORTION,
              shown.length - most)} more of <Figure size={13}>&nbsp;{shown.length}</Figure></Button>
          </Box>}
        </Box>
        <Box component="section" aria-label="What the pictures share" sx={{ width: "clamp(340px, 30vw, 440px)",
          overflowY: "auto", bgcolor: "background.paper", borderLeft: 1, borderColor: "divider", p: 2 }}>
          <Choice label="What to look at" value={side} options={SIDES}
            onChange={(s) => { setSide(s); setTried(null); }} />
          <Box sx={{ mt: 2 }}>
            {side === "shared" && <SharedSide series={series} picked={picked} work={work} />}
            {side === "change" && <ChangeSide series={series} picked={picked} work={work} onTry={setTried} />}
            {side === "check" && <CheckSide series={series} drift={drift} work={work} finding={filter.finding}
              onFinding={(finding) => setFilter({ ...filter, finding })} />}
            {side === "files" && <FilesSide series={series} picked={picked} work={work} />}
          </Box>
        </Box>
      </Box>
      {playing !== null && <Play members={shown.length ? shown : [...members]} fps={series.shared.fps} first={playing}
        onClose={() => setPlaying(null)} />}
    </Box>
  );
}

function Empty() {
  return (
    <Box sx={{ textAlign: "center", py: 10 }}>
      <Typography variant="h2">No pictures yet</Typography>
      <Typography variant="body1" sx={{ mt: 1.5 }}>Add drawings: several at once come in by the order of their names.
        Colour the first one and keep its parts; they are carried over to the others.</Typography>
      <Typography variant="body1" sx={{ mt: 1 }}>Add a page of panels: each panel becomes a picture of its
        own.</Typography>
    </Box>
  );
}
