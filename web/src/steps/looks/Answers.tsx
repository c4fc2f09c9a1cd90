import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { answersOf, useEvents } from "../../api/events";
import type { Wearing } from "./LooksStep";

const today = () => {
  const now = new Date();
  return [now.getFullYear(), now.getMonth() + 1, now.getDate()].map((n) => String(n).padStart(2, "0")).join("-");
};

/** What came back from whoever chooses: kept for ever, whatever is undone. */
export function Answers({ wearing }: { wearing: Wearing }) {
  const { piece, report, chosen } = wearing;
  const { events, note } = useEvents(piece.id);
  const [remarks, setRemarks] = useState("");
  const [date, setDate] = useState(today);
  const name = report?.looks.find((l) => l.id === chosen)?.name ?? "The piece";
  const record = async (look: string | null) => {
    if (await note({ kind: "answer", look, name: "", remarks: remarks.trim(), date })) setRemarks("");
  };
  return (
    <Box>
      <Typography variant="h3" component="h2">What came back</Typography>
      <Typography variant="body2">Answers stay as they are, whatever you undo.</Typography>
      <Box component="ul" aria-label="Answers" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {answersOf(events ?? []).map((a) => (
          <Box component="li" key={a.number}
            sx={{ display: "grid", gridTemplateColumns: "1fr auto", alignItems: "center", minHeight: 40,
              borderTop: 1, borderColor: "divider" }}>
            <Box sx={{ minWidth: 0, py: 0.5, overflowWrap: "anywhere",
              ...(!a.counts && { color: "text.secondary", textDecoration: "line-through" }) }}>
              {a.date}: <b>{a.name || "none of them"}</b>
              {a.remarks && <Typography variant="body2">{a.remarks}</Typography>}
            </Box>
            {a.counts ? (
              <Button color="inherit" sx={{ color: "text.secondary" }}
                aria-label={`Withdraw the answer of ${a.date}, ${a.name || "none of them"}`}
                onClick={() => void note({ kind: "withdrawal", answer: a.number })}>Withdraw</Button>
            ) : <Typography variant="body2">withdrawn</Typography>}
          </Box>
        ))}
      </Box>
      <TextField fullWidth multiline minRows={2} label={`Remarks on “${name}”`} value={remarks}
        onChange={(e) => setRemarks(e.target.value)} sx={{ mt: 1 }} slotProps={{ htmlInput: { maxLength: 2000 } }} />
      <TextField type="date" label="Date" value={date} onChange={(e) => setDate(e.target.value)} sx={{ mt: 1 }}
        slotProps={{ inputLabel: { shrink: true } }} />
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, mt: 1 }}>
        <Button variant="outlined" disabled={!date} onClick={() => void record(chosen)}>This look was chosen</Button>
        <Button variant="outlined" disabled={!date} onClick={() => void record(null)}>None of them</Button>
      </Box>
    </Box>
  );
}
