import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import Checkbox from "@mui/material/Checkbox";
import { useRef } from "react";
import type { LookLine, LookReport, Piece } from "../../api/client";
import { useRail, type Strip } from "../../api/looks";
import { useChanges } from "../../api/pieces";
import { BACKDROPS, useGlance } from "../../picture/glance";
import { Figure } from "../../theme/Figure";
import { useSize } from "../../ui/useSize";
import { Figurine } from "./Figurine";
import { GAP, widest } from "./hang";

const EDGE = 600;
const LARGE = 1200;

interface Props {
  piece: Piece;
  report: LookReport | undefined;
  chosen: string;
  marked: ReadonlySet<string>;
  retired: boolean;
  /** Only the chosen and the marked ones, as large as they can be. */
  only: boolean;
  onChoose: (id: string) => void;
  onMark: (id: string) => void;
  onOpen: () => void;
}

/** Looks side by side as live pictures, the piece first; dragged into another order. */
export function Rail({ piece, report, chosen, marked, retired, only, onChoose, onMark, onOpen }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const room = useSize(frame);
  const { edit } = useChanges(piece.id);
  const glance = useGlance();
  const lines = (report?.looks ?? []).map((line, at) => ({ line, at })).filter(({ line }) => (retired || !line.retired)
    && (!only || marked.has(line.id) || line.id === chosen));
  const least = glance.small ? 84 : 168;
  const width = glance.small ? null : widest(lines.length, piece.height / piece.width, room, least);
  const sharp = (width ?? least) * Math.max(1, piece.height / piece.width) * window.devicePixelRatio > EDGE;
  const { data: strip } = useRail(piece, sharp ? LARGE : EDGE);
  const dropOn = (event: React.DragEvent, id: string) => {
    const look = event.dataTransfer.getData("text/look");
    if (look && look !== id && id !== "piece") {
      event.preventDefault();
      void edit({ kind: "move_look", look, before: id });
    }
  };
  const filter = [glance.grey ? "url(#wardrobe-rail-grey)" : "", glance.squint ? "blur(5px)" : ""].join(" ").trim();
  return (
    <Box ref={frame} sx={{ height: "100%", overflowY: "auto", bgcolor: BACKDROPS[glance.backdrop], p: 2 }}>
      <svg width="0" height="0" style={{ position: "absolute" }} aria-hidden>
        <filter id="wardrobe-rail-grey" colorInterpolationFilters="linearRGB">
          <feColorMatrix
            values="0.2126 0.7152 0.0722 0 0  0.2126 0.7152 0.0722 0 0  0.2126 0.7152 0.0722 0 0  0 0 0 1 0" />
        </filter>
      </svg>
      <Box role="group" aria-label="Looks"
        sx={{ display: "grid", gap: `${GAP}px`, alignItems: "start", justifyContent: "center",
        gridTemplateColumns: width === null ? `repeat(auto-fill, minmax(${least}px, 1fr))`
          : `repeat(auto-fill, ${width}px)` }}>
        {lines.map(({ line, at }) => (
          <Hanger key={line.id} piece={piece} line={line} strip={strip} at={at} filter={filter} flip={glance.flip}
            chosen={chosen === line.id} marked={marked.has(line.id)}
            distinct={report?.distinct ?? 0} areas={report?.areas ?? {}} onChoose={() => onChoose(line.id)}
              onMark={() => onMark(line.id)} onOpen={onOpen} onDrop={(e) => dropOn(e, line.id)} />
        ))}
      </Box>
    </Box>
  );
}

interface HangerProps {
  piece: Piece;
  line: LookLine;
  strip: Strip | undefined;
  at: number;
  filter: string;
  flip: boolean;
  chosen: boolean;
  marked: boolean;
  distinct: number;
  areas: Record<string, number>;
  onChoose: () => void;
  onMark: () => void;
  onOpen: () => void;
  onDrop: (event: React.DragEvent) => void;
}

function Hanger({ piece, line, strip, at, filter, flip, chosen, marked, distinct, areas, onChoose, onMark, onOpen,
  onDrop }: HangerProps) {
  const close = line.apart !== null && line.apart !== undefined && line.apart < distinct;
  const colours = Object.entries(line.bases).sort(([a], [b]) => (areas[b] ?? 0) - (areas[a] ?? 0));
  return (
    <Box draggable={line.id !== "piece"}
      onDragStart={(e: React.DragEvent) => e.dataTransfer.setData("text/look", line.id)}
        onDragOver={(e: React.DragEvent) => e.preventDefault()} onDrop={onDrop}
      sx={{ bgcolor: "background.paper", borderRadius: 1, overflow: "hidden", outline: chosen ? "2px dashed"
        : "1px solid", outlineColor: chosen ? "primary.main" : "rgba(0,0,0,.25)", outlineOffset: chosen ? 2
          : 0, opacity: line.retired ? 0.5 : 1 }}>
      <ButtonBase data-look={line.id} aria-pressed={chosen}
        aria-label={`${line.name}${line.retired ? ", retired" : ""}`} onClick={onChoose} onDoubleClick={onOpen}
          onKeyDown={(e) => { if (e.key === "Enter" && chosen) onOpen(); }} sx={{ display: "block", width: "100%" }}>
        <Box sx={{ filter: filter || undefined, transform: flip ? "scaleX(-1)" : undefined }}>
          <Figurine strip={strip} at={at} ratio={`${piece.width} / ${piece.height}`} />
        </Box>
      </ButtonBase>
      <Box aria-hidden sx={{ display: "flex", height: 14, filter: filter.includes("grey") ? filter : undefined }}>
        {colours.map(([part, colour]) => <Box key={part}
          title={`${piece.recipe.parts.find((p) => p.id === part)?.name} ${colour}`}
            sx={{ flex: Math.max(0.02, areas[part] ?? 0), bgcolor: colour }} />)}
      </Box>
      <Box sx={{ display: "flex", alignItems: "center", pl: 1, minHeight: 38 }}>
        <Box sx={{ flex: 1, minWidth: 0, lineHeight: 1.2, py: 0.5 }}>
          <Box sx={{ fontWeight: 620, fontSize: 13, overflow: "hidden", textOverflow: "ellipsis",
            whiteSpace: "nowrap" }}>{line.name}</Box>
          {close && <Box sx={{ fontSize: 11.5, color: "text.secondary", whiteSpace: "nowrap", overflow: "hidden",
            textOverflow: "ellipsis" }}>hard to tell apart, <Figure
              size={11}>{line.apart?.toFixed(1)} ΔE</Figure></Box>}
        </Box>
        <Checkbox size="small" checked={marked} onChange={onMark}
          slotProps={{ input: { "aria-label": `Mark ${line.name}` } }} />
      </Box>
    </Box>
  );
}
