import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Piece, Step } from "../api/client";
import { useSittings, type SittingLine } from "../api/time";
import { STEPS } from "../shell/steps";
import { Figure } from "../theme/Figure";
import { told } from "./words";

const SHOWN = 40;
const KINDS: Record<SittingLine["kind"], string> = { work: "counted", look: "looking", "by hand": "by hand",
  correction: "corrected" };

/** The stretches of time of a piece: each can be corrected, and time from elsewhere entered. */
export function Sittings({ piece, step }: { piece: Piece; step: Step }) {
  const { sittings, add, correct } = useSittings(piece.id);
  const [here, setHere] = useState<number | null>(null);
  return (
    <>
      <ByHand step={step} onAdd={add} />
      <Typography variant="h3" component="h2" sx={{ mt: 2 }}>Sittings</Typography>
      {sittings?.length === 0 && <Typography variant="body2">None yet: the clock runs as soon as you work.</Typography>}
      <Box component="ol" aria-label="Sittings" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {sittings?.slice(0, SHOWN).map((s) => (
          <Box component="li" key={s.id} sx={{ borderTop: 1, borderColor: "divider", py: 0.25 }}>
            <Box sx={{ display: "grid", gridTemplateColumns: "112px 1fr auto auto", columnGap: 1, alignItems: "center",
              minHeight: 36 }}>
              <Figure size={12}>{at(s.began)}</Figure>
              <Box sx={{ minWidth: 0 }}>
                <Typography noWrap>{STEPS.find((e) => e.key === s.step)?.label ?? s.step}</Typography>
                <Typography variant="body2" noWrap sx={{ fontSize: 12 }}>{[KINDS[s.kind], Math.abs(s.minutes
                  - s.counted) > 0.01 && `counted ${told(s.counted)}`, s.note].filter(Boolean).join(", ")}</Typography>
              </Box>
              <Figure>{told(s.minutes)}</Figure>
              <Button size="small" color="inherit" aria-expanded={here === s.id}
                onClick={() => setHere(here === s.id ? null : s.id)}>Correct</Button>
            </Box>
            {here === s.id && <Correct sitting={s} onSay={async (minutes, note) => {
              if (await correct(s.id, minutes, note)) setHere(null);
            }} />}
          </Box>
        ))}
      </Box>
      {(sittings?.length ?? 0) > SHOWN && <Typography variant="body2">Earlier ones are in the log.</Typography>}
    </>
  );
}

function ByHand({ step, onAdd }: { step: Step; onAdd: (step: Step, minutes: number, note: string) => Promise<boolean>
}) {
  const [of, setOf] = useState<Step>(step);
  const [minutes, setMinutes] = useState("");
  const [note, setNote] = useState("");
  const good = Number(minutes) > 0 && Number(minutes) <= 1440;
  const add = async () => {
    if (good && await onAdd(of, Number(minutes), note.trim())) { setMinutes(""); setNote(""); }
  };
  return (
    <Box component="form" aria-label="Time by hand" onSubmit={(e: React.FormEvent) => { e.preventDefault();
      void add(); }} sx={{ display: "grid", gridTemplateColumns: "96px 84px 1fr auto", gap: 1 }}>
      <TextField select label="Step" value={of} onChange={(e) => setOf(e.target.value as Step)}>
        {STEPS.map((s) => <MenuItem key={s.key} value={s.key}>{s.label}</MenuItem>)}
      </TextField>
      <TextField label="Minutes" value={minutes} onChange={(e) => setMinutes(e.target.value)}
        slotProps={{ htmlInput: { inputMode: "decimal" } }} />
      <TextField label="Where, what" value={note} onChange={(e) => setNote(e.target.value)}
        slotProps={{ htmlInput: { maxLength: 200 } }} />
      <Button type="submit" variant="outlined" disabled={!good}>Enter</Button>
    </Box>
  );
}

function Correct({ sitting, onSay }: { sitting: SittingLine; onSay: (minutes: number, note: string) => unknown }) {
  const [minutes, setMinutes] = useState(String(Math.round(sitting.minutes * 10) / 10));
  const [note, setNote] = useState("");
  const good = minutes.trim() !== "" && Number(minutes) >= 0 && Number(minutes) <= 1440;
  return (
    <Box component="form" aria-label="Correction" onSubmit={(e: React.FormEvent) => { e.preventDefault();
      if (good) onSay(Number(minutes), note.trim()); }}
      sx={{ display: "grid", gridTemplateColumns: "100px 1fr auto", gap: 1, py: 1 }}>
      <TextField autoFocus label="Really, min" value={minutes} onChange={(e) => setMinutes(e.target.value)}
        slotProps={{ htmlInput: { inputMode: "decimal" } }} />
      <TextField label="Why" value={note} onChange={(e) => setNote(e.target.value)}
        slotProps={{ htmlInput: { maxLength: 200 } }} />
      <Button type="submit" variant="outlined" disabled={!good}>Say so</Button>
    </Box>
  );
}

function at(iso: string): string {
  const day = new Date(iso);
  const two = (n: number) => String(n).padStart(2, "0");
  return `${two(day.getMonth() + 1)}-${two(day.getDate())} ${two(day.getHours())}:${two(day.getMinutes())}`;
}
