import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Piece } from "../../api/client";
import { useEvents } from "../../api/events";
import { remarksOf, type Standing } from "../../api/review";
import { ABOUT, deliveriesOf, roundsOf, useSince, type About } from "../../api/rounds";
import { useClock } from "../../api/time";
import { PictureView } from "../../picture/PictureView";
import { Workplace } from "../../shell/Workplace";
import { Figure } from "../../theme/Figure";
import { Seam } from "../../theme/Seam";
import { Choice } from "../../ui/Choice";
import type { SideProps } from "../StepProps";

const FILES = 8;
const MB = 2 ** 20;
const ABOUTS = (Object.keys(ABOUT) as About[]).map((value) => ({ value, label: ABOUT[value] }));

/** What was sent to whom, what they said, and what has changed since; none of it is undone with the picture. */
export function Rounds({ piece, tabs }: SideProps) {
  const { events = [], note } = useEvents(piece.id);
  const clock = useClock(piece.id).data;
  const done = clock?.state === "done";
  const rounds = roundsOf(events);
  return (
    <Workplace title="Rounds" lead="What is said here stays on record: undo does not reach it."
      picture={<PictureView piece={piece} kind="picture" />}>
      {tabs}
      <Box sx={{ display: "flex", alignItems: "center", gap: 1 }}>
        <Typography variant="h3" component="p" role="status" sx={{ flex: 1 }}>{clock ? capital(clock.state)
          : "…"}{clock && clock.plan.rounds > 0 ? <>, round <Figure>{Math.max(1, rounds.filter((r) => r.event.kind
            === "sent").length)}</Figure> of <Figure>{clock.plan.rounds}</Figure></> : null}</Typography>
        <Button variant="outlined" onClick={() => void note({ kind: "completion", done: !done })}>{done
          ? "Take it up again" : "It is done"}</Button>
      </Box>
      <Seam />
      <Send piece={piece} events={events} note={note} to={clock?.plan.occasion ?? ""} />
      <Seam />
      <Verdict piece={piece} remarks={remarksOf(events)} note={note} />
      <Seam />
      <Typography variant="h3" component="h2">So far</Typography>
      {rounds.length === 0 && <Typography variant="body2">Nothing was sent yet. Deliver a file, then note to whom it
        went.</Typography>}
      <Box component="ol" aria-label="Rounds so far" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {rounds.map((round) => <Line key={round.number} piece={piece} round={round} />)}
      </Box>
    </Workplace>
  );
}

type Note = ReturnType<typeof useEvents>["note"];

function Send({ piece, events, note, to: usual }: { piece: Piece; events: Parameters<typeof deliveriesOf>[0];
  note: Note; to: string }) {
  const files = deliveriesOf(events).slice(0, FILES);
  const [chosen, setChosen] = useState<number[]>([]);
  const [typed, setTyped] = useState<string | null>(null);
  const [text, setText] = useState("");
  const to = typed ?? usual;
  const send = async () => {
    if (!await note({ kind: "sent", to: to.trim(), files: chosen, text: text.trim(), changes: piece.changes })) return;
    setChosen([]);
    setText("");
  };
  return (
    <Box component="form" aria-label="What was sent" onSubmit={(e: React.FormEvent) => { e.preventDefault();
      if (to.trim()) void send(); }}>
      <Typography variant="h3" component="h2">Sent</Typography>
      {files.length === 0 && <Typography variant="body2">No file was delivered yet; those that are show up
        here.</Typography>}
      {files.map((f) => (
        <Box component="label" key={f.number} sx={{ display: "flex", alignItems: "center", minHeight: 36,
          cursor: "pointer" }}>
          <Checkbox size="small" sx={{ ml: -1 }} checked={chosen.includes(f.number)} onChange={(_, on) =>
            setChosen((c) => on ? [...c, f.number] : c.filter((n) => n !== f.number))} />
          <Typography noWrap sx={{ flex: 1 }}>{f.name}</Typography>
          <Typography variant="body2"><Figure size={12}>{f.size < MB ? `${Math.ceil(f.size / 1024)} KB`
            : `${(f.size / MB).toFixed(1)} MB`}</Figure>, {f.at.slice(0, 10)}</Typography>
        </Box>
      ))}
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr auto", gap: 1, mt: 1 }}>
        <TextField label="To whom" value={to} onChange={(e) => setTyped(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 120 } }} />
        <TextField label="With what word" value={text} onChange={(e) => setText(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 2000 } }} />
        <Button type="submit" variant="outlined" disabled={!to.trim()}>It went out</Button>
      </Box>
    </Box>
  );
}

function Verdict({ piece, remarks, note }: { piece: Piece; remarks: Standing[]; note: Note }) {
  const [about, setAbout] = useState<About>("colours");
  const [look, setLook] = useState("piece");
  const [drawing, setDrawing] = useState(0);
  const [remark, setRemark] = useState(0);
  const [by, setBy] = useState("");
  const [text, setText] = useState("");
  const { looks = [], source, other_drawings: others = [] } = piece.recipe;
  const say = async (verdict: "approved" | "changes wanted") => {
    if (await note({ kind: "verdict", verdict, about, look, drawing: drawing || null, remark: remark || null,
      by: by.trim(), text: text.trim(), changes: piece.changes })) setText("");
  };
  return (
    <Box component="section" aria-label="What they said" sx={{ display: "grid", gap: 1 }}>
      <Typography variant="h3" component="h2">What they said of</Typography>
      <Choice label="What it is about" wide value={about} options={ABOUTS} onChange={setAbout} />
      {(looks.length > 0 || others.length > 0 || remarks.length > 0) && (
        <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1 }}>
          {looks.length > 0 && <TextField select label="Look" value={look} onChange={(e) => setLook(e.target.value)}>
            <MenuItem value="piece">The piece</MenuItem>
            {looks.map((k) => <MenuItem key={k.id} value={k.id}>{k.name}</MenuItem>)}
          </TextField>}
          {others.length > 0 && <TextField select label="Drawing" value={drawing}
            onChange={(e) => setDrawing(Number(e.target.value))}>
            <MenuItem value={0}>The one in use</MenuItem>
            {[source, ...others].map((d) => <MenuItem key={d.number} value={d.number}>Version {d.number}</MenuItem>)}
          </TextField>}
          {remarks.length > 0 && <TextField select label="Place" value={remark}
            onChange={(e) => setRemark(Number(e.target.value))}>
            <MenuItem value={0}>All over</MenuItem>
            {remarks.map((r, k) => <MenuItem key={r.number} value={r.number}>Remark {k + 1}: {r.text
              || r.wish}</MenuItem>)}
          </TextField>}
        </Box>
      )}
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 2fr", gap: 1 }}>
        <TextField label="Who" value={by} onChange={(e) => setBy(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 80 } }} />
        <TextField label="In their words" value={text} onChange={(e) => setText(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 2000 } }} />
      </Box>
      <Box sx={{ display: "flex", gap: 1 }}>
        <Button variant="outlined" onClick={() => void say("approved")}>They approve</Button>
        <Button variant="outlined" onClick={() => void say("changes wanted")}>They want changes</Button>
      </Box>
    </Box>
  );
}

function Line({ piece, round: { number, at, event } }: { piece: Piece; round: ReturnType<typeof roundsOf>[number] }) {
  const words = event.kind === "sent" ? `Sent to ${event.to}${event.files?.length ? `, ${event.files.length} ${
    event.files.length === 1 ? "file" : "files"}` : ""}` : event.kind === "completion" ? (event.done ? "Done"
      : "Taken up again") : `${ABOUT[event.about ?? "all"]}: ${event.verdict}${event.by ? ` by ${event.by}` : ""}`;
  const of = event.kind !== "verdict" ? "" : [event.look !== "piece" && (piece.recipe.looks?.find((k) => k.id
    === event.look)?.name ?? "a look that is gone"), event.drawing && `drawing, version ${event.drawing}`,
    event.remark && "at one remark"].filter(Boolean).join(", ");
  return (
    <Box component="li" data-testid="round" sx={{ borderTop: 1, borderColor: "divider", py: 0.75 }}>
      <Box sx={{ display: "flex", gap: 1, alignItems: "baseline" }}>
        <Typography sx={{ flex: 1, fontWeight: 600 }}>{words}</Typography>
        <Figure size={12}>{at.slice(0, 10)}</Figure>
      </Box>
      {of && <Typography variant="body2">{capital(of)}</Typography>}
      {event.kind !== "completion" && event.text && <Typography variant="body2">{event.text}</Typography>}
      {event.kind === "verdict" && event.shown && <SinceThen piece={piece} verdict={number} />}
    </Box>
  );
}

function SinceThen({ piece, verdict }: { piece: Piece; verdict: number }) {
  const { data: changes } = useSince(piece, verdict);
  if (!changes) return null;
  if (changes.length === 0) return <Typography variant="body2">Nothing has changed since.</Typography>;
  return (
    <Box component="ul" aria-label="Changed since" sx={{ listStyle: "none", m: 0, mt: 0.5, p: 0 }}>
      {changes.map((c) => (
        <Box component="li" key={`${c.what} ${c.words}`} sx={{ display: "flex", alignItems: "center", gap: 1,
          minHeight: 24 }}>
          <Box aria-hidden sx={{ display: "flex", width: 40, flexShrink: 0 }}>
            {[c.before, c.after].map((colour, k) => colour && <Box key={k} sx={{ width: 18, height: 18, bgcolor: colour,
              border: 1, borderColor: "divider" }} />)}
          </Box>
          <Typography variant="body2"><b>{c.what}</b> {c.words}</Typography>
        </Box>
      ))}
    </Box>
  );
}

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
