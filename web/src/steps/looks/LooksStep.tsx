import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Typography from "@mui/material/Typography";
import { useState, type ReactNode } from "react";
import type { LookReport, Piece } from "../../api/client";
import { useLooks } from "../../api/pieces";
import { useAreaMap, areaAt } from "../../picture/areaMap";
import { PictureView } from "../../picture/PictureView";
import { useCut } from "../../api/pieces";
import { LOOKS } from "./keys";
import { Choice, useSides, type Option } from "../../ui/Choice";
import { useKeys } from "../../ui/useKeys";
import { Workplace } from "../../shell/Workplace";
import type { StepProps } from "../StepProps";
import { Apart } from "./Apart";
import { DressSide } from "./DressSide";
import { Rail } from "./Rail";
import { Show } from "./Show";
import { Vary } from "./Vary";

const SIDES = { dress: "Dress", vary: "Vary", apart: "Apart", show: "Show" };
type Hung = "rail" | "one" | "two";

const HANGS: Option<Hung>[] = [{ value: "rail", label: "Rail", keyed: LOOKS.hang }, { value: "one",
  label: "One" }, { value: "two", label: "Two" }];

export interface Wearing {
  piece: Piece;
  report: LookReport | undefined;
  /** Id of the look that is worked on; "piece" is the piece itself. */
  chosen: string;
  choose: (id: string) => void;
  /** Looks that a change may go to together. */
  marked: ReadonlySet<string>;
  /** Parts that are changed together. */
  picked: readonly string[];
  /** Picks a part alone, or with those that are picked already. */
  pick: (id: string | null, together: boolean) => void;
}

const LEADS: Record<keyof typeof SIDES, [string, string]> = {
  dress: ["Looks", "The same figure in other colours, under the same light. "
    + "A look keeps only what differs; all else follows the piece."],
  vary: ["Vary", "Looks worked out: values and contrasts stay as they are, hues go by a scheme."],
  apart: ["Apart", "Can they be told apart, on which ground, and by whom?"],
  show: ["Show", "A sheet to send, and what came back."],
};

export function LooksStep({ piece }: StepProps) {
  const { data: report } = useLooks(piece);
  const [hung, setHung] = useState<Hung>("rail");
  const [wanted, setChosen] = useState("piece");
  const [marked, setMarked] = useState<ReadonlySet<string>>(new Set());
  const [retired, setRetired] = useState(false);
  const [only, setOnly] = useState(false);
  const [picked, setPicked] = useState<readonly string[]>([]);
  const chosen = wanted === "piece" || piece.recipe.looks?.some((k) => k.id === wanted) ? wanted : "piece";
  const [side, tabs] = useSides(SIDES, LOOKS.sides, "dress");
  useKeys(LOOKS.hang, () => setHung((h) => (h === "rail" ? "one" : h === "one" ? "two" : "rail")));
  const mark = (id: string) => setMarked((now) => { const next = new Set(now); if (!next.delete(id)) next.add(id);
    return next; });
  const pick = (id: string | null, together: boolean) => setPicked((now) => {
    if (id === null) return [];
    const others = now.filter((p) => p !== id);
    if (together) return others.length < now.length ? others : [...now, id];
    return now.length === 1 && now[0] === id ? [] : [id];
  });
  const wearing: Wearing = { piece, report, chosen, choose: setChosen, marked, picked, pick };
  const nameOf = (id: string) => report?.looks.find((l) => l.id === id)?.name ?? "";
  const other = [...marked].find((id) => id !== chosen) ?? (chosen === "piece" ? (report?.looks[1]?.id ?? "piece")
    : "piece");
  const [title, lead] = LEADS[side];
  return (
    <Workplace title={title} lead={lead} picture={
      <Box sx={{ height: "100%", display: "flex", flexDirection: "column" }}>
        <Box sx={{ flex: 1, minHeight: 0 }}>
          {hung === "rail" ? <Rail piece={piece} report={report} chosen={chosen} marked={marked} retired={retired}
            only={only && marked.size > 0} onChoose={setChosen} onMark={mark} onOpen={() => setHung("one")} />
            : hung === "two" ? <PictureView piece={piece} kind={`look:${chosen}`} compare={`look:${other}`}
              sides={`${nameOf(other)} │ ${nameOf(chosen)}`} />
              : <Worn piece={piece} chosen={chosen} onPick={pick} />}
        </Box>
        <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, px: 1.5, height: 50, overflow: "hidden",
          bgcolor: "background.paper", borderTop: 1, borderColor: "divider" }}>
        <Choice label="How looks hang" value={hung} onChange={setHung} options={HANGS} />
        {hung === "rail" && <FormControlLabel sx={{ m: 0, whiteSpace: "nowrap" }}
          control={<Checkbox size="small" checked={only} disabled={marked.size === 0}
            onChange={(_, on) => setOnly(on)} />} label="Only marked" />}
        <Typography variant="body2" noWrap sx={{ flex: 1, minWidth: 0 }}>{hung === "rail"
          ? "A double click shows one look alone; the box marks looks that a change goes to together." : hung === "one"
            ? `${nameOf(chosen)}. A click on the figure picks the part.`
              : "The marked look beside the chosen one."}</Typography>
        </Box>
      </Box>
    }>
      {tabs}
      {side === "dress" && <DressSide wearing={wearing} retired={retired} onRetired={setRetired} />}
      {side === "vary" && <Vary wearing={wearing} />}
      {side === "apart" && <Apart wearing={wearing} />}
      {side === "show" && <Show wearing={wearing} />}
    </Workplace>
  );
}

/** One look; a click on the figure chooses the part. */
function Worn({ piece, chosen, onPick }: { piece: Piece; chosen: string; onPick: Wearing["pick"] }): ReactNode {
  const map = useAreaMap(piece);
  const { data: cut } = useCut(piece);
  const partOf = (x: number, y: number) => cut?.areas.find((a) => a.area === (map ? areaAt(map, x, y) : 0))?.part ??
    null;
  return (
    <PictureView piece={piece} kind={`look:${chosen}`}
      tool={{ cursor: "pointer", down: (x, y, e) => onPick(partOf(x, y), e.shiftKey || e.ctrlKey || e.metaKey) }} />
  );
}
