import Box from "@mui/material/Box";
import { useRef, useState } from "react";
import type { PageSheet } from "../api/series";
import { useSize } from "../ui/useSize";
import { extent, inside, nearest, rectangle, type Place } from "./outline";

export type Hold = "corners" | "panel" | "balloon" | "away";
const REACH = 22; // px of the screen

/** The sheet with its panels and balloons drawn on it; corners are dragged, new ones drawn. */
export function Panels({ page, act, chosen, onChoose, onPanels, onAdd, onBalloon }: { page: PageSheet; act: Hold;
  chosen: number | null; onChoose: (k: number | null) => void; onPanels: (outlines: Place[][]) => void;
  onAdd: (outline: Place[]) => void; onBalloon: (k: number) => void }) {
  const { sheet } = page;
  const frame = useRef<HTMLDivElement>(null);
  const size = useSize(frame);
  const scale = Math.min((size.width - 32) / sheet.width, (size.height - 32) / sheet.height) || 0.1;
  const outlines = (sheet.panels ?? []).map((p) => p.outline as Place[]);
  const balloons = (sheet.balloons ?? []) as Place[][];
  const [held, setHeld] = useState<{ corner: [number, number] | null; from: Place; at: Place } | null>(null);
  const at = (e: React.PointerEvent): Place => {
    const box = e.currentTarget.getBoundingClientRect();
    return [(e.clientX - box.left) / scale, (e.clientY - box.top) / scale];
  };
  const shown = held?.corner ? outlines.map((o, k) => (k === held.corner?.[0] ? o.map((p, j) =>
    (j === held.corner?.[1] ? held.at : p)) : o)) : outlines;
  const drawn = held && !held.corner && (act === "panel" || act === "balloon")
    ? rectangle(held.from, held.at, sheet.width, sheet.height) : null;
  const down = (e: React.PointerEvent) => {
    if (e.button !== 0) return;
    const place = at(e);
    e.currentTarget.setPointerCapture(e.pointerId);
    if (act === "away") {
      const k = balloons.findIndex((b) => inside(b, place));
      if (k >= 0) onBalloon(k);
      return;
    }
    const corner = act === "corners" ? nearest(outlines, place, REACH / scale) : null;
    if (corner || act !== "corners") setHeld({ corner, from: place, at: place });
    else {
      const under = outlines.map((o, k) => [k, extent(o)] as const).filter(([k]) => inside(outlines[k] ?? [], place))
        .sort((a, b) => a[1] - b[1])[0];
      onChoose(under ? under[0] : null);
    }
  };
  const up = () => {
    if (!held) return;
    if (held.corner) onPanels(shown.map((o) => o.map(([x, y]): Place => [
      Math.round(Math.max(0, Math.min(sheet.width, x)) * 100) / 100,
      Math.round(Math.max(0, Math.min(sheet.height, y)) * 100) / 100])));
    else if (drawn && extent(drawn) > 8000) onAdd(act === "balloon" ? rounded(drawn) : drawn);
    setHeld(null);
  };
  return (
    <Box ref={frame} sx={{ flex: 1, minWidth: 0, bgcolor: "#8b8b8b", display: "grid", placeItems: "center",
      overflow: "hidden" }}>
      <Box onPointerDown={down} onPointerMove={(e) => { if (held) setHeld({ ...held, at: at(e) }); }} onPointerUp={up}
        onPointerCancel={() => setHeld(null)} data-testid="sheet" sx={{ position: "relative",
          width: sheet.width * scale, height: sheet.height * scale, touchAction: "none",
          cursor: act === "corners" ? "default" : "crosshair" }}>
        <img src={`/api/pages/${page.id}/drawing?edge=1800`} alt={`${page.title} as it was drawn`} draggable={false}
          style={{ width: "100%", height: "100%", display: "block", userSelect: "none" }} />
        <svg viewBox={`0 0 ${sheet.width} ${sheet.height}`} style={{ position: "absolute", inset: 0, width: "100%",
          height: "100%" }} aria-hidden>
          {balloons.map((b, k) => <polygon key={k} points={b.join(" ")} fill="rgba(90, 90, 90, .2)"
            stroke="#565656" strokeWidth={1.5 / scale} />)}
          {shown.map((o, k) => {
            const [x, y] = [o.reduce((s, p) => s + p[0], 0) / o.length, o.reduce((s, p) => s + p[1], 0) / o.length];
            return (
              <g key={k}>
                <polygon points={o.join(" ")} fill={chosen === k ? "rgba(165, 38, 47, .14)" : "none"} stroke="#a5262f"
                  strokeWidth={2.5 / scale} strokeDasharray={`${9 / scale} ${5 / scale}`} />
                {act === "corners" && o.map(([u, v], j) => <circle key={j} cx={u} cy={v} r={6 / scale} fill="#ffffff"
                  stroke="#a5262f" strokeWidth={2 / scale} />)}
                <circle cx={x} cy={y} r={17 / scale} fill="#a5262f" />
                <text x={x} y={y} fill="#ffffff" fontSize={19 / scale} textAnchor="middle" dominantBaseline="central"
                  fontFamily="IBM Plex Mono, monospace">{k + 1}</text>
              </g>
            );
          })}
          {drawn && <polygon points={(act === "balloon" ? rounded(drawn) : drawn).join(" ")}
            fill="rgba(165, 38, 47, .12)" stroke="#a5262f" strokeWidth={2 / scale} />}
        </svg>
      </Box>
    </Box>
  );
}

/** The ellipse in a rectangle. */
function rounded(box: Place[]): Place[] {
  const [[x, y], , [u, v]] = box as [Place, Place, Place, Place];
  return Array.from({ length: 40 }, (_, k): Place => {
    const turn = (2 * Math.PI * k) / 40;
    return [(x + u) / 2 + ((u - x) / 2) * Math.cos(turn), (y + v) / 2 + ((v - y) / 2) * Math.sin(turn)];
  });
}
