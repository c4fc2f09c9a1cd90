import Box from "@mui/material/Box";
import { useEffect, useRef } from "react";
import type { Schemas } from "../../api/client";
import { describeLight, paintBall, type BallLook } from "./ball";

type Light = Schemas["Light"];

const BALL = 212;
const MARGIN = 44;
const LOWEST = -30;

/** Distance of the puck from the ball's middle, in radii: 0 face on, 1 grazing, more from behind. */
const reach = (height: number) => (90 - height) / 90;

/** The puck on the ball: drag it, or nudge it with the arrow keys. */
export function Puck({ light, ball, onShow, onMake }: {
  light: Light; ball: BallLook;
  onShow: (light: Light) => void; onMake: (light: Light) => void;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const frame = useRef<HTMLDivElement>(null);
  const { azimuth, height } = light;
  useEffect(() => {
    const ctx = canvas.current?.getContext("2d");
    if (ctx) paintBall(ctx, BALL, azimuth, height, ball);
  }, [azimuth, height, ball]);

  const a = (azimuth * Math.PI) / 180;
  const r = (reach(height) * BALL) / 2;
  const size = BALL + 2 * MARGIN;
  const at = { x: size / 2 + r * Math.cos(a), y: size / 2 - r * Math.sin(a) };

  const fromPointer = (e: React.PointerEvent): Light => {
    const rect = frame.current?.getBoundingClientRect();
    const x = e.clientX - (rect?.left ?? 0) - size / 2;
    const y = e.clientY - (rect?.top ?? 0) - size / 2;
    const far = Math.min(Math.hypot(x, y) / (BALL / 2), reach(LOWEST));
    const angle = far < 0.01 ? azimuth : (Math.atan2(-y, x) * 180) / Math.PI;
    return { ...light, azimuth: round((angle + 360) % 360), height: round(90 - 90 * far) };
  };
  const nudge = (e: React.KeyboardEvent) => {
    const by = e.shiftKey ? 1 : 5;
    const turn: Record<string, [number, number]> = {
      ArrowLeft: [by, 0], ArrowRight: [-by, 0], ArrowUp: [0, by], ArrowDown: [0, -by],
    };
    const change = turn[e.key];
    if (!change) return;
    e.preventDefault();
    e.stopPropagation();
    onMake({
      ...light,
      azimuth: round((azimuth + change[0] + 360) % 360),
      height: Math.min(90, Math.max(LOWEST, round(height + change[1]))),
    });
  };
  return (
    <Box ref={frame} sx={{ position: "relative", width: size, height: size, mx: "auto", touchAction: "none", cursor: "grab" }}
      onPointerDown={(e) => { e.currentTarget.setPointerCapture(e.pointerId); onShow(fromPointer(e)); }}
      onPointerMove={(e) => { if (e.currentTarget.hasPointerCapture(e.pointerId)) onShow(fromPointer(e)); }}
      onPointerUp={(e) => { if (e.currentTarget.hasPointerCapture(e.pointerId)) onMake(fromPointer(e)); }}>
      <canvas ref={canvas} width={BALL} height={BALL} style={{ position: "absolute", left: MARGIN, top: MARGIN }} aria-hidden />
      <Box component="svg" aria-hidden sx={{ position: "absolute", inset: 0, color: "text.secondary" }} width={size} height={size}>
        <circle cx={size / 2} cy={size / 2} r={BALL / 2} fill="none" stroke="currentColor" />
        <circle cx={size / 2} cy={size / 2} r={BALL / 4} fill="none" stroke="currentColor" strokeDasharray="1 6" />
        <line x1={at.x} y1={at.y} x2={size / 2} y2={size / 2} stroke="currentColor" strokeDasharray="5 4" />
      </Box>
      <Box role="slider" tabIndex={0} aria-label="Light" aria-valuenow={Math.round(azimuth)} aria-valuemin={0} aria-valuemax={360}
        aria-valuetext={`${describeLight(azimuth, height)}, azimuth ${azimuth} degrees, height ${height} degrees`} onKeyDown={nudge}
        sx={{
          position: "absolute", left: at.x - 20, top: at.y - 20, width: 40, height: 40, borderRadius: "50%", display: "grid", placeItems: "center",
          "&::before": { content: '""', width: 24, height: 24, borderRadius: "50%", bgcolor: "#fff6d8", border: "3px solid #1b1b1b", boxShadow: "0 0 0 2px #fff" },
        }} />
    </Box>
  );
}

const round = (v: number) => Math.round(v * 2) / 2;
