import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import Checkbox from "@mui/material/Checkbox";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import type { Drift, Series, SeriesEdit, SeriesMember, useSeriesWork } from "../api/series";
import { Figure } from "../theme/Figure";
import { movedTo, remains } from "./wall";

type Work = ReturnType<typeof useSeriesWork>;

/** The pictures side by side, pages under their titles; dragged into another order. */
export function Wall({ series, members, chosen, onChoose, tried, drift, onOrder, onPlay, work }: { series: Series;
  members: readonly SeriesMember[]; chosen: ReadonlySet<number>; onChoose: (chosen: ReadonlySet<number>) => void;
  tried: SeriesEdit | null; drift: readonly Drift[]; onOrder: (order: number[]) => void;
  onPlay: (k: number) => void; work: Work }) {
  const [dragged, setDragged] = useState<number | null>(null);
  const order = series.members.map((m) => m.id);
  const choose = (id: number, on: boolean) => {
    const next = new Set(chosen);
    if (on) next.add(id);
    else next.delete(id);
    onChoose(next);
  };
  const groups = grouped(members);
  return (
    <>
      {groups.map(({ page, some }) => {
        const head = series.pages.find((p) => p.id === page);
        return (
          <Box component="section" key={`${page}-${some[0]?.id}`} aria-label={head?.title ?? "Pictures"} sx={{ mb: 3 }}>
            {head && <Box sx={{ display: "flex", alignItems: "baseline", gap: 1, mb: 1 }}>
              <Typography variant="h2">{head.title}</Typography>
              <Button component={Link} to={`/page/${head.id}`} color="inherit">Panels</Button>
              <Button color="inherit" disabled={work.job !== null}
                onClick={() => void work.writePage(head.id, "ora")}>Deliver as one stack</Button>
            </Box>}
            <Box sx={{ display: "grid", gap: 2, gridTemplateColumns: "repeat(auto-fill, minmax(168px, 1fr))" }}>
              {some.map((m) => (
                <Tile key={m.id} member={m} number={order.indexOf(m.id) + 1} chosen={chosen.has(m.id)}
                  choosing={chosen.size > 0} tried={tried} series={series.id}
                  drifts={drift.filter((d) => d.piece === m.id)} onChoose={(on) => choose(m.id, on)}
                  onHold={(hold) => void work.place(m.id, { hold })} onPlay={() => onPlay(members.indexOf(m))}
                  onDrag={setDragged} onDrop={() => {
                    if (dragged !== null && dragged !== m.id) onOrder(movedTo(order, dragged, m.id));
                    setDragged(null);
                  }} onMove={(by) => {
                    const at = order.indexOf(m.id);
                    const to = at + by;
                    if (to < 0 || to >= order.length) return;
                    onOrder(movedTo(order, m.id, by < 0 ? order[to] ?? null : order[to + 1] ?? null));
                  }} />
              ))}
            </Box>
          </Box>
        );
      })}
    </>
  );
}

/** Pictures that follow one another and are of the same page. */
function grouped(members: readonly SeriesMember[]): { page: number | null; some: SeriesMember[] }[] {
  const found: { page: number | null; some: SeriesMember[] }[] = [];
  for (const m of members) {
    const last = found.at(-1);
    if (last && last.page === m.page) last.some.push(m);
    else found.push({ page: m.page, some: [m] });
  }
  return found;
}

function Tile({ member: m, number, chosen, choosing, tried, series, drifts, onChoose, onHold, onPlay, onDrag, onDrop,
  onMove }: { member: SeriesMember; number: number; chosen: boolean; choosing: boolean; tried: SeriesEdit | null;
  series: number; drifts: readonly Drift[]; onChoose: (on: boolean) => void; onHold: (hold: number) => void;
  onPlay: () => void; onDrag: (id: number | null) => void; onDrop: () => void; onMove: (by: number) => void }) {
  const preview = usePreview(series, m.id, tried);
  const open = m.carried && m.doubts > 0;
  return (
    <Box component="article" draggable onDragStart={() => onDrag(m.id)} onDragEnd={() => onDrag(null)}
      onDragOver={(e: React.DragEvent) => e.preventDefault()} onDrop={(e: React.DragEvent) => { e.preventDefault();
        onDrop(); }} aria-label={`${number}. ${m.title}`}
      sx={{ position: "relative", bgcolor: "background.paper", border: 1, borderColor: "divider", borderRadius: 1,
        overflow: "hidden", outline: chosen ? "2px dashed" : "none", outlineColor: "primary.main", outlineOffset: 2,
        "& .choose": { opacity: choosing ? 1 : 0 }, "&:hover .choose, & .choose:focus-within": { opacity: 1 },
        "@media (hover: none)": { "& .choose": { opacity: 1 } } }}>
      <Checkbox className="choose" checked={chosen} onChange={(_, on) => onChoose(on)}
        slotProps={{ input: { "aria-label": `Choose ${m.title}` } }} sx={{ position: "absolute", top: 4, left: 4,
          zIndex: 1, p: 0.5, borderRadius: 1, bgcolor: "background.paper", "&:hover": { bgcolor: "background.paper" } }}
      />
      <ButtonBase component={Link} to={`/piece/${m.id}/${m.carried ? "parts" : m.step}`} draggable={false}
        aria-label={`Open ${m.title}`} onKeyDown={(e: React.KeyboardEvent) => {
          if (e.altKey && (e.key === "ArrowLeft" || e.key === "ArrowRight")) {
            e.preventDefault();
            onMove(e.key === "ArrowLeft" ? -1 : 1);
          }
        }} sx={{ display: "block", width: "100%", aspectRatio: "4 / 5", bgcolor: "#8b8b8b", p: 1 }}>
        <img src={preview ?? `/api/pieces/${m.id}/card?revision=${m.revision}`} alt="" draggable={false}
          loading="lazy" style={{ width: "100%", height: "100%", objectFit: "contain", display: "block" }} />
      </ButtonBase>
      <Box sx={{ px: 1.25, pt: 0.75, pb: 0.75 }}>
        <Typography variant="h3" component="h3" noWrap title={m.title}><Figure size={13}>{number}</Figure>{" "}
          {m.title}</Typography>
        <Typography variant="body2" noWrap sx={open ? { color: "primary.main", fontWeight: 600 } : {}}>{remains(
          m)}</Typography>
        <Typography variant="body2" noWrap sx={{ minHeight: 20 }} title={drifts.map((d) => `${d.what} ${d.part.join(
          " › ")} ${d.here}, usual ${d.usual}`).join("; ")}>{[m.scene, m.own.length > 0 && `own ${m.own.join(", ")}`,
          drifts.length > 0 && `${drifts.length} off`].filter(Boolean).join(" · ")}</Typography>
        <Box sx={{ display: "flex", alignItems: "center", gap: 0.5 }}>
          <TextField variant="standard" type="number" value={m.hold} onChange={(e) => {
            const hold = Math.round(Number(e.target.value));
            if (hold >= 1 && hold <= 240) onHold(hold);
          }} slotProps={{ htmlInput: { min: 1, max: 240, "aria-label": `Frames that ${m.title} stays` } }}
            sx={{ width: 46 }} />
          <Typography variant="body2" sx={{ flex: 1 }}>{m.hold === 1 ? "frame" : "frames"}</Typography>
          <Button color="inherit" onClick={onPlay} aria-label={`Show ${m.title} large`} sx={{ minWidth: 0, px: 1,
            color: "text.secondary" }}>Large</Button>
        </Box>
      </Box>
    </Box>
  );
}

/** The picture as it would be after a change that is being tried, or null. */
function usePreview(series: number, piece: number, tried: SeriesEdit | null): string | null {
  const [found, setFound] = useState<{ of: SeriesEdit; url: string } | null>(null);
  useEffect(() => {
    if (!tried) return undefined;
    const stop = new AbortController();
    let url: string | null = null;
    const wait = setTimeout(() => {
      void fetch(`/api/series/${series}/preview/${piece}?edge=320`, { method: "POST", signal: stop.signal,
        headers: { "content-type": "application/json" }, body: JSON.stringify(tried) }).then(async (answer) => {
        if (!answer.ok) return;
        url = URL.createObjectURL(await answer.blob());
        setFound({ of: tried, url });
      }).catch(() => undefined);
    }, 120);
    return () => { clearTimeout(wait); stop.abort(); if (url) URL.revokeObjectURL(url); };
  }, [series, piece, tried]);
  return tried && found?.of === tried ? found.url : null;
}
