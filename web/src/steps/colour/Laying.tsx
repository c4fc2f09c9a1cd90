import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import type { PassKey, Piece, Schemas, SheetColumn } from "../../api/client";
import { useMeta } from "../../api/pieces";
import { ModesOnPicture } from "../../modes/ModesOnPicture";
import { perCent, Rail } from "../../ui/Rail";
import type { Live } from "./live";

type Passes = Schemas["Passes"];

/** The passes with one thing said of a pass, or no longer. */
export function saying<K extends "modes" | "softness">(passes: Passes, what: K, name: string,
  value: NonNullable<Passes[K]>[string] | null): Passes {
  const rest = Object.fromEntries(Object.entries(passes[what] ?? {}).filter(([key]) => key !== name));
  return { ...passes, [what]: value === null ? rest : { ...rest, [name]: value } };
}

/** How a pass is laid on: its blend mode, and how soft its edges are. */
export function Laying({ piece, column, live, comparing, onCompare }: { piece: Piece; column: SheetColumn; live: Live;
  comparing: boolean; onCompare: (open: boolean) => void }) {
  const meta = useMeta().data;
  const { passes } = piece.recipe;
  const name = column.name as PassKey;
  if (!meta || !(name in meta.passes)) return null;
  const own = passes.modes?.[name];
  const lay = (mode: string) => void live.make({ kind: "set_passes", passes: saying(passes, "modes", name,
    mode as NonNullable<Passes["modes"]>[string]) });
  const soft = (value: number) => ({ kind: "set_passes" as const, passes: saying(passes, "softness", name,
    value > 0 ? value : null) });
  return (
    <>
      <Box sx={{ display: "grid", gridTemplateColumns: "80px 1fr auto", alignItems: "center", columnGap: 2,
        minHeight: 42 }}>
        <span>Mode</span>
        <Select value={column.mode} inputProps={{ "aria-label": `Mode of ${column.label}` }}
          onChange={(e) => lay(e.target.value)}>
          {meta.modes.map((mode) => <MenuItem key={mode} value={mode}>{mode}</MenuItem>)}
        </Select>
        <Button variant="outlined" size="small" aria-expanded={comparing}
          onClick={() => onCompare(!comparing)}>Compare</Button>
      </Box>
      {own && <Button size="small" color="inherit" sx={{ ml: "88px" }} onClick={() => void live.make({
        kind: "set_passes", passes: saying(passes, "modes", name, null) })}>As usual</Button>}
      {comparing && <ModesOnPicture piece={piece} name={name} mode={column.mode} onChoose={lay} />}
      <Rail label="Soft edge" value={passes.softness?.[name] ?? 0} min={0} max={1} step={0.01} says={perCent}
        onShow={(v) => live.show(soft(v))} onMake={(v) => void live.make(soft(v))} />
    </>
  );
}
