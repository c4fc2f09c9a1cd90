import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link, useParams } from "react-router";
import { toProblem } from "../api/client";
import { usePage, useSeries, useSeriesWork, useSheet, type PageSheet } from "../api/series";
import { PIECE } from "../shell/keys";
import { LostPage } from "../shell/LostPage";
import { Figure } from "../theme/Figure";
import { Seam } from "../theme/Seam";
import { Choice } from "../ui/Choice";
import { Key } from "../ui/Key";
import { useKeys } from "../ui/useKeys";
import { Head } from "./Head";
import { PAGE } from "./keys";
import { shifted, type Place } from "./outline";
import { Panels, type Hold } from "./Panels";
import { remains } from "./wall";

type Sheet = PageSheet["sheet"];
const FILES = [["ora", "One stack"], ["png", "PNG"], ["tiff", "TIFF"], ["panels", "Panel by panel"]] as const;

/** A page with its panels and balloons, as they were found and are corrected by hand. */
export function PagePage() {
  const id = Number(useParams().id);
  const { data: page, error } = usePage(id);
  if (!Number.isInteger(id)) return <LostPage />;
  if (error && !page) return <LostPage detail={toProblem(error).message} />;
  return page ? <PageDesk key={page.id} page={page} /> : null;
}

function PageDesk({ page }: { page: PageSheet }) {
  const { sheet } = page;
  const { data: series } = useSeries(page.series);
  const work = useSeriesWork(page.series);
  const put = useSheet(page.id);
  const [act, setAct] = useState<Hold>("corners");
  const [before, setBefore] = useState<Sheet[]>([]);
  const [chosen, setChosen] = useState<number | null>(null);
  const panels = sheet.panels ?? [];
  const balloons = sheet.balloons ?? [];
  const save = async (next: Partial<Sheet>) => {
    if (await put(page, { ...sheet, ...next })) setBefore((b) => [...b.slice(-30), sheet]);
  };
  const undo = () => {
    const last = before.at(-1);
    if (last) void put(page, last).then((done) => { if (done) setBefore((b) => b.slice(0, -1)); });
  };
  const remove = (k: number) => { setChosen(null); void save({ panels: panels.filter((_, j) => j !== k) }); };
  useKeys(PIECE.undo, undo);
  useKeys(PAGE.remove, () => { if (chosen !== null) remove(chosen); });
  const fresh = panels.filter((p) => !p.piece).length;
  return (
    <Box sx={{ height: "100%", display: "flex", flexDirection: "column" }}>
      <Head back={[`/series/${page.series}`, series?.title ?? "Series"]} title={page.title} work={work}>
        <Box role="group" aria-label="Deliver the page" sx={{ display: "flex" }}>
          {FILES.map(([format, label]) => <Button key={format} color="inherit" disabled={work.job !== null}
            onClick={() => void work.writePage(page.id, format)}>{label}</Button>)}
        </Box>
        {fresh > 0 && <Button variant="contained" disabled={work.job !== null}
          onClick={() => void work.beginPanels(page.id)}>Begin {fresh} new {fresh === 1 ? "panel" : "panels"}</Button>}
      </Head>
      <Box component="main" sx={{ flex: 1, minHeight: 0, display: "flex" }}>
        <Panels page={page} act={act} chosen={chosen} onChoose={setChosen}
          onPanels={(outlines) => void save({ panels: panels.map((p, k) => ({ ...p,
            outline: outlines[k] ?? p.outline })) })}
          onAdd={(outline: Place[]) => void save(act === "balloon" ? { balloons: [...balloons, outline] }
            : { panels: [...panels, { outline, piece: null }] })}
          onBalloon={(k) => void save({ balloons: balloons.filter((_, j) => j !== k) })} />
        <Box component="section" aria-label="Panels" sx={{ width: "clamp(320px, 28vw, 420px)", overflowY: "auto",
          bgcolor: "background.paper", borderLeft: 1, borderColor: "divider", p: 2 }}>
          <Choice label="What the pen does" wide={2} value={act} onChange={setAct} options={[
            { value: "corners", label: "Move corners" }, { value: "panel", label: "Draw a panel" },
            { value: "balloon", label: "Draw a balloon" }, { value: "away", label: "Balloon away" }]} />
          <Box sx={{ display: "flex", alignItems: "center", gap: 1, mt: 1.5 }}>
            <TextField select label="Read" value={sheet.reading} sx={{ flex: 1 }} onChange={(e) => void save({
              reading: e.target.value as Sheet["reading"] })}>
              <MenuItem value="left to right">from left to right</MenuItem>
              <MenuItem value="right to left">from right to left</MenuItem>
            </TextField>
            <Button color="inherit" disabled={before.length === 0} onClick={undo}>Undo<Key of={PIECE.undo} /></Button>
          </Box>
          <FormControlLabel control={<Checkbox checked={sheet.letters ?? true}
            onChange={(_, letters) => void save({ letters })} />} label="Tell letters from drawing" />
          <Seam />
          <Typography variant="body2" sx={{ mb: 1 }}><Figure size={12}>{panels.length}</Figure> {panels.length === 1
            ? "panel" : "panels"} in the order of reading, <Figure size={12}>{balloons.length}</Figure>{" "}
            {balloons.length === 1 ? "balloon stays" : "balloons stay"} paper.</Typography>
          {panels.map((panel, k) => {
            const member = series?.members.find((m) => m.id === panel.piece);
            return (
              <Box key={k} onPointerEnter={() => setChosen(k)} sx={{ display: "flex", alignItems: "center", gap: 0.5,
                py: 0.5, px: 1, mx: -1, borderRadius: 1, outline: chosen === k ? "2px dashed" : "none",
                outlineColor: "primary.main" }}>
                <Figure>{k + 1}</Figure>
                <Box sx={{ flex: 1, minWidth: 0, pl: 1 }}>
                  {member ? <Typography variant="body1" noWrap component={Link} to={`/piece/${member.id}`}
                    sx={{ color: "inherit", display: "block" }}>{member.title}</Typography>
                    : <Typography variant="body1" noWrap>not begun</Typography>}
                  {member && <Typography variant="body2" noWrap>{remains(member)}</Typography>}
                </Box>
                <Button color="inherit" aria-label={`Panel ${k + 1} earlier`} disabled={k === 0} sx={{ minWidth: 36 }}
                  onClick={() => void save({ panels: shifted(panels, k, -1) })}>↑</Button>
                <Button color="inherit" aria-label={`Panel ${k + 1} later`} disabled={k === panels.length - 1}
                  sx={{ minWidth: 36 }} onClick={() => void save({ panels: shifted(panels, k, 1) })}>↓</Button>
                <Button color="inherit" aria-label={`Remove panel ${k + 1}`} onClick={() => remove(k)}
                  sx={{ color: "text.secondary" }}>Remove</Button>
              </Box>
            );
          })}
          {panels.length === 0 && <Typography variant="body1">No panel was found. Draw one: press where a corner is,
            and drag to the opposite one.</Typography>}
        </Box>
      </Box>
    </Box>
  );
}
