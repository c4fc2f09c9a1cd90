import ListSubheader from "@mui/material/ListSubheader";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import type { MaterialKey, Part } from "../../api/client";
import { useMeta } from "../../api/pieces";

type PlaneKey = NonNullable<Part["scenery"]>;
const SCENERY = "scenery:";

/** What a part is, as one choice: its material, or the plane of scenery on which it lies. */
export const kindOf = (part: Part): string => (part.scenery ? SCENERY + part.scenery : (part.material ?? ""));

/** What an edit says of it; what is of the figure is no scenery. */
export function kindEdit(kind: string): { material?: MaterialKey; scenery?: PlaneKey } {
  return kind.startsWith(SCENERY) ? { scenery: kind.slice(SCENERY.length) as PlaneKey }
    : { material: kind as MaterialKey };
}

export function PartKind({ label, value, onChange }: { label: string; value: string;
  onChange: (kind: string) => void }) {
  const meta = useMeta().data;
  const said: Record<string, string> = Object.fromEntries([
    ...(meta?.materials ?? []).map((m) => [m.key, m.label]),
    ...Object.entries(meta?.planes ?? {}).map(([key, plane]) => [SCENERY + key, `${plane} (scenery)`])]);
  return (
    <Select value={value} aria-label={label} onChange={(e) => onChange(e.target.value)}
      renderValue={(kind) => said[kind] ?? kind}>
      <ListSubheader>Part of the figure</ListSubheader>
      {(meta?.materials ?? []).map((m) => <MenuItem key={m.key} value={m.key}>{m.label}</MenuItem>)}
      <ListSubheader>Scenery around it</ListSubheader>
      {Object.entries(meta?.planes ?? {}).map(([key, plane]) => <MenuItem key={key} value={SCENERY + key}>
        {plane}</MenuItem>)}
    </Select>
  );
}
