import Box from "@mui/material/Box";
import type { Neighbours, Part } from "../../api/client";

const MOST = 6;

/** Brackets beside the rows that join parts which touch and are too alike. */
export function Alike({ parts, neighbours, width, row }: { parts: Part[]; neighbours: Neighbours[]; width: number;
  row: number }) {
  const at = (id: string) => parts.findIndex((p) => p.id === id);
  const pairs = neighbours.slice(0,
    MOST).map((n) => ({ n, ends: n.parts.map(at).sort((a, b) => a - b) })).filter(({ ends }) => (ends[0] ?? -1) >= 0);
  const lanes: number[] = [];
  const placed = [...pairs].sort((a, b) => span(a.ends) - span(b.ends)).map(({ n, ends: [from = 0, to = 0] }) => {
    let lane = 0;
    const taken = placedLanes(lanes, from, to);
    while (taken.has(lane)) lane += 1;
    lanes.push(from, to, lane);
    return { n, from, to, lane };
  });
  return (
    <Box component="svg" aria-hidden width={width} height={parts.length * row}
      sx={{ position: "absolute", left: 0, top: 0, color: "text.primary", overflow: "visible" }}>
      {placed.map(({ n, from, to, lane }) => {
        const [x, y0, y1] = [width - 5 - 5 * lane, from * row + row / 2 - 3, to * row + row / 2 - 3];
        return (
          <g key={n.parts.join()} stroke="currentColor" fill="none" strokeWidth={n.mark === "colours alike" ? 2 : 1}>
            <path d={`M${width} ${y0}H${x}V${y1}H${width}`} />
            <path d={`M${x - 3} ${(y0 + y1) / 2 - 2}h6m-6 4h6`} strokeWidth={1.5} />
            <title>{n.mark}</title>
          </g>
        );
      })}
    </Box>
  );
}

const span = (ends: number[]) => (ends[1] ?? 0) - (ends[0] ?? 0);

function placedLanes(lanes: number[], from: number, to: number): Set<number> {
  const taken = new Set<number>();
  for (let i = 0; i < lanes.length; i += 3) {
    const [a = 0, b = 0, lane = 0] = lanes.slice(i, i + 3);
    if (a <= to && b >= from) taken.add(lane);
  }
  return taken;
}

/** The same in words. */
export function AlikeInWords({ parts, neighbours }: { parts: Part[]; neighbours: Neighbours[] }) {
  const name = (id: string | undefined) => parts.find((p) => p.id === id)?.name ?? "";
  if (neighbours.length === 0) return null;
  return (
    <Box component="ul" aria-label="Neighbours that are too alike"
      sx={{ m: 0, p: 0, listStyle: "none", fontSize: 13, color: "text.secondary" }}>
      {neighbours.slice(0, MOST).map((n) => (
        <li key={n.parts.join()}>
          <span aria-hidden>= </span><b>{name(n.parts[0])}</b> and <b>{name(n.parts[1])}</b>: {n.mark},{" "}
          {n.mark === "colours alike" ? `${n.step.toFixed(1)} ΔE apart`
            : `L* ${Math.abs(n.lightness).toFixed(1)} apart`} along {Math.round(100 * n.share)} % of the shorter border
        </li>
      ))}
      {neighbours.length > MOST && <li>and {neighbours.length - MOST} less important</li>}
    </Box>
  );
}
