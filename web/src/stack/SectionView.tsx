import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import Typography from "@mui/material/Typography";
import { useMemo, type ReactNode } from "react";
import type { Section, StackLine } from "../api/client";
import { Figure } from "../theme/Figure";
import { tiersOf, type Pile } from "./tiers";

const COLUMN = 90;

interface Props {
  section: Section;
  /** Index of the layer that is lit. */
  lit: number | null;
  onLight: (index: number | null) => void;
  /** Layers that a check says something about. */
  marked?: ReadonlySet<number>;
}

const percent = (line: StackLine) => (line.opacity < 1 ? `${Math.round(100 * line.opacity)} %` : "");
const settings = (line: StackLine) => [line.mode === "normal" ? ""
  : line.mode, percent(line)].filter(Boolean).join(" ");

export function told(line: StackLine): string {
  const how = settings(line);
  return [line.name, how, line.clipped_to && `clipped to ${line.clipped_to}`,
    !line.visible && "hidden", line.empty && "empty"].filter(Boolean).join(", ");
}

/** The stack cut through: a column for each part with its passes piled on it, whole layers across. */
export function SectionView({ section, lit, onLight, marked }: Props) {
  const tiers = useMemo(() => tiersOf(section), [section]);
  const columns = section.columns;
  const wide = Math.max(1, columns.length) * COLUMN;
  const block = (line: StackLine, across = false) => (
    <Block key={line.index} line={line} lit={lit === line.index} marked={marked?.has(line.index) ?? false}
      across={across} onLight={onLight} />
  );
  const pile = ({ group, lines }: Pile): ReactNode => (
    <Box sx={{ display: "flex", flexDirection: "column", justifyContent: "flex-end", ...(group && !group.visible
      && { opacity: 0.55 }) }}>
      {group && settings(group) && <GroupNote line={group} />}
      {lines.map((line) => (line.kind === "group" ? <GroupNote key={`g${line.name}`} line={line} /> : block(line)))}
    </Box>
  );
  const row = (groups: Map<string, Pile>) => (
    <Box sx={{ display: "grid", gridTemplateColumns: `repeat(${columns.length}, ${COLUMN}px)`, alignItems: "end" }}>
      {columns.map((c) => <Box key={c.key}
        sx={{ pr: "4px" }}>{groups.has(c.key) && pile(groups.get(c.key) as Pile)}</Box>)}
    </Box>
  );
  return (
    <Box role="group" aria-label="The stack as a section" onPointerLeave={() => onLight(null)}
      sx={{ overflowX: "auto", flexShrink: 0, mx: -2, px: 2, pb: 1 }}>
      <Box sx={{ width: "max-content", minWidth: "100%" }}>
        <Box sx={{ width: Math.max(wide, 0), minWidth: "100%", display: "flex", flexDirection: "column", gap: "3px" }}>
          {tiers.map((tier, k) => tier.kind === "bar" ? block(tier.line, true) : tier.kind === "piles" ? <Box
            key={k}>{row(tier.groups)}</Box> : (
            <Box key={k} sx={{ border: "1px solid", borderColor: "divider", borderRadius: 1, pt: "2px", pb: "3px",
              px: "2px", ml: "-3px", bgcolor: "background.default" }}>
              <Typography component="div"
                sx={{ fontSize: 11.5, fontWeight: 640, px: 0.5, position: "sticky", left: 0, width: "max-content" }}>
                {tier.group.name} {settings(tier.group) && <Figure size={11}>{settings(tier.group)}</Figure>}
              </Typography>
              {tier.bars.map((line) => line.kind === "layer" && block(line, true))}
              {tier.groups.size > 0 && row(tier.groups)}
            </Box>
          ))}
          {columns.length > 0 && (
            <Box aria-hidden sx={{ display: "grid", gridTemplateColumns: `repeat(${columns.length}, ${COLUMN}px)`,
              pt: 0.5 }}>
              {columns.map((c) => (
                <Box key={c.key} sx={{ pr: "6px", fontSize: 11.5, fontWeight: 640, lineHeight: 1.25, overflow: "hidden",
                  overflowWrap: "anywhere", borderTop: 3, borderColor: c.colour ?? "divider", pt: 0.5 }}>{c.name}</Box>
              ))}
            </Box>
          )}
        </Box>
      </Box>
    </Box>
  );
}

/** Mode and opacity of a group inside a pile. */
function GroupNote({ line }: { line: StackLine }) {
  return (
    <Box title={told(line)} sx={{ fontSize: 10.5, color: "text.secondary", borderTop: 2, borderColor: "text.secondary",
      whiteSpace: "nowrap", overflow: "hidden", textOverflow: "ellipsis", px: 0.5 }}>
      {line.what} {settings(line)}
    </Box>
  );
}

function Block({ line, lit, marked, across, onLight }: { line: StackLine; lit: boolean; marked: boolean;
  across: boolean; onLight: (index: number | null) => void }) {
  const seam = line.clipped_to !== null && line.clipped_to !== undefined;
  return (
    <ButtonBase title={told(line)} aria-label={told(line)} aria-pressed={lit} data-layer={line.index}
      onPointerEnter={() => onLight(line.index)} onFocus={() => onLight(line.index)} onBlur={() => onLight(null)}
        onClick={() => onLight(line.index)}
      sx={{
        width: "100%", minHeight: across ? 26 : 36, display: "flex", alignItems: "stretch",
          justifyContent: "flex-start", textAlign: "left", mb: across ? 0 : "2px",
        bgcolor: "background.paper", border: 1, borderColor: lit ? "primary.main" : "divider", borderRadius: "3px",
          overflow: across ? "visible" : "hidden",
        borderStyle: line.empty ? "dotted" : "solid", color: line.visible ? undefined : "text.secondary",
        ...(seam && { borderLeft: "2px dashed", borderLeftColor: "primary.main" }),
        ...(lit && { boxShadow: (t) => `0 0 0 1px ${t.palette.primary.main}` }),
        ...(marked && { backgroundImage:
          (t) => `linear-gradient(225deg, ${t.palette.primary.main} 7px, transparent 7.5px)` }),
      }}>
      <Box aria-hidden sx={{ width: across ? 26 : 9, flexShrink: 0, bgcolor: line.colour ?? "transparent",
        borderRight: 1, borderColor: "divider",
        ...(!line.colour && { backgroundImage:
          "repeating-linear-gradient(45deg, rgba(128,128,128,.55) 0 2px, transparent 2px 5px)" }) }} />
      <Box aria-hidden sx={{ minWidth: 0, px: 0.6, py: across ? 0.3 : 0.35, lineHeight: 1.2,
        ...(across && { display: "flex", alignItems: "center", gap: 1, position: "sticky", left: 26 }) }}>
        <Box sx={{ fontSize: 12, fontWeight: 560, whiteSpace: "nowrap", overflow: "hidden",
          textOverflow: "ellipsis" }}>{across ? line.name : line.what}</Box>{" "}
        <Box sx={{ fontSize: 10.5, color: "text.secondary", whiteSpace: "nowrap" }}>{line.visible ? settings(line)
          : "hidden"}</Box>
      </Box>
    </ButtonBase>
  );
}
