import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import IconButton from "@mui/material/IconButton";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState, type HTMLAttributes } from "react";
import type { Edit, Piece } from "../../api/client";
import { percent } from "../../api/cut";
import { Figure } from "../../theme/Figure";
import { pressed } from "../../ui/keys";
import type { Row } from "./family";
import { PARTS } from "./keys";
import { kindEdit, kindOf, PartKind } from "./PartKind";
import { PatternEditor } from "./PatternEditor";
import { SeeThrough } from "./SeeThrough";

interface Props {
  piece: Piece;
  row: Row;
  selected: boolean;
  solo: boolean;
  share: number;
  onSelect: () => void;
  onSolo: () => void;
  /** A pattern is being worked on: it must be seen. */
  onPattern: () => void;
  onStep: (key: string) => boolean;
  handle: HTMLAttributes<HTMLElement>;
  edit: (edit: Edit) => Promise<Piece | null>;
}

export function PartLine({ piece, row, selected, solo, share, onSelect, onSolo, onPattern, onStep, handle, edit }:
  Props) {
  const { part, depth, hidden } = row;
  const what = part.scenery ?? part.material;
  const much = part.scenery ? null : `${percent(share)} %`;
  return (
    <Box role="row" aria-selected={selected} aria-label={[part.name, what, much ?? "scenery"].join(", ")}
      tabIndex={0} data-part-row onClick={onSelect}
      onKeyDown={(e) => {
        if (e.target !== e.currentTarget) return;
        if (e.key === "Enter" || e.key === " ") { e.preventDefault(); onSelect(); }
        const by = pressed(PARTS.order, e.nativeEvent) ?? pressed(PARTS.belong, e.nativeEvent);
        if (by && onStep(e.key)) e.preventDefault();
      }}
      sx={{
        display: "grid", gridTemplateColumns: "24px 20px 1fr auto 36px 36px", alignItems: "center", columnGap: 0.75,
          pr: 0.5, pl: `${depth * 22}px`, minHeight: 38, cursor: "pointer",
        borderRadius: 1, outline: selected ? "2px dashed" : "none", outlineColor: "primary.main", outlineOffset: -2,
        "&:hover": { bgcolor: "action.hover" },
      }}>
      <Box aria-hidden {...handle} onClick={(e) => e.stopPropagation()}
        title="Drag up or down, or right to make it belong to the part above"
        sx={{ cursor: "grab", touchAction: "none", display: "grid", placeContent: "center", height: 36,
          color: "text.secondary", "&:active": { cursor: "grabbing" } }}>
        <svg width="10" height="14"><path d="M1 3h8M1 7h8M1 11h8" stroke="currentColor" strokeWidth="1.5"
          strokeDasharray="2 1.5" /></svg>
      </Box>
      <Box aria-hidden sx={{ width: 18, height: 18, borderRadius: "50%", bgcolor: part.base, border: 1,
        borderColor: "divider", opacity: hidden ? 0.35 : 1 }} />
      <Box role="gridcell" sx={{ minWidth: 0, fontWeight: selected ? 640 : 450, overflow: "hidden",
        textOverflow: "ellipsis", whiteSpace: "nowrap", color: hidden ? "text.secondary"
          : undefined }}>{part.name}</Box>
      <Typography role="gridcell" component="div" variant="body2" noWrap>{what}, {much
        ? <Figure size={12}>{much}</Figure> : "scenery"}</Typography>
      <Box role="gridcell">
        <IconButton aria-label={part.visible === false ? `Show ${part.name}` : `Hide ${part.name}`}
          aria-pressed={part.visible === false}
        onClick={(e) => { e.stopPropagation();
          void edit({ kind: "change_part", part: part.id, visible: part.visible === false }); }}
            sx={{ color: hidden ? "text.disabled" : "text.secondary" }}>
        <svg width="18" height="18" viewBox="0 0 18 18" fill="none" stroke="currentColor" strokeWidth="1.4">
          <path d="M1.5 9C4 5 6.5 4 9 4s5 1 7.500 5C14 13 11.500 14 9 14S4 13 1.500 9Z" /><circle cx="9" cy="9"
            r="2.200" />{part.visible === false && <path d="M3 15 15 3" />}
        </svg>
      </IconButton>
      </Box>
      <Box role="gridcell">
      <Button color="inherit" aria-pressed={solo} aria-label={`only ${part.name}`}
        onClick={(e) => { e.stopPropagation(); onSolo(); }}
        sx={{ minWidth: 36, px: 0, fontSize: 12, color: solo ? "primary.main" : "text.secondary", fontWeight: solo ? 640
          : 450 }}>only</Button>
      </Box>
      {selected && <Details piece={piece} row={row} onPattern={onPattern} edit={edit} />}
    </Box>
  );
}

function Details({ piece, row: { part }, onPattern, edit }: Pick<Props, "piece" | "row" | "onPattern" | "edit">) {
  const [name, setName] = useState<string | null>(null);
  const rename = () => {
    if (name !== null && name.trim() && name.trim() !== part.name) void
      edit({ kind: "change_part", part: part.id, name });
    setName(null);
  };
  return (
    <Box role="gridcell" onClick={(e) => e.stopPropagation()}
      sx={{ gridColumn: "1 / -1", display: "grid", gridTemplateColumns: "1fr 130px auto", gap: 1, px: 1, pt: 1.25,
        pb: 1 }}>
      <TextField label="Name" value={name ?? part.name} onChange={(e) => setName(e.target.value)} onBlur={rename}
        onKeyDown={(e) => { if (e.key === "Enter") rename(); if (e.key === "Escape") setName(null); }} />
      <PartKind label="Material" value={kindOf(part)} onChange={(kind) => void edit({ kind: "change_part",
        part: part.id, ...(part.scenery ? { scenery: "figure" as const } : {}), ...kindEdit(kind) })} />
      <Button variant="outlined" onClick={() => void edit({ kind: "remove_part", part: part.id })}>Remove</Button>
      {!part.scenery && <SeeThrough piece={piece} part={part} onWork={onPattern} />}
      <PatternEditor piece={piece} part={part} onWork={onPattern} />
      {part.parent && (
        <FormControlLabel sx={{ gridColumn: "1 / -1", ml: 0 }}
          label={<Typography variant="body2">Shaded as one form with the part it belongs to</Typography>}
          control={<Switch size="small" checked={part.with_parent ?? false}
            onChange={(_, on) => void edit({ kind: "change_part", part: part.id, with_parent: on })} />} />
      )}
    </Box>
  );
}
