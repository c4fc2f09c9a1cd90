import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Edit, NudgeKey } from "../../api/client";
import { tell } from "../../api/notice";
import { useMeta } from "../../api/pieces";
import { Choice } from "../../ui/Choice";
import { Key } from "../../ui/Key";
import { useKeys } from "../../ui/useKeys";
import { Seam } from "../../theme/Seam";
import { useLiveEdit } from "../useLiveEdit";
import { NUDGE_KEYS } from "../nudges";
import { LOOKS } from "./keys";
import { LookHead } from "./LookHead";
import type { Wearing } from "./LooksStep";
import { PartOf, PartRow } from "./PartRow";

type Reach = "this" | "marked" | "all";

/** Colours of one look, part by part; a change goes to this look, to the marked ones, or to all. */
export function DressSide({ wearing, retired, onRetired }: { wearing: Wearing; retired: boolean;
  onRetired: (on: boolean) => void }) {
  const { piece, report, chosen, choose, marked, picked, pick } = wearing;
  const live = useLiveEdit(piece, `look:${chosen}`);
  const [reach, setReach] = useState<Reach>("this");
  const nudges = useMeta().data?.nudges ?? [];
  const looks = piece.recipe.looks ?? [];
  const line = report?.looks.find((l) => l.id === chosen);
  const look = looks.find((k) => k.id === chosen);
  const wearers = reach === "all" ? ["piece", ...looks.map((k) => k.id)] : reach === "marked"
    ? [...new Set([chosen, ...marked])] : [chosen];
  const { parts } = piece.recipe;
  const changed = new Set(line?.changed ?? []);
  const dress = (id: string, colour: string):
    Edit => ({ kind: "change_part", part: id, base: colour, targets: wearers });
  const here = picked.filter((id) => parts.some((p) => p.id === id));
  const nudge = (to: string) => here.length > 0
    && void live.make({ kind: "several",
      edits: here.map((part) => ({ kind: "nudge_colour" as const, part, name: "base" as const, to: to as NudgeKey,
        times: 1, targets: wearers })) });
  useKeys(here.length > 0 ? LOOKS.nudge : null, (key) => { const to = NUDGE_KEYS[key]; if (to) nudge(to); });
  const step = (by: number) => {
    const at = parts.findIndex((p) => p.id === here[0]);
    const next = parts[(at + by + parts.length) % parts.length];
    if (next && next.id !== here[0]) pick(next.id, false);
  };
  useKeys(LOOKS.before, () => step(-1));
  useKeys(LOOKS.after, () => step(1));
  const add = async () => {
    const after = await live.make({ kind: "add_look", name: freshName(looks.map((k) => k.name)), like: chosen });
    const made = after?.recipe.looks?.find((k) => !looks.some((old) => old.id === k.id));
    if (made) choose(made.id);
  };
  return (
    <>
      {look ? <LookHead key={look.id} wearing={wearing} look={look} live={live} /> : (
        <Typography variant="body2" sx={{ mb: 1 }}>The piece is the first look. What you change here,
          every other look follows, but for what it says itself.</Typography>
      )}
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
        <Button variant="contained" onClick={() => void add()}>{chosen === "piece" ? "New look" : "Duplicate"}</Button>
        {look && <Button variant="outlined"
          onClick={() => void live.make({ kind: "change_look", look: look.id,
            retired: !look.retired }).then((done) => done && !look.retired
              && tell("Retired: off the rail, but kept. Show retired looks to bring it back."))}>{look.retired
                ? "Bring back" : "Retire"}</Button>}
        {look && <Button color="inherit" sx={{ color: "text.secondary" }}
          onClick={() => void live.make({ kind: "remove_look", look: look.id }).then(() => choose("piece"))}>Throw
            away</Button>}
        {looks.some((k) => k.retired) && <FormControlLabel sx={{ ml: 0 }}
          control={<Checkbox size="small" checked={retired} onChange={(_, on) => onRetired(on)} />}
            label="Show retired" />}
      </Box>
      <Seam />
      <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, mb: 1 }}>
        <Typography variant="h3" component="h2">A change goes to</Typography>
        <Choice label="A change goes to" value={reach} onChange={setReach}
          options={[{ value: "this", label: "this look" }, { value: "marked", label: "marked", off: marked.size ===
            0 }, { value: "all", label: "all" }]} />
      </Box>
      {here.length > 0 && (
        <Box role="group" aria-label="Move the colour"
          sx={{ display: "grid", gridTemplateColumns: "repeat(3, 1fr)", gap: 0.75, mb: 1 }}>
          {nudges.map((to) => <Button key={to} variant="outlined" onClick={() => nudge(to)}>{to}<Key of={LOOKS.nudge}
            only={Object.keys(NUDGE_KEYS).find((key) => NUDGE_KEYS[key] === to)} /></Button>)}
        </Box>
      )}
      {look && here.length === 1 && <PartOf key={`${look.id}${here[0]}`} look={look}
        part={parts.find((p) => p.id === here[0])} make={live.make} />}
      {parts.length > 1 && <Typography variant="body2"
        sx={{ mb: 0.5 }}>{here.length > 1 ? `${here.length} parts move together.`
          : "Shift or Ctrl picks several parts, to move them together."}</Typography>}
      <Box component="ul" aria-label="Parts of the look" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {parts.map((p) => (
          <PartRow key={p.id} part={p} base={line?.bases[p.id] ?? p.base} chosen={here.includes(p.id)}
            differs={changed.has(p.id)} area={report?.areas[p.id] ?? 0} onChoose={(together) => pick(p.id, together)}
            onShow={(c) => live.show(dress(p.id, c))} onMake={(c) => void live.make(dress(p.id, c))}
              onCancel={live.drop} onBack={() => void
                live.make({ kind: "follow_piece", looks: wearers.filter((w) => w !== "piece"), what: ["base", "own"],
                  parts: [p.id] })} />
        ))}
      </Box>
      {parts.length === 0 && <Typography variant="body2">There are no parts yet: a figure is dressed part by
        part.</Typography>}
    </>
  );
}

function freshName(taken: string[]): string {
  for (let k = 2; ; k += 1) if (!taken.includes(`Look ${k}`)) return `Look ${k}`;
}
