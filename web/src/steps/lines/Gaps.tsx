import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Slider from "@mui/material/Slider";
import Typography from "@mui/material/Typography";
import { useMemo, useRef, useState, type ReactNode } from "react";
import type { Edit, Gap, Leak, Piece, Point } from "../../api/client";
import { fetchLeak, useChanges, useFigureOffer, useGaps } from "../../api/pieces";
import { tell, tellProblem } from "../../api/notice";
import { PictureView, type Tool } from "../../picture/PictureView";
import { Key } from "../../ui/Key";
import { useKeys } from "../../ui/useKeys";
import { GAPS } from "./keys";
import { Workplace } from "../../shell/Workplace";
import { Figure } from "../../theme/Figure";
import { GapList } from "./GapList";
import { Loupe } from "./Loupe";
import { Pins, type LeakMark } from "./Pins";
import { strokeClosings, strokeOffer } from "./strokeClosings";
import { useDrawnClosing } from "./useDrawnClosing";
import { WholeFigure } from "./WholeFigure";

interface Props {
  piece: Piece;
  lead: string;
  choice: ReactNode;
}

type Hand = "look" | "draw" | "leak";

const LEAST_DRAG = 30;

/** The gaps: found, shown, closed or left open; the last word is the artist's. */
export function Gaps({ piece, lead, choice }: Props) {
  const { data: report } = useGaps(piece);
  const { data: offer } = useFigureOffer(piece);
  const { edit } = useChanges(piece.id);
  const [pointed, setPointed] = useState<Gap | null>(null);
  const [doubtful, setDoubtful] = useState(false);
  const [folds, setFolds] = useState(false);
  const [upTo, setUpTo] = useState(24);
  const [hand, setHand] = useState<Hand>("look");
  const [leak, setLeak] = useState<LeakMark | null>(null);
  const shown = useMemo(() => (report?.gaps ?? []).filter((g) =>
    g.state !== "undecided" || ((doubtful || g.listed) && (folds || g.group !== "inside a part"))),
      [report, doubtful, folds]);
  const hidden = (report?.gaps ?? []).filter((g) => g.state === "undecided");
  const open = shown.filter((g) => g.state === "undecided");
  const small = open.filter((g) => g.width <= upTo);
  const make = (change: Edit) => edit(change);
  const close = (gaps: Gap[]) => {
    setPointed(null);
    if (gaps.length) void make({ kind: "close_gaps", closings: gaps.map((g) => ({ points: g.curve, inked: false })) });
  };
  const leave = (gap: Gap) => {
    setPointed(null);
    void make({ kind: "leave_open", gap: { ends: gap.ends, sides: gap.sides } });
  };
  const undecide = (gap: Gap) => {
    if (gap.index == null) return;
    void make(gap.state === "closed" ? { kind: "remove_closing", index: gap.index }
      : { kind: "ask_again", index: gap.index });
  };
  const draw = useDrawnClosing(report,
    (points) => void make({ kind: "close_gaps", closings: [{ points, inked: false }] }));
  const pressed = useRef<Point | null>(null);
  const leakTool: Tool = {
    cursor: "crosshair",
    down: (x, y) => { pressed.current = [x, y]; },
    up: (x, y) => {
      const start = pressed.current;
      pressed.current = null;
      if (!start) return;
      const across = Math.hypot(x - start[0], y - start[1]) > LEAST_DRAG;
      fetchLeak(piece, [x, y], across ? start : undefined).then((found) => {
        setLeak({ ...found, to: [x, y] });
        tell(describeLeak(found, across));
      }).catch(tellProblem);
    },
    cancel: () => { pressed.current = null; },
  };
  const step = (by: number) => {
    const at = pointed ? open.findIndex((g) => g.x === pointed.x && g.y === pointed.y) : -1;
    setPointed(open[(at + by + open.length) % Math.max(1, open.length)] ?? null);
  };
  useKeys(GAPS.before, () => step(-1));
  useKeys(GAPS.after, () => step(1));
  useKeys(GAPS.close, () => { if (pointed) close([pointed]); });
  useKeys(GAPS.leave, () => { if (pointed) leave(pointed); });
  useKeys(GAPS.draw, () => setHand((h) => (h === "draw" ? "look" : "draw")));
  useKeys(GAPS.leak, () => setHand((h) => (h === "leak" ? "look" : "leak")));
  const closings = piece.recipe.closings ?? [];
  return (
    <Workplace title="Lines" lead={lead}
      picture={
        <PictureView piece={piece} kind="lines" tool={hand === "draw" ? draw.tool : hand === "leak" ? leakTool : null}
          overlay={(ctx, zoom) => { strokeClosings(ctx, zoom, closings, pointed);
            strokeOffer(ctx, zoom, offer?.edit ? offer.closings : []); draw.paint(ctx, zoom); }}>
          {(stage) => (
            <>
              <Pins stage={stage} gaps={shown} pointed={pointed} onPoint={setPointed} onClose={(g) => close([g])}
                leak={hand === "leak" ? leak : null} />
              {pointed && <Loupe piece={piece} gap={pointed} stage={stage} />}
            </>
          )}
        </PictureView>
      }>
      {choice}
      <WholeFigure piece={piece} edit={make} />
      <Typography variant="h3" component="div" role="status">{report?.openings === 0 && offer?.edit
        && offer.added > 0.02 ? "The outline is open." : report?.perimeter ?? "Looking for gaps …"}</Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: "auto 1fr auto", alignItems: "center", gap: 1.5, mt: 1 }}>
        <Typography variant="body1">Up to <Figure>{upTo} px</Figure></Typography>
        <Slider size="small" aria-label="Widest gap to close" value={upTo} min={2} max={80}
          onChange={(_, v) => setUpTo(v)} />
        <Button variant="contained" disabled={small.length === 0}
          onClick={() => close(small)}>Close {small.length}</Button>
      </Box>
      <Box sx={{ display: "flex", gap: 1, mt: 1 }}>
        <Button fullWidth variant="outlined" aria-pressed={hand === "draw"}
          onClick={() => setHand(hand === "draw" ? "look" : "draw")}
          sx={{ outline: hand === "draw" ? "2px dashed" : "none", outlineColor: "primary.main",
            outlineOffset: -3 }}>Draw a closing<Key of={GAPS.draw} /></Button>
        <Button fullWidth variant="outlined" aria-pressed={hand === "leak"}
          onClick={() => setHand(hand === "leak" ? "look" : "leak")}
          sx={{ outline: hand === "leak" ? "2px dashed" : "none", outlineColor: "primary.main",
            outlineOffset: -3 }}>Test for leaks<Key of={GAPS.leak} /></Button>
      </Box>
      {hand !== "look" && (
        <Typography variant="body2" sx={{ mt: 0.75 }}>
          {hand === "draw" ? "Draw across the opening; both ends snap to the nearest lines."
            : "Click an area for its leak level from the outside; drag from one area to another for theirs."}
        </Typography>
      )}
      <GapList gaps={shown} pointed={pointed} onPoint={setPointed} onClose={(g) => close([g])} onLeave={leave}
        onUndecide={undecide}
        onInk={(g, inked) => g.index != null && void make({ kind: "ink_closing", index: g.index, inked })}
          closings={closings}
        onRemove={(index) => void make({ kind: "remove_closing", index })} />
      <More count={hidden.filter((g) => g.listed && g.group === "inside a part").length} on={folds} onToggle={setFolds}
        what="inside one part, mostly ends of folds" />
      <More count={hidden.filter((g) => !g.listed).length} on={doubtful} onToggle={setDoubtful} what="very doubtful" />
    </Workplace>
  );
}

function describeLeak(leak: Leak, across: boolean): string {
  const from = across ? "Between the two" : "From the outside";
  if (leak.level > 0)
    return `${from} it holds up to ${Math.round(leak.level * 100)} % ink, and breaks where the mark is.`;
  return `${from} nothing holds: the way is ${Math.max(0, leak.width).toFixed(0)} px wide where the mark is.`;
}

function More({ count, on, onToggle, what }: { count: number; on: boolean; onToggle: (on: boolean) => void;
  what: string }) {
  if (!count) return null;
  return (
    <Button size="small" sx={{ alignSelf: "flex-start", mt: 0.5 }} onClick={() => onToggle(!on)}>
      {on ? "Hide" : "Show"} {count} {what}
    </Button>
  );
}
