import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useRef } from "react";
import type { Edit, Look, MaterialKey, Part } from "../../api/client";
import { useMeta } from "../../api/pieces";
import { ColourField } from "../../colour/ColourField";
import { Figure } from "../../theme/Figure";

interface RowProps {
  part: Part;
  base: string;
  chosen: boolean;
  differs: boolean;
  area: number;
  onChoose: (together: boolean) => void;
  onShow: (hex: string) => void;
  onMake: (hex: string) => void;
  onCancel: () => void;
  onBack: () => void;
}

/** A part's colour in a look. */
export function PartRow({ part, base, chosen, differs, area, onChoose, onShow, onMake, onCancel, onBack }: RowProps) {
  const row = useRef<HTMLLIElement>(null);
  useEffect(() => { if (chosen) row.current?.scrollIntoView({ block: "nearest" }); }, [chosen]);
  return (
    <Box component="li" ref={row}
      sx={{ display: "grid", gridTemplateColumns: "64px 1fr auto", alignItems: "center", columnGap: 1, minHeight: 40,
        borderRadius: 1, ...(chosen && { outline: "2px dashed", outlineColor: "primary.main", outlineOffset: -2 }) }}>
      <ColourField label={`Base of ${part.name}`} value={base} starters={part.material} onShow={onShow} onMake={onMake}
        onCancel={onCancel}>
        <Box sx={{ width: 56, height: 30, ml: 0.5, borderRadius: 1, bgcolor: base, border: 1,
          borderColor: "divider" }} />
      </ColourField>
      <ButtonBase onClick={(e) => onChoose(e.shiftKey || e.ctrlKey || e.metaKey)} aria-pressed={chosen}
        sx={{ justifyContent: "flex-start", gap: 1, minHeight: 36, textAlign: "left", borderRadius: 1 }}>
        <Box component="span" sx={{ fontWeight: differs ? 640 : 450 }}>{part.name}</Box>
        <Figure size={11.5}>{base}</Figure>
        <Typography component="span" variant="body2"
          sx={{ ml: "auto", fontSize: 12 }}>{(100 * area).toFixed(0)} %</Typography>
      </ButtonBase>
      {differs ? <Button color="inherit" size="small" aria-label={`${part.name} as in the piece`}
        sx={{ minWidth: 0, color: "text.secondary" }} onClick={onBack}>as the piece</Button> : <span />}
    </Box>
  );
}

/** Material and pattern of a part in this look. */
export function PartOf({ look, part, make }: { look: Look; part: Part | undefined;
  make: (edit: Edit) => Promise<unknown> }) {
  const materials = useMeta().data?.materials ?? [];
  if (!part) return null;
  const material = look.materials?.[part.id] ?? "";
  const plain = look.plain?.includes(part.id) ?? false;
  const on = { part: part.id, targets: [look.id] };
  const follow = (what: "material" | "pattern") => void make({ kind: "follow_piece", looks: [look.id], what: [what],
    parts: [part.id] });
  const take = (m: string) => (m ? void make({ kind: "change_part", material: m as MaterialKey, ...on })
    : follow("material"));
  const strip = (bare: boolean) => (bare ? void make({ kind: "set_pattern", pattern: null, ...on })
    : follow("pattern"));
  return (
    <Box sx={{ display: "flex", gap: 1, alignItems: "center", mb: 1 }}>
      <TextField select label={`Material of ${part.name}`} value={material} sx={{ flex: 1 }}
        onChange={(e) => take(e.target.value)}
          slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}>
        <MenuItem value="">as the piece: {part.material}</MenuItem>
        {materials.map((m) => <MenuItem key={m.key} value={m.key}>{m.key}</MenuItem>)}
      </TextField>
      {part.pattern && <FormControlLabel sx={{ m: 0 }}
        control={<Checkbox checked={plain} onChange={(_, bare) => strip(bare)} />} label="Without pattern" />}
    </Box>
  );
}
