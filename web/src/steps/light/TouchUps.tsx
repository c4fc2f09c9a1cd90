import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import Typography from "@mui/material/Typography";
import { useMemo, useRef, useState, type ReactNode } from "react";
import type { Part, PassKey, Piece, Point, TouchUp } from "../../api/client";
import { tell } from "../../api/notice";
import { useCut, useLightReport, useMeta } from "../../api/pieces";
import { areaAt, useAreaMap } from "../../picture/areaMap";
import { PictureView, type Tool } from "../../picture/PictureView";
import { fillPen, penWidths, tracePoints, usePen } from "../../picture/usePen";
import { Workplace } from "../../shell/Workplace";
import type { LiveEdit } from "../useLiveEdit";
import { Choice, type Option } from "../../ui/Choice";
import { PenSize } from "../../ui/PenSize";
import { useKeys } from "../../ui/useKeys";
import { TOUCH_UPS } from "./keys";

type Act = TouchUp["act"];

const ACTS: Option<Act>[] = [
  { value: "put in", label: "Put in", keyed: TOUCH_UPS.putIn },
  { value: "take out", label: "Take out", keyed: TOUCH_UPS.takeOut },
  { value: "soften", label: "Soften edge", keyed: TOUCH_UPS.soften },
];

/** Corrections of the shapes by hand. */
export function TouchUps({ piece, live, tabs }: { piece: Piece; live: LiveEdit; tabs: ReactNode }) {
  const { data: cut } = useCut(piece);
  const report = useLightReport(piece).data;
  const map = useAreaMap(piece);
  const labels = useMeta().data?.passes ?? {};
  const names = (report?.passes ?? []).map((p) => p.name).filter((name) => name !== "ground");
  const [chosen, setName] = useState("shade");
  const name = names.includes(chosen) ? chosen : (names[0] ?? "shade");
  const [act, setAct] = useState<Act>("put in");
  const [penned, setPenned] = useState(false);
  const [size, setSize] = useState(() => Math.round(Math.max(piece.width, piece.height) / 60));
  const [keeps, setKeeps] = useState(true);
  const [shown, setShown] = useState<number | null>(null);
  const started = useRef<string | null>(null);
  const pen = penned || act === "soften";
  const partOfArea = useMemo(() => new Map((cut?.areas ?? []).map((a) => [a.area, a.part ?? null])), [cut]);

  const { tool: stroking, stroke } = usePen(async ({ points, pressures }) => {
    const part = started.current;
    if (keeps && !part) return tell("Begin on a part of the figure.");
    if (!pen && points.length < 3) return tell("Draw round the place, or take the pen.");
    return live.make({
      kind: "touch_up_pass", name: name as PassKey, act, part: keeps ? part : null,
      points: points.map(([x, y]): Point => [tenth(x), tenth(y)]), widths: pen ? penWidths(size, pressures).map(tenth)
        : [],
    });
  });
  const tool = useMemo<Tool | null>(() => stroking && {
    ...stroking,
    down: (x, y, e) => {
      started.current = map ? (partOfArea.get(areaAt(map, x, y)) ?? null) : null;
      stroking.down?.(x, y, e);
    },
  }, [stroking, map, partOfArea]);

  useKeys(TOUCH_UPS.putIn, () => setAct("put in"));
  useKeys(TOUCH_UPS.takeOut, () => setAct("take out"));
  useKeys(TOUCH_UPS.soften, () => setAct("soften"));
  useKeys(TOUCH_UPS.kind, () => setPenned((on) => !on));

  const { touch_ups, parts } = piece.recipe;
  const seen = touch_ups.find((t) => t.id === shown);
  return (
    <Workplace title="Touch-ups"
      lead="Correct a shape by hand. What you draw is kept, and the rest goes on following the light."
      picture={
        <PictureView piece={piece} kind="picture" tool={tool} overlay={(ctx, zoom) => {
          if (pen) fillPen(ctx, stroke.points, penWidths(size, stroke.pressures), act === "take out"
            ? "rgba(255,255,255,.5)" : "rgba(20,20,22,.5)");
          else tracePoints(ctx, stroke.points, zoom, true);
          if (seen) tracePoints(ctx, seen.points as Point[], zoom, seen.widths.length === 0);
        }} />
      }>
      {tabs}
      <Choice label="Pass" value={name} onChange={setName}
        options={names.map((key) => ({ value: key, label: labels[key] ?? key }))} />
      <Choice label="What to do" wide value={act} onChange={setAct} options={ACTS} sx={{ mt: 1 }} />
      <Typography variant="body2" sx={{ my: 1 }}>{explain(act, pen, labels[name] ?? name)}</Typography>
      {act !== "soften" && (
        <Choice label="How to draw" wide value={penned} onChange={setPenned}
          options={[{ value: false, label: "Outline" }, { value: true, label: "Pen", keyed: TOUCH_UPS.kind }]} />
      )}
      {pen && <PenSize size={size} onSize={setSize} keys={TOUCH_UPS} />}
      <FormControlLabel sx={{ ml: 0, mt: 0.5 }}
        label={<Typography variant="body1">Keep to the part where it begins</Typography>}
          control={<Switch size="small" checked={keeps} onChange={(_, on) => setKeeps(on)} />} />
      <Elsewhere ids={report?.elsewhere ?? []} live={live} />
      <Typography variant="h3" component="h2" sx={{ mt: 1.5 }}>Made so far</Typography>
      {touch_ups.length === 0 && <Typography variant="body2">None yet. Draw on the figure where a shape is not as you
        would have it.</Typography>}
      <Box component="ol" aria-label="Touch-ups" sx={{ listStyle: "none", p: 0, m: 0 }}>
        {touch_ups.map((t) => (
          <Box component="li" key={t.id} tabIndex={0} onPointerEnter={() => setShown(t.id)}
            onPointerLeave={() => setShown(null)} onFocus={() => setShown(t.id)} onBlur={() => setShown(null)}
            sx={{ display: "grid", gridTemplateColumns: "1fr auto", alignItems: "center", minHeight: 38, pl: 1,
              borderRadius: 1, "&:hover": { bgcolor: "action.hover" } }}>
            <span>{say(t, labels, parts)}{report?.elsewhere.includes(t.id) && <Typography component="span"
              variant="body2"> · for another light</Typography>}</span>
            <Button onClick={() => void live.make({ kind: "remove_touch_ups", ids: [t.id] })}
              aria-label={`Remove: ${say(t, labels, parts)}`}>Remove</Button>
          </Box>
        ))}
      </Box>
    </Workplace>
  );
}

const tenth = (v: number) => Math.round(v * 10) / 10;

function explain(act: Act, pen: boolean, pass: string): string {
  const where = pen ? "Paint" : "Draw round";
  if (act === "soften") return `Paint along the edge of the ${pass.toLowerCase()} where it should be soft.`;
  return act === "put in" ? `${where} what should lie in the ${pass.toLowerCase()}.`
    : `${where} what should not lie in the ${pass.toLowerCase()}.`;
}

function say(t: TouchUp, labels: Record<string, string>, parts: Part[]): string {
  const done = { "put in": "put in", "take out": "taken out", soften: "softened" }[t.act];
  const where = t.part ? ` on ${parts.find((p) => p.id === t.part)?.name ?? "a part that is gone"}` : "";
  return `${labels[t.name] ?? t.name} ${done}${where}`;
}

/** Touch-ups that were made while the light stood elsewhere, to be looked at again. */
function Elsewhere({ ids, live }: { ids: number[]; live: LiveEdit }) {
  if (ids.length === 0) return null;
  return (
    <Alert severity="info" sx={{ mt: 1 }} action={
      <Box sx={{ display: "flex", flexDirection: "column" }}>
        <Button color="inherit" onClick={() => void live.make({ kind: "keep_touch_ups", ids })}>Keep</Button>
        <Button color="inherit" onClick={() => void live.make({ kind: "remove_touch_ups", ids })}>Remove</Button>
      </Box>
    }>
      {ids.length === 1 ? "1 touch-up was" : `${ids.length} touch-ups were`} made for another light. They are
        marked in the list.
    </Alert>
  );
}
