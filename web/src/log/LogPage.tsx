import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { Link } from "react-router";
import { useCharacters } from "../api/characters";
import { piecesQuery } from "../api/pieces";
import { asQuery, type LogWish } from "../api/time";
import { Choice } from "../ui/Choice";
import { FiguresSide } from "./FiguresSide";
import { LogLines } from "./LogLines";

type Side = "log" | "figures";
const SIDES: { value: Side; label: string }[] = [{ value: "log", label: "Log" },
  { value: "figures", label: "Figures" }];
const SAVED = [["Log, CSV", "log/file", "csv"], ["Log, JSON", "log/file", "json"], ["Time sheet, PDF", "timesheet",
  "pdf"], ["Time sheet, CSV", "timesheet", "csv"], ["Dates, iCalendar", "calendar.ics", ""]] as const;

/** What was done on all pieces, and what it comes to. */
export function LogPage() {
  const [side, setSide] = useState<Side>("log");
  const [wish, setWish] = useState<LogWish>({ piece: null, character: null, month: null, text: "" });
  const shown = useDeferredValue(wish);
  const query = new URLSearchParams(Object.entries(asQuery(shown)).map(([k, v]) => [k, String(v)]));
  const file = (path: string, form: string) => `/api/${path}?${new URLSearchParams([...query, ["form", form]])}`;
  return (
    <Box sx={{ height: "100%", display: "flex", flexDirection: "column" }}>
      <title>Log · Wardrobe</title>
      <Box component="header" sx={{ display: "flex", alignItems: "center", gap: 2, px: 4, height: 72, flexShrink: 0,
        bgcolor: "background.paper", borderBottom: 1, borderColor: "divider" }}>
        <Button component={Link} to="/" color="inherit" sx={{ ml: -1 }}>All pieces</Button>
        <Typography variant="h1" sx={{ flex: 1 }}>Log and figures</Typography>
        <Box role="group" aria-label="Save" sx={{ display: "flex" }}>
          {SAVED.map(([name, path, form]) => (
            <Button key={name} component="a" download color="inherit" sx={{ px: 1, minWidth: 0 }}
              href={form ? file(path, form) : `/api/${path}`}>{name}</Button>
          ))}
        </Box>
        <Choice label="What to look at" value={side} options={SIDES} onChange={setSide} />
      </Box>
      <Box role="search" sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", gap: 1.5, px: 4, py: 2,
        maxWidth: 1280, width: "100%", mx: "auto" }}>
        <Wishes wish={wish} onWish={setWish} searched={side === "log"} />
      </Box>
      {side === "log" ? <LogLines wish={shown} /> : <FiguresSide wish={shown} />}
    </Box>
  );
}

function Wishes({ wish, onWish, searched }: { wish: LogWish; onWish: (wish: LogWish) => void; searched: boolean }) {
  const { data: pieces = [] } = useQuery(piecesQuery);
  const { data: characters = [] } = useCharacters();
  const shrink = { inputLabel: { shrink: true }, select: { displayEmpty: true } };
  const number = (text: string) => (text === "" ? null : Number(text));
  return (
    <>
      {searched && <TextField type="search" label="Find" placeholder="words, a piece" value={wish.text}
        onChange={(e) => onWish({ ...wish, text: e.target.value })} sx={{ width: 190 }}
        slotProps={{ inputLabel: { shrink: true }, htmlInput: { maxLength: 200 } }} />}
      <TextField select label="Piece" value={wish.piece ?? ""} slotProps={shrink} sx={{ width: 180 }}
        onChange={(e) => onWish({ ...wish, piece: number(e.target.value) })}>
        <MenuItem value="">All</MenuItem>
        {pieces.map((p) => <MenuItem key={p.id} value={p.id}>{p.title}</MenuItem>)}
      </TextField>
      {characters.length > 0 && <TextField select label="Character" value={wish.character ?? ""} slotProps={shrink}
        sx={{ width: 150 }} onChange={(e) => onWish({ ...wish, character: number(e.target.value) })}>
        <MenuItem value="">All</MenuItem>
        {characters.map((c) => <MenuItem key={c.id} value={c.id}>{c.name}</MenuItem>)}
      </TextField>}
      <TextField type="month" label="Month" value={wish.month ?? ""} slotProps={{ inputLabel: { shrink: true } }}
        onChange={(e) => onWish({ ...wish, month: e.target.value || null })} sx={{ width: 170 }} />
    </>
  );
}
