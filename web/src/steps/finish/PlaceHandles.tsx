import Box from "@mui/material/Box";
import { useRef } from "react";
import type { Point } from "../../api/client";
import { toPicture, toWindow } from "../../picture/camera";
import type { Stage } from "../../picture/PictureView";

const KEYS: Record<string, Point> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

/** Two places on the picture: the ends of a line, or a middle and its edge. */
export interface Places {
  ends: [Point, Point];
  round: boolean;
  colours: [string, string];
  /** Of what they are: “of the gradient”. */
  of: string;
}

/** They are dragged, or moved with the arrow keys. */
export function PlaceHandles({ stage, places, onShow, onMake }: {
  stage: Stage; places: Places; onShow: (ends: [Point, Point]) => void; onMake: (ends: [Point, Point]) => void;
}) {
  const held = useRef<0 | 1 | null>(null);
  const { ends, round } = places;
  const [[ax, ay], [bx, by]] = ends.map(([x, y]) => toWindow(stage.camera, stage.box, stage.flip, x, y)) as [Point,
    Point];
  const put = (which: 0 | 1, to: Point): [Point, Point] => {
    const at: Point = [Math.round(to[0]), Math.round(to[1])];
    if (which === 1) return [ends[0], at];
    // The middle of a round one takes its edge along.
    return [at, round ? [ends[1][0] + at[0] - ends[0][0], ends[1][1] + at[1] - ends[0][1]] : ends[1]];
  };
  const under = (e: React.PointerEvent): Point => {
    const rect = e.currentTarget.parentElement?.getBoundingClientRect();
    return toPicture(stage.camera, stage.box, stage.flip, e.clientX - (rect?.left ?? 0), e.clientY - (rect?.top ?? 0));
  };
  const names = round ? ["Middle", "Edge"] : ["Begin", "End"];
  return (
    <>
      <svg aria-hidden style={{ position: "absolute", inset: 0, width: "100%", height: "100%", pointerEvents: "none" }}>
        {[["rgba(20,20,22,.75)", 4, undefined], ["#ffffff", 1.5, "6 4"]].map(([stroke, width, dash]) => (
          <g key={String(stroke)} stroke={String(stroke)} strokeWidth={width} strokeDasharray={dash} fill="none">
            <line x1={ax} y1={ay} x2={bx} y2={by} />
            {round && <circle cx={ax} cy={ay} r={Math.hypot(bx - ax, by - ay)} />}
          </g>
        ))}
      </svg>
      {([0, 1] as const).map((k) => {
        const [x, y] = k === 0 ? [ax, ay] : [bx, by];
        const [px, py] = ends[k];
        return (
          <Box key={k} role="slider" tabIndex={0} aria-label={`${names[k]} ${places.of}`}
            aria-valuenow={Math.round(px)} aria-valuetext={`${Math.round(px)}, ${Math.round(py)} px`}
            onPointerDown={(e) => { e.stopPropagation(); e.currentTarget.setPointerCapture(e.pointerId);
              held.current = k; }}
            onPointerMove={(e) => { if (held.current === k) onShow(put(k, under(e))); }}
            onPointerUp={(e) => { if (held.current === k) { held.current = null; onMake(put(k, under(e))); } }}
            onPointerCancel={() => { held.current = null; }}
            onKeyDown={(e) => {
              const way = KEYS[e.key];
              if (!way) return;
              e.preventDefault();
              e.stopPropagation();
              const by = (e.shiftKey ? 1 : 10) / stage.camera.zoom;
              onMake(put(k, [px + way[0] * by * (stage.flip ? -1 : 1), py + way[1] * by]));
            }}
            sx={{
              position: "absolute", left: x - 18, top: y - 18, width: 36, height: 36, borderRadius: "50%",
                display: "grid", placeItems: "center", cursor: "grab", touchAction: "none",
              "&::before": { content: '""', width: 18, height: 18, borderRadius: k === 0 ? "50%"
                : "3px", bgcolor: places.colours[k], border: "3px solid #1b1b1b", boxShadow: "0 0 0 2px #fff" },
            }} />
        );
      })}
    </>
  );
}
