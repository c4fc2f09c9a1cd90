import Box from "@mui/material/Box";
import { useEffect, useRef } from "react";
import type { Schemas } from "../../api/client";
import { describeLight, paintBall, type BallLook } from "./ball";

/** Where the lights stand: all that the pucks need of them. */
type Pucked = Pick<Schemas["Light"], "azimuth" | "height" | "rim" | "bounce">;

const BALL = 156;
const MARGIN = 40;
const LOWEST = -30;

/** Distance of the puck from the ball's middle, in radii: 0 face on, 1 grazing, more from behind. */
const reach = (height: number) => (90 - height) / 90;

export type PuckName = "key" | "rim" | "bounce";

const PUCKS: Record<PuckName, { label: string; radius: string; size: number }> = {
  key: { label: "Light", radius: "50%", size: 24 },
  rim: { label: "Rim light", radius: "3px", size: 18 },
  bounce: { label: "Bounced light", radius: "50% 50% 0 0", size: 18 },
};

type Place = { azimuth: number; height: number };

/** Where one of the lights stands, put into the whole. */
function moved<L extends Pucked>(light: L, name: PuckName, place: Place): L {
  if (name === "key") return { ...light, ...place };
  const side = light[name];
  return side ? { ...light, [name]: { ...side, ...place } } : light;
}

/** The pucks on the ball: drag them, or nudge them with the arrow keys. */
export function Puck<L extends Pucked>({ light, ball, onShow, onMake }: {
  light: L; ball: BallLook;
  onShow: (light: L) => void; onMake: (light: L) => void;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const frame = useRef<HTMLDivElement>(null);
  const held = useRef<PuckName | null>(null);
  const { azimuth, height } = light;
  useEffect(() => {
    const ctx = canvas.current?.getContext("2d");
    if (ctx) paintBall(ctx, BALL, azimuth, height, ball);
  }, [azimuth, height, ball]);

  const size = BALL + 2 * MARGIN;
  const at = (place: Place) => {
    const [a, r] = [(place.azimuth * Math.PI) / 180, (reach(place.height) * BALL) / 2];
    return { x: size / 2 + r * Math.cos(a), y: size / 2 - r * Math.sin(a) };
  };
  const pucks = (["bounce", "rim", "key"] as const).flatMap((name) => {
    const place = name === "key" ? light : light[name];
    return place ? [{ name, place, colour: name === "key" ? "#fff6d8" : (light[name]?.colour ?? "#ffffff") }] : [];
  });

  const fromPointer = (e: React.PointerEvent, name: PuckName): L => {
    const rect = frame.current?.getBoundingClientRect();
    const x = e.clientX - (rect?.left ?? 0) - size / 2;
    const y = e.clientY - (rect?.top ?? 0) - size / 2;
    const far = Math.min(Math.hypot(x, y) / (BALL / 2), reach(LOWEST));
    const before = name === "key" ? azimuth : (light[name]?.azimuth ?? 0);
    const angle = far < 0.01 ? before : (Math.atan2(-y, x) * 180) / Math.PI;
    return moved(light, name, { azimuth: round((angle + 360) % 360), height: round(90 - 90 * far) });
  };
  const nudge = (e: React.KeyboardEvent, name: PuckName, place: Place) => {
    const by = e.shiftKey ? 1 : 5;
    const turn: Record<string, [number, number]> = {
      ArrowLeft: [by, 0], ArrowRight: [-by, 0], ArrowUp: [0, by], ArrowDown: [0, -by],
    };
    const change = turn[e.key];
    if (!change) return;
    e.preventDefault();
    e.stopPropagation();
    onMake(moved(light, name, {
      azimuth: round((place.azimuth + change[0] + 360) % 360),
      height: Math.min(90, Math.max(LOWEST, round(place.height + change[1]))),
    }));
  };
  const key = at(light);
  return (
    <Box ref={frame} sx={{ position: "relative", width: size, height: size, touchAction: "none", cursor: "grab",
      flexShrink: 0 }}
      onPointerDown={(e) => {
        const on = e.target instanceof HTMLElement ? e.target.dataset.puck : undefined;
        held.current = (on as PuckName | undefined) ?? "key";
        e.currentTarget.setPointerCapture(e.pointerId);
        onShow(fromPointer(e, held.current));
      }}
      onPointerMove={(e) => { if (held.current) onShow(fromPointer(e, held.current)); }}
      onPointerUp={(e) => { if (held.current) onMake(fromPointer(e, held.current)); held.current = null; }}
      onPointerCancel={() => { held.current = null; }}>
      <canvas ref={canvas} width={BALL} height={BALL}
        style={{ position: "absolute", left: MARGIN, top: MARGIN }} aria-hidden />
      <Box component="svg" aria-hidden
        sx={{ position: "absolute", inset: 0, color: "text.secondary", pointerEvents: "none" }} width={size}
          height={size}>
        <circle cx={size / 2} cy={size / 2} r={BALL / 2} fill="none" stroke="currentColor" />
        <circle cx={size / 2} cy={size / 2} r={BALL / 4} fill="none" stroke="currentColor" strokeDasharray="1 6" />
        <line x1={key.x} y1={key.y} x2={size / 2} y2={size / 2} stroke="currentColor" strokeDasharray="5 4" />
      </Box>
      {pucks.map(({ name, place, colour }) => {
        const { x, y } = at(place);
        const { label, radius, size: wide } = PUCKS[name];
        return (
          <Box key={name} data-puck={name} role="slider" tabIndex={0} aria-label={label}
            aria-valuenow={Math.round(place.azimuth)} aria-valuemin={0} aria-valuemax={360}
            aria-valuetext={`${describeLight(place.azimuth, place.height)}, azimuth ${place.azimuth} degrees, `
              + `height ${place.height} degrees`}
            onKeyDown={(e) => nudge(e, name, place)}
            sx={{
              position: "absolute", left: x - 20, top: y - 20, width: 40, height: 40, borderRadius: "50%",
                display: "grid", placeItems: "center",
              "&::before": { content: '""', width: wide, height: wide, borderRadius: radius, bgcolor: colour,
                border: "3px solid #1b1b1b", boxShadow: "0 0 0 2px #fff", pointerEvents: "none" },
            }} />
        );
      })}
    </Box>
  );
}

const round = (v: number) => Math.round(v * 2) / 2;
