import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect, useRef } from "react";
import type { Gap, Recipe } from "../../api/client";
import { Figure } from "../../theme/Figure";

interface Props {
  gaps: Gap[];
  closings: NonNullable<Recipe["closings"]>;
  pointed: Gap | null;
  onPoint: (gap: Gap | null) => void;
  onClose: (gap: Gap) => void;
  onLeave: (gap: Gap) => void;
  onUndecide: (gap: Gap) => void;
  onInk: (gap: Gap, inked: boolean) => void;
  onRemove: (index: number) => void;
}

const TITLES: Record<Gap["group"], string> = {
  outline: "On the outline", "between parts": "Between parts", "inside a part": "Inside one part",
};

/** What is undecided by what a mistake costs, then what was decided. */
export function GapList({ gaps, closings, onRemove, ...acts }: Props) {
  const open = gaps.filter((g) => g.state === "undecided");
  const decided = gaps.filter((g) => g.state !== "undecided");
  const taken = new Set(decided.filter((g) => g.state === "closed").map((g) => g.index));
  const drawn = closings.map((_, index) => index).filter((index) => !taken.has(index));
  return (
    <Box sx={{ mt: 1.5 }} onPointerLeave={() => acts.onPoint(null)}>
      {gaps.length === 0 && <Typography variant="body2">No gaps worth asking about.</Typography>}
      {(Object.keys(TITLES) as Gap["group"][]).map((group) => {
        const rows = open.filter((g) => g.group === group);
        return rows.length > 0 && (
          <Box key={group} component="section" aria-label={TITLES[group]}>
            <Heading text={TITLES[group]} count={rows.length} />
            {rows.map((g) => <Row key={`${g.x} ${g.y}`} gap={g} {...acts} />)}
          </Box>
        );
      })}
      {decided.length + drawn.length > 0 && <Heading text="Decided" count={decided.length + drawn.length} />}
      {decided.map((g) => <Row key={`${g.x} ${g.y}`} gap={g}
        inked={g.state === "closed" && closings[g.index ?? -1]?.inked === true} {...acts} />)}
      {drawn.map((index) => (
        <Box key={index} sx={{ display: "flex", alignItems: "center", minHeight: 38, px: 1 }}>
          <Typography sx={{ flex: 1 }}>Closing drawn by hand</Typography>
          <Button size="small" onClick={() => onRemove(index)}>Remove</Button>
        </Box>
      ))}
    </Box>
  );
}

function Heading({ text, count }: { text: string; count: number }) {
  return <Typography variant="h3" sx={{ mt: 1, mb: 0.25 }}>{text} <Figure>{count}</Figure></Typography>;
}

function Row({ gap, inked, pointed, onPoint, onClose, onLeave, onUndecide, onInk }: Omit<Props, "gaps" | "closings" |
  "onRemove"> & { gap: Gap; inked?: boolean }) {
  const on = pointed?.x === gap.x && pointed.y === gap.y;
  const row = useRef<HTMLDivElement>(null);
  const was = useRef(on);
  useEffect(() => {
    was.current = on;
    if (on) row.current?.scrollIntoView({ block: "nearest" });
  }, [on]);
  // A row that goes while it is pointed at is never left by the pointer: browsers do not tell.
  useEffect(() => () => { if (was.current) onPoint(null); }, [onPoint]);
  return (
    <Box ref={row} onPointerEnter={() => onPoint(gap)} onFocus={() => onPoint(gap)} data-testid="gap"
      sx={{ display: "grid", gridTemplateColumns: "52px 1fr auto", columnGap: 1, alignItems: "center", minHeight: 40,
        px: 1, borderRadius: 1, bgcolor: on ? "action.hover" : "transparent" }}>
      <Figure>{gap.width.toFixed(gap.width < 10 ? 1 : 0)} px</Figure>
      <Box sx={{ minWidth: 0, lineHeight: 1.25 }}>
        <Box sx={{ overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap" }}>{joins(gap)}</Box>
        <Typography variant="body2" component="div" sx={{ fontSize: 12 }}>
          {gap.state === "undecided" ? <>{gap.widths.toFixed(1)} line widths, <Figure
            size={11.5}>{Math.round(gap.doubt * 100)} %</Figure> doubt</> : `${gap.state}${inked ? ", inked" : ""}`}
        </Typography>
      </Box>
      <Box sx={{ display: "flex" }}>
        {gap.state === "undecided" ? (
          <>
            <Button size="small" onClick={() => onClose(gap)}>Close</Button>
            <Button size="small" color="inherit" onClick={() => onLeave(gap)}>Leave</Button>
          </>
        ) : (
          <>
            {gap.state === "closed" && <Button size="small" color="inherit" onClick={() => onInk(gap, !inked)}>{inked
              ? "Unink" : "Ink"}</Button>}
            <Button size="small" onClick={() => onUndecide(gap)}>Take back</Button>
          </>
        )}
      </Box>
    </Box>
  );
}

function joins({ joins: [one, two] }: Gap): string {
  if (one === two) return one === "outside" ? "outside on both sides" : `${one} on both sides`;
  return `${one} and ${two}`;
}
