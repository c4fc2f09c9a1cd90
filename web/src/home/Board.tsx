import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useEffect, useLayoutEffect, useMemo, useRef, useState, type RefObject } from "react";
import type { PieceCard } from "../api/client";
import { useToday } from "../api/time";
import { useWishes } from "../clock/state";
import { told } from "../clock/words";
import { Figure } from "../theme/Figure";
import { useSize } from "../ui/useSize";
import { found, grouped, rowsOf, STATES, type Order, type State, type Wish } from "./board";
import { keepFirstSeen } from "./firstSeen";
import { Many } from "./Many";
import { PieceTile } from "./PieceTile";

const [WIDEST, SIDE] = [1640, 32]; // px
const [GAP, LEAST, FOOT, HEAD] = [24, 240, 75, 44]; // px
const SETTLED = 2000; // ms
const ORDERS: Record<Order, string> = { next: "What is next", state: "By state", date: "By date",
  change: "Latest change" };
const NO_DAY = { today: "", order: [], fits: [] };
const ALL: Wish = { text: "", only: null, tag: null };

/** All pieces: searched, filtered, in an order; as many of them as are seen are drawn. */
export function Board({ pieces, scroller }: { pieces: readonly PieceCard[]; scroller: RefObject<HTMLElement | null> }) {
  const [wish, setWish] = useState<Wish>(ALL);
  const [order, setOrder] = useState<Order>(() => (localStorage.getItem("wardrobe-order") as Order | null) ?? "next");
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const minutes = useWishes((s) => s.day);
  const { data: day } = useToday(minutes);
  const shown = useMemo(() => found(pieces, wish), [pieces, wish]);
  const groups = useMemo(() => (day || order !== "next" ? grouped(shown, order, day ?? NO_DAY) : []),
    [shown, order, day]);
  const choose = (id: number, on: boolean) => setChosen((c) => {
    const next = new Set(c);
    if (on) next.add(id);
    else next.delete(id);
    return next;
  });
  const there = shown.filter((p) => chosen.has(p.id)); // what is not seen is not touched
  return (
    <Box component="section" aria-label="Pieces" sx={{ px: `${SIDE}px`, pt: 2, pb: 4, maxWidth: WIDEST, mx: "auto" }}>
      <Filters pieces={pieces} wish={wish} onWish={setWish} order={order}
        onOrder={(o) => { setOrder(o); localStorage.setItem("wardrobe-order", o); }} />
      {order === "next" && day && <Today minutes={minutes} taken={day.minutes} late={day.late.length} />}
      {there.length > 0 && <Many pieces={there} all={shown} onAll={() => setChosen(new Set(shown.map((p) => p.id)))}
        onNone={() => setChosen(new Set())} />}
      {shown.length === 0 && (
        <Box sx={{ py: 6, textAlign: "center" }}>
          <Typography variant="body1" sx={{ mb: 1 }}>No piece is like that.</Typography>
          <Button variant="outlined" onClick={() => setWish(ALL)}>Show all</Button>
        </Box>
      )}
      <Tiles groups={groups} scroller={scroller} today={day?.today ?? ""} chosen={chosen} onChoose={choose} />
    </Box>
  );
}

function Tiles({ groups, scroller, today, chosen, onChoose }: { groups: ReturnType<typeof grouped>;
  scroller: RefObject<HTMLElement | null>; today: string; chosen: ReadonlySet<number>;
  onChoose: (id: number, on: boolean) => void }) {
  const list = useRef<HTMLDivElement>(null);
  // As wide as the window lets it be until it is measured, so that pictures are asked for at once.
  const width = useSize(list).width || Math.min(WIDEST, window.innerWidth) - 2 * SIDE;
  const columns = Math.max(1, Math.floor((width + GAP) / (LEAST + GAP)));
  const tile = (width - (columns - 1) * GAP) / columns;
  const rows = useMemo(() => rowsOf(groups, columns), [groups, columns]);
  const [top, setTop] = useState(0);
  useLayoutEffect(() => { setTop(list.current?.offsetTop ?? 0); }, [rows, chosen.size, width]);
  const height = (k: number) => (rows[k]?.kind === "head" ? HEAD : tile * 1.25 + FOOT + GAP);
  // eslint-disable-next-line react-hooks/incompatible-library -- its functions are not handed on
  const virtual = useVirtualizer({ count: rows.length, getScrollElement: () => scroller.current,
    estimateSize: height, overscan: 1, scrollMargin: top,
    initialRect: { width: window.innerWidth, height: window.innerHeight } });
  useEffect(() => virtual.measure(), [virtual, columns, tile, rows]);
  useEffect(() => {
    const later = setTimeout(() => {
      if (list.current && !scroller.current?.scrollTop) keepFirstSeen(list.current);
    }, SETTLED);
    return () => clearTimeout(later);
  }, [rows, tile, top, scroller]);
  return (
    <Box ref={list} sx={{ position: "relative", height: virtual.getTotalSize() }}>
      {virtual.getVirtualItems().map(({ index, start }) => {
        const row = rows[index];
        if (!row) return null;
        return (
          <Box key={index} sx={{ position: "absolute", left: 0, right: 0, top: start - top }}>
            {row.kind === "head" ? <Typography variant="h2" sx={{ pt: 1.25 }}>{row.head}{" "}
              <Figure size={15}>{row.count}</Figure></Typography> : (
              <Box sx={{ display: "grid", gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))`, gap: `${GAP}px` }}>
                {row.pieces.map((p) => <PieceTile key={p.id} piece={p} today={today} chosen={chosen.has(p.id)}
                  choosing={chosen.size > 0} onChoose={(on) => onChoose(p.id, on)} />)}
              </Box>
            )}
          </Box>
        );
      })}
    </Box>
  );
}

function Filters({ pieces, wish, onWish, order, onOrder }: { pieces: readonly PieceCard[]; wish: Wish;
  onWish: (wish: Wish) => void; order: Order; onOrder: (order: Order) => void }) {
  const open = pieces.filter((p) => !p.away);
  const tags = [...new Set(pieces.flatMap((p) => p.tags))].sort((a, b) => a.localeCompare(b));
  const away = pieces.length - open.length;
  return (
    <Box role="search" sx={{ display: "flex", flexWrap: "wrap", gap: 1.5, alignItems: "center" }}>
      <TextField type="search" label="Find" placeholder="title, character, tag, for whom" value={wish.text}
        onChange={(e) => onWish({ ...wish, text: e.target.value })} sx={{ width: 270 }}
        slotProps={{ inputLabel: { shrink: true } }} />
      <TextField select label="State" value={wish.only ?? ""} sx={{ width: 190 }}
        onChange={(e) => onWish({ ...wish, only: (e.target.value || null) as Wish["only"] })}
        slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}>
        <MenuItem value="">Any <Count of={open.length} /></MenuItem>
        {(Object.keys(STATES) as State[]).map((s) => [s, open.filter((p) => p.state === s).length] as const)
          .filter(([s, n]) => n || wish.only === s).map(([s, n]) => <MenuItem key={s} value={s}>{STATES[s]} <Count
            of={n} /></MenuItem>)}
        {(away > 0 || wish.only === "away") && <MenuItem value="away">Put away <Count of={away} /></MenuItem>}
      </TextField>
      {(tags.length > 0 || wish.tag) && <TextField select label="Tag" value={wish.tag ?? ""} sx={{ width: 150 }}
        onChange={(e) => onWish({ ...wish, tag: e.target.value || null })}
        slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}>
        <MenuItem value="">Any</MenuItem>
        {tags.map((t) => <MenuItem key={t} value={t}>{t}</MenuItem>)}
      </TextField>}
      <Box sx={{ flex: 1 }} />
      <TextField select label="Order" value={order} onChange={(e) => onOrder(e.target.value as Order)}
        sx={{ width: 170 }}>
        {(Object.keys(ORDERS) as Order[]).map((o) => <MenuItem key={o} value={o}>{ORDERS[o]}</MenuItem>)}
      </TextField>
    </Box>
  );
}

const Count = ({ of }: { of: number }) => <Box component="span" sx={{ ml: 0.75, color: "text.secondary" }}><Figure
  size={12}>{of}</Figure></Box>;

/** How much time there is today, and what it is enough for. */
function Today({ minutes, taken, late }: { minutes: number; taken: number; late: number }) {
  const hours = [60, 120, 180, 240, 300, 360, 480, 600];
  return (
    <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, mt: 1.5 }}>
      <TextField select label="Time for work a day" value={minutes} sx={{ width: 150 }}
        onChange={(e) => useWishes.setState({ day: Number(e.target.value) })}>
        {[...new Set([...hours, minutes])].sort((a, b) => a - b).map((m) => <MenuItem key={m} value={m}>{told(
          m)}</MenuItem>)}
      </TextField>
      <Typography variant="body1" role="status">What fits takes <Figure>{told(taken)}</Figure>.{late > 0 && <>
        {" "}<Box component="b" sx={{ color: "primary.main" }}>{late} {late === 1 ? "piece" : "pieces"} cannot be done
          in time</Box> at this pace.</>}</Typography>
    </Box>
  );
}
