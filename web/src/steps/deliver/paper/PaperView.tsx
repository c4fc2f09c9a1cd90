import Box from "@mui/material/Box";
import { useEffect, useRef, useState } from "react";
import { pictureUrl, pieceShown, type Piece, type PictureKind } from "../../../api/client";
import { toWindow, useCamera, useShownCamera } from "../../../picture/camera";
import { BACKDROPS, useGlance } from "../../../picture/glance";
import { useNavigation } from "../../../picture/useNavigation";
import { useSize } from "../../../ui/useSize";
import { cropMarks, lie, scaled, slugOf, spotOf, type Box as Rect, type Setup, type Spot } from "./paper";

const EDGE = 1600; // px of the picture as it is shown
const HANDLE = 7;
const PX_PER_MM = 96 / 25.4; // CSS Values and Units Level 4, section 6.2

/** The sheet with the picture on it: moved by dragging, made larger or smaller at its corners. */
export function PaperView({ piece, setup, subject, kind, onPlace }: { piece: Piece; setup: Required<Setup>;
  subject: Rect; kind: PictureKind; onPlace: (spot: Spot) => Promise<unknown> }) {
  const frame = useRef<HTMLDivElement>(null);
  const room = useSize(frame);
  const { backdrop, grey, squint, flip, small } = useGlance();
  const [held, setHeld] = useState<{ from: readonly [number, number]; spot: Spot; corner: boolean } | null>(null);
  const [moved, setMoved] = useState<Spot | null>(null);
  const size = [piece.width, piece.height] as const;
  const shown = moved ? { ...setup, placed: moved } : setup;
  const [x, y, w, h] = lie(shown, size, subject);
  const slug = Math.max(8, slugOf(setup) + 4);
  // In units of which one is a device pixel at true size, so that "actual" is the size of the print.
  const unit = PX_PER_MM * devicePixelRatio;
  const [wide, high] = [(setup.width + 2 * slug) * unit, (setup.height + 2 * slug) * unit];
  const measure = useCamera((s) => s.measure);
  useEffect(() => measure({ width: wide, height: high }, room), [measure, wide, high, room]);
  const camera = useShownCamera(small);
  const navigating = useNavigation(frame, flip);
  const scale = camera.zoom * unit;
  const [middleX, middleY] = toWindow(camera, room, flip, wide / 2, high / 2);
  const view = { x: 0, y: 0, width: piece.width, height: piece.height, scale: Math.min(1, EDGE
    / Math.max(...size)) };
  const url = pictureUrl(pieceShown(piece), kind, view);
  const at = (e: { clientX: number; clientY: number }): readonly [number, number] => {
    const box = frame.current?.querySelector("[data-sheet]")?.getBoundingClientRect();
    const across = flip ? (box?.right ?? 0) - e.clientX : e.clientX - (box?.left ?? 0);
    return [across / scale, (e.clientY - (box?.top ?? 0)) / scale];
  };
  const begin = (e: React.PointerEvent, corner: boolean) => {
    if (e.button !== 0 || navigating.current) return;
    e.stopPropagation();
    e.currentTarget.setPointerCapture(e.pointerId);
    setHeld({ from: at(e), spot: spotOf([x, y, w, h], size, subject), corner });
  };
  const move = (e: React.PointerEvent) => {
    if (!held) return;
    const here = at(e);
    if (!held.corner) {
      setMoved({ ...held.spot, x: held.spot.x + here[0] - held.from[0], y: held.spot.y + here[1] - held.from[1] });
      return;
    }
    const far = (p: readonly [number, number]) => Math.hypot(p[0] - held.spot.x, p[1] - held.spot.y);
    setMoved(scaled(held.spot, Math.max(0.05, far(here) / Math.max(1, far(held.from))), [held.spot.x,
      held.spot.y]));
  };
  const end = () => {
    setHeld(null);
    // It stays where it was let go while the piece is changed.
    if (!moved) return;
    void onPlace({ x: tidy(moved.x), y: tidy(moved.y), width: tidy(moved.width) }).then(() => setMoved(null));
  };
  const place = { position: "absolute", left: x * scale, top: y * scale, width: w * scale, height: h * scale,
    maxWidth: "none", userSelect: "none" } as const;
  const line = { fill: "none", vectorEffect: "non-scaling-stroke" } as const;
  const { margin, safe, bleed, width, height } = setup;
  return (
    <Box ref={frame} data-testid="paper" onPointerMove={move} onPointerUp={end} onPointerCancel={() => { setHeld(null);
      setMoved(null); }} sx={{ width: "100%", height: "100%", bgcolor: BACKDROPS[backdrop], position: "relative",
        overflow: "hidden", touchAction: "none",
        filter: [grey && "grayscale(1)", squint && "blur(6px)"].filter(Boolean).join(" ") || undefined }}>
      <Box data-sheet style={{ left: middleX - width * scale / 2, top: middleY - height * scale / 2,
        width: width * scale, height: height * scale }} sx={{ position: "absolute", transform: flip ? "scaleX(-1)"
          : "none" }}>
        <img src={url} alt="" draggable={false} style={{ ...place, opacity: 0.28 }} />
        <Box sx={{ position: "absolute", inset: -bleed * scale, overflow: "hidden", bgcolor: setup.around === "ground"
          ? piece.recipe.background : "#ffffff", boxShadow: "0 1px 10px rgba(0, 0, 0, .35)" }}>
          <Box sx={{ position: "absolute", inset: bleed * scale }}>
            <img src={url} alt={`${piece.title} on its paper`} draggable={false} onPointerDown={(e) => begin(e, false)}
              style={{ ...place, cursor: held ? "grabbing" : "grab", touchAction: "none" }} />
          </Box>
        </Box>
        <svg viewBox={`0 0 ${width} ${height}`} aria-hidden style={{ position: "absolute", inset: 0, width: "100%",
          height: "100%", overflow: "visible", pointerEvents: "none" }}>
          {bleed > 0 && <rect x={0} y={0} width={width} height={height} stroke="#141414" strokeWidth={1} {...line} />}
          {margin > 0 && <rect x={margin} y={margin} width={Math.max(0, width - 2 * margin)} height={Math.max(0, height
            - 2 * margin)} stroke="rgba(90, 90, 90, .75)" strokeWidth={1} strokeDasharray="1 4" {...line} />}
          {safe > 0 && <rect x={safe} y={safe} width={Math.max(0, width - 2 * safe)} height={Math.max(0, height
            - 2 * safe)} stroke="#a5262f" strokeWidth={1} strokeDasharray="7 5" {...line} />}
          {cropMarks(setup).map((m) => <line key={m.join()} x1={m[0]} y1={m[1]} x2={m[2]} y2={m[3]} stroke="#141414"
            strokeWidth={1} {...line} />)}
        </svg>
        {[[x, y], [x + w, y], [x + w, y + h], [x, y + h]].map(([u = 0, v = 0], k) => <Box key={k} data-corner={k}
          // Where a corner lies beyond what is seen, its handle waits at the edge.
          onPointerDown={(e: React.PointerEvent) => begin(e, true)} sx={{ position: "absolute", width: 36, height: 36,
            left: within(u, width) * scale - 18, top: within(v, height) * scale - 18,
            cursor: k % 2 ? "nesw-resize" : "nwse-resize", display: "grid", placeItems: "center",
            touchAction: "none" }}>
          <Box sx={{ width: 2 * HANDLE, height: 2 * HANDLE, borderRadius: "50%", bgcolor: "#ffffff", border: 2,
            borderColor: "#a5262f" }} />
        </Box>)}
      </Box>
    </Box>
  );
}

const OUTSIDE = 4; // mm
const within = (mm: number, most: number) => Math.min(most + OUTSIDE, Math.max(-OUTSIDE, mm));
const tidy = (mm: number) => Math.round(mm * 100) / 100;
