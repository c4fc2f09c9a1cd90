import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import { useState } from "react";
import type { Inking, MaterialKey, Piece } from "../../api/client";
import { useMeta } from "../../api/pieces";
import { perCent, Rail } from "../../ui/Rail";
import { Line } from "./ShapeFields";

type Rule = Pick<Inking, "darkness" | "saturation" | "light">;

/** How lines take their colours: all of them, or those of one material. */
export function RuleFields({ piece, ink, onShow, onMake }: {
  piece: Piece; ink: Inking; onShow: (more: Partial<Inking>) => void; onMake: (more: Partial<Inking>) => void;
}) {
  const [material, setMaterial] = useState<MaterialKey | null>(null);
  const worn = new Set(piece.recipe.parts.map((p) => p.material));
  const materials = (useMeta().data?.materials ?? [])
    .filter((m) => worn.has(m.key as MaterialKey) || m.key === material);
  const own = ink.materials.findLast((m) => m.material === material);
  const rule: Rule = own ?? ink;
  const others = ink.materials.filter((m) => m.material !== material);
  const changed = (more: Partial<Rule>): Partial<Inking> => material === null ? more : { materials: [...others,
    { material, darkness: rule.darkness, saturation: rule.saturation, light: rule.light, ...more }] };
  const rail = (name: keyof Rule) => ({ value: rule[name],
    onShow: (v: number) => onShow(changed({ [name]: v })), onMake: (v: number) => onMake(changed({ [name]: v })) });
  return (
    <>
      <Line label="Lines of">
        <span style={{ display: "flex", gap: 8 }}>
          <Select value={material ?? ""} displayEmpty sx={{ flex: 1 }}
            inputProps={{ "aria-label": "Lines of which material" }}
            onChange={(e) => setMaterial((e.target.value || null) as MaterialKey | null)}>
            <MenuItem value="">all materials</MenuItem>
            {materials.map((m) => <MenuItem key={m.key} value={m.key}>{m.label}{ink.materials.some((o) =>
              o.material === m.key) ? ", otherwise" : ""}</MenuItem>)}
          </Select>
          {own && <Button color="inherit" onClick={() => onMake({ materials: others })}>As all</Button>}
        </span>
      </Line>
      <Rail label="Value" {...rail("darkness")} min={2} max={70} says={(v) => `L* ${Math.round(v)}`} />
      <Rail label="Chroma" {...rail("saturation")} min={0} max={2} step={0.05} says={(v) => `× ${v.toFixed(2)}`} />
      <Rail label="By light" {...rail("light")} min={0} max={1} step={0.01} says={perCent} />
    </>
  );
}
