import Box from "@mui/material/Box";
import LinearProgress from "@mui/material/LinearProgress";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import ToggleButton from "@mui/material/ToggleButton";
import Typography from "@mui/material/Typography";
import { useRef, useState } from "react";
import { extentOf, QUESTION_KEYS, useDismissals, useFindings } from "../../api/checks";
import type { Edit, Finding, PictureKind } from "../../api/client";
import { useMeta } from "../../api/pieces";
import { useCamera } from "../../picture/camera";
import { PictureView, type Tool } from "../../picture/PictureView";
import { Workplace } from "../../shell/Workplace";
import { Figure } from "../../theme/Figure";
import { Key } from "../../ui/Key";
import { useKeys } from "../../ui/useKeys";
import type { SideProps } from "../StepProps";
import { useLiveEdit } from "../useLiveEdit";
import { FindingRow } from "./FindingRow";
import { HueWheel } from "./HueWheel";
import { CHECK, MAP_LABELS, MAPS, type MapKey } from "./keys";
import { nearest, paintFinding, paintPlaces } from "./paintFindings";
import { useMaps } from "./useMaps";

const PICK = 24; // px

/** A finding's name among the others: what is left of it when all are worked out anew. */
const nameOf = (f: Finding) => [f.check, ...f.ids, ...(f.ids.length ? [] : [f.box?.join() ?? f.marks[0]?.join()
  ?? ""])].join("|");

/** What an experienced eye would say: what, where, how much, and what would mend it. */
export function FindingsSide({ piece, tabs }: SideProps) {
  const [look, setLook] = useState("piece");
  const worn = piece.recipe.looks.some((k) => k.id === look && !k.retired) ? look : "piece";
  const { all, open, answered, mending } = useFindings(piece, worn, 150, true);
  const meta = useMeta().data;
  const { dismiss, reopen } = useDismissals(piece.id);
  const [chosen, choose] = useState<string | null>(null);
  const [asking, ask] = useState(false);
  const [map, setMap] = useMaps();
  const show = useCamera((s) => s.show);
  const kind: PictureKind = worn === "piece" ? "picture" : `look:${worn}`;
  const live = useLiveEdit(piece, kind);
  const list = useRef<HTMLDivElement>(null);
  const rows = QUESTION_KEYS.flatMap((q) => all.filter((f) => f.question === q));
  const here = rows.find((f) => nameOf(f) === chosen) ?? null;
  const pick = (f: Finding | null) => { choose(f && nameOf(f)); ask(false); };
  const step = (by: number) => {
    const at = here ? rows.indexOf(here) : by > 0 ? -1 : 0;
    const next = rows[(at + by + rows.length) % Math.max(1, rows.length)] ?? null;
    pick(next);
    if (next) list.current?.querySelectorAll<HTMLElement>("li > div > button")[rows.indexOf(next)]?.focus();
  };
  const repair = (f: Finding) => {
    if (!f.repair) return;
    const after = rows[rows.indexOf(f) + 1] ?? rows[rows.indexOf(f) - 1] ?? null;
    pick(after);
    void live.make(f.repair.edit as Edit);
  };
  const bring = (f: Finding) => { const at = extentOf(f); if (at) show(at); };
  const leave = (f: Finding, reason: string | null) => {
    ask(false);
    if (reason === null) void reopen(f);
    else { step(1); void dismiss(f, worn, reason); }
  };
  useKeys(CHECK.before, () => step(-1));
  useKeys(CHECK.after, () => step(1));
  useKeys(CHECK.repair, () => { if (here) repair(here); });
  useKeys(CHECK.show, () => { if (here) bring(here); });
  useKeys(CHECK.dismiss, (_, e) => {
    if (!here) return;
    e.preventDefault();
    if (here.dismissed) leave(here, null); else ask(true);
  });
  const zoom = useRef(1);
  const tool: Tool = { up: (x, y) => { const f = nearest(open, x, y, PICK / zoom.current); if (f) pick(f); } };
  const looks = piece.recipe.looks.filter((k) => !k.retired);
  const mapKind = map === null || map === "hues" ? null
    : (`${map}${worn === "piece" ? "" : `:${worn}`}` as PictureKind);
  return (
    <Workplace title="Check"
      lead="What an experienced eye would say, where, and by how much. Point at a repair to see it."
      picture={
        <PictureView piece={piece} kind={mapKind ?? kind} tool={tool} overlay={(ctx, at) => {
          zoom.current = at;
          paintPlaces(ctx, open.filter((f) => f !== here), at);
          if (here) paintFinding(ctx, here, at);
        }} />
      }>
      {tabs}
      <Box role="group" aria-label="Maps over the picture" sx={{ display: "grid", mb: 1, gap: "4px",
        gridTemplateColumns: "repeat(5, auto)" }}>
        {(Object.keys(MAPS) as MapKey[]).map((key) => (
          <ToggleButton key={key} value={key} selected={map === key} size="small"
            sx={{ px: 0.25, whiteSpace: "nowrap" }}
            onClick={() => setMap(map === key ? null : key)}>{MAP_LABELS[key]}<Key of={MAPS[key]} /></ToggleButton>
        ))}
      </Box>
      {map && <Typography variant="body2" sx={{ mb: 1 }}>{LEGENDS[map]}</Typography>}
      {map === "hues" && <HueWheel piece={piece} look={worn} />}
      {looks.length > 0 && (
        <Box sx={{ display: "grid", gridTemplateColumns: "80px 1fr", alignItems: "center", columnGap: 2, mb: 1 }}>
          <span>Judged</span>
          <Select value={worn} inputProps={{ "aria-label": "Which look is judged" }}
            onChange={(e) => { pick(null); setLook(e.target.value); }}>
            <MenuItem value="piece">The piece</MenuItem>
            {looks.map((k) => <MenuItem key={k.id} value={k.id}>{k.name}</MenuItem>)}
          </Select>
        </Box>
      )}
      <Typography variant="body2" role="status" sx={{ minHeight: 20 }}>{said(answered, open.length,
        all.length - open.length)}</Typography>
      <Box sx={{ height: 3 }}>{answered < QUESTION_KEYS.length && <LinearProgress variant="determinate"
        aria-label="Questions answered" value={(100 * answered) / QUESTION_KEYS.length} sx={{ height: 2 }} />}</Box>
      <Box ref={list}>
        {QUESTION_KEYS.map((question) => {
          const mine = rows.filter((f) => f.question === question);
          const left = mine.filter((f) => !f.dismissed).length;
          const title = meta?.questions[question] ?? question;
          return (
            <Box component="section" key={question} aria-label={title} sx={{ mt: 1.25 }}>
              <Box sx={{ display: "flex", alignItems: "baseline", gap: 1, minHeight: 24 }}>
                <Typography variant="h3" component="h2" sx={{ flex: 1 }}>{title}</Typography>
                {left > 0 ? <Figure>{left}</Figure> : answered === QUESTION_KEYS.length
                  && <Typography variant="body2">{mine.length ? "looked at" : "yes"}</Typography>}
              </Box>
              {mine.length > 0 && (
                <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>
                  {mine.map((f) => (
                    <FindingRow key={nameOf(f)} finding={f} check={meta?.checks.find((c) => c.key === f.check)}
                      mending={mending.has(f.question)}
                      on={f === here} dismissing={asking && f === here} onChoose={() => { if (f !== here) pick(f); }}
                      onStep={step} onShow={() => bring(f)}
                      onPreview={(shown) => { if (shown && f.repair) live.show(f.repair.edit as Edit);
                        else live.drop(); }}
                      onRepair={() => repair(f)} onDismiss={(reason) => leave(f, reason)}
                      onAskWhy={() => ask(!asking)} />
                  ))}
                </Box>
              )}
            </Box>
          );
        })}
      </Box>
    </Workplace>
  );
}

const LEGENDS: Record<MapKey, string> = {
  values: "Seven values by L*. Large shapes should fall into few of them, the figure into others than its ground.",
  chroma: "The purer a colour, the brighter its hue; greys are dark. The strongest belongs where the eye should go.",
  attention: "Contrast of light in bands of an octave, and of colour with its surroundings. A white ring is the focus.",
  hues: "Each disc is as large as the area of its colour; outwards it is purer. Lines are left out.",
  outline: "Red and thick where the figure is less than 7 ΔE from its ground; yellow to green where it stands off.",
};

function said(answered: number, open: number, left: number): string {
  if (answered < QUESTION_KEYS.length) return `Looking … ${answered} of ${QUESTION_KEYS.length} questions answered.`;
  const more = left ? ` ${left} left as ${left === 1 ? "it is" : "they are"}.` : "";
  if (!open) return left ? `Nothing else to find fault with.${more}` : "Nothing to find fault with.";
  return `${open} ${open === 1 ? "finding" : "findings"}.${more}`;
}
