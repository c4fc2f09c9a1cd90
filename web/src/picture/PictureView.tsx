import Box from "@mui/material/Box";
import { useCallback, useEffect, useLayoutEffect, useRef, useState, type ReactNode } from "react";
import { pieceShown, type Piece, type PictureKind, type Shown } from "../api/client";
import { toPicture, useCamera, useShownCamera, type Camera, type Size } from "./camera";
import { BACKDROPS, useGlance } from "./glance";
import { enterPicture, paint } from "./paint";
import { usePreview } from "./preview";
import { useSource } from "./sources";
import { useNavigation } from "./useNavigation";

/** What a step does with the pointer; coordinates are picture pixels. */
export interface Tool {
  cursor?: string;
  down?: (x: number, y: number, event: PointerEvent) => void;
  move?: (x: number, y: number, event: PointerEvent) => void;
  up?: (x: number, y: number, event: PointerEvent) => void;
  leave?: () => void;
  /** What was going on is dropped: a second finger came, or the system took the pointer. */
  cancel?: () => void;
}

export interface Stage {
  camera: Camera;
  box: Size;
  flip: boolean;
}

interface Props {
  /** The piece that is worked on; or `of`, what else is shown. */
  piece?: Piece;
  of?: Shown;
  kind: PictureKind;
  /** A second kind to the left of a divider that can be dragged. */
  compare?: PictureKind;
  tool?: Tool | null;
  /** One of the two alone, and no divider: both are at hand. */
  only?: "kind" | "compared";
  /** What lies on either side of the divider. */
  sides?: string;
  /** Draw on top, in picture pixels; called at each repaint. */
  overlay?: (ctx: CanvasRenderingContext2D, zoom: number) => void;
  children?: (stage: Stage) => ReactNode;
}

export function PictureView({ piece, of, kind, compare, only, sides = "before │ after", tool, overlay,
  children }: Props) {
  const frame = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const { box, measure } = useCamera();
  const glance = useGlance();
  const preview = usePreview((s) => s.tile);
  const [divided, setSplit] = useState(0.5);
  const split = only === "kind" ? 0 : only === "compared" ? 1 : divided;
  const shown = of ?? (piece && pieceShown(piece));
  if (!shown) throw new Error("nothing to show");
  const { title, width, height } = shown;
  const camera = useShownCamera(glance.small);
  const flip = glance.flip;
  const seen: PictureKind = glance.before && piece ? "before" : kind;
  const main = useSource(shown, seen, camera, box, flip, true, true);
  const other = useSource(shown, compare ?? "before", camera, box, flip, compare !== undefined);
  const panning = useNavigation(frame, flip);

  useLayoutEffect(() => {
    const element = frame.current;
    if (!element) return;
    const update = () => measure({ width, height }, { width: element.clientWidth, height: element.clientHeight });
    update();
    const observer = new ResizeObserver(update);
    observer.observe(element);
    return () => observer.disconnect();
  }, [measure, width, height]);

  useLayoutEffect(() => {
    const surface = canvas.current;
    const ctx = surface?.getContext("2d");
    if (!surface || !ctx) return;
    const dpr = window.devicePixelRatio;
    const [w, h] = [Math.round(box.width * dpr), Math.round(box.height * dpr)];
    if (surface.width !== w || surface.height !== h) [surface.width, surface.height] = [w, h];
    ctx.setTransform(1, 0, 0, 1, 0, 0);
    ctx.clearRect(0, 0, w, h);
    const live = glance.before ? null : preview;
    const size = { width, height };
    paint(ctx, main, live, size, camera, box, flip, compare ? { from: split, to: 1 } : null);
    if (compare) paint(ctx, other, null, size, camera, box, flip, { from: 0, to: split });
    if (overlay && !glance.before) {
      enterPicture(ctx, camera, box, flip);
      overlay(ctx, camera.zoom);
    }
    surface.dataset.zoom = String(camera.zoom);
    surface.dataset.shown = main.sharp ? `${main.detail?.of}:sharp` : (main.whole?.of ?? "");
  });

  useEffect(() => {
    const start = preview?.wished;
    if (start == null) return;
    const frame = requestAnimationFrame(() => performance.measure("wardrobe:event-to-pixels", { start }));
    return () => cancelAnimationFrame(frame);
  }, [preview]);

  const at = useCallback((event: PointerEvent | React.PointerEvent): [number, number] => {
    const rect = frame.current?.getBoundingClientRect();
    return toPicture(camera, box, flip, event.clientX - (rect?.left ?? 0), event.clientY - (rect?.top ?? 0));
  }, [camera, box, flip]);

  useEffect(() => {
    const surface = canvas.current;
    if (!surface || !tool) return;
    const on = (call?: (x: number, y: number, e: PointerEvent) => void) => (event: PointerEvent) => {
      if (panning.current) tool.cancel?.();
      else call?.(...at(event), event);
    };
    const cancel = () => tool.cancel?.();
    const down = (event: PointerEvent) => {
      if (event.button !== 0 || panning.current) return;
      surface.setPointerCapture(event.pointerId);
      tool.down?.(...at(event), event);
    };
    const [move, up] = [on(tool.move), on(tool.up)];
    const leave = () => tool.leave?.();
    surface.addEventListener("pointerdown", down);
    surface.addEventListener("pointermove", move);
    surface.addEventListener("pointerup", up);
    surface.addEventListener("pointercancel", cancel);
    surface.addEventListener("pointerleave", leave);
    return () => {
      surface.removeEventListener("pointerdown", down);
      surface.removeEventListener("pointermove", move);
      surface.removeEventListener("pointerup", up);
      surface.removeEventListener("pointercancel", cancel);
      surface.removeEventListener("pointerleave", leave);
    };
  }, [tool, at, panning]);

  const filters = [glance.grey ? "url(#wardrobe-grey)" : "", glance.squint ? "blur(9px)" : ""].join(" ").trim();
  return (
    <Box ref={frame} tabIndex={0} role="application"
      aria-label={`Picture of ${title}. Plus and minus zoom, arrow keys pan, zero fits, one shows actual size.`}
      sx={{
        position: "relative", overflow: "hidden", width: "100%", height: "100%",
        bgcolor: BACKDROPS[glance.backdrop], touchAction: "none", outline: "none",
        "&:focus-visible": { boxShadow: (t) => `inset 0 0 0 2px ${t.palette.primary.main}` },
      }}>
      <canvas ref={canvas} data-testid="picture" style={{
        width: "100%", height: "100%", display: "block", filter: filters || undefined,
        cursor: tool?.cursor ?? "default",
      }} />
      {compare && !only && <Divider at={split} sides={sides} onMove={setSplit} />}
      {children?.({ camera, box, flip })}
      <svg width="0" height="0" style={{ position: "absolute" }} aria-hidden>
        <filter id="wardrobe-grey" colorInterpolationFilters="linearRGB">
          <feColorMatrix
            values="0.2126 0.7152 0.0722 0 0  0.2126 0.7152 0.0722 0 0  0.2126 0.7152 0.0722 0 0  0 0 0 1 0" />
        </filter>
      </svg>
    </Box>
  );
}

function Divider({ at, sides, onMove }: { at: number; sides: string; onMove: (at: number) => void }) {
  const clamp = (v: number) => Math.min(0.98, Math.max(0.02, v));
  return (
    <Box role="slider" tabIndex={0} aria-label={`Divider: ${sides}`} aria-valuemin={0} aria-valuemax={100}
      aria-valuenow={Math.round(at * 100)}
      onKeyDown={(e) => {
        const by = e.key === "ArrowLeft" ? -0.02 : e.key === "ArrowRight" ? 0.02 : 0;
        if (!by) return;
        e.preventDefault();
        e.stopPropagation();
        onMove(clamp(at + by));
      }}
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
      }}
      onPointerMove={(e) => {
        const frame = e.currentTarget.parentElement;
        if (!frame || !e.currentTarget.hasPointerCapture(e.pointerId)) return;
        const rect = frame.getBoundingClientRect();
        onMove(clamp((e.clientX - rect.left) / rect.width));
      }}
      sx={{
        position: "absolute", top: 0, bottom: 0, left: `calc(${at * 100}% - 18px)`, width: 36, cursor: "ew-resize",
        touchAction: "none",
        "&::before": { content: '""', position: "absolute", left: 17, top: 0, bottom: 0, borderLeft: "2px dashed",
          borderColor: "primary.main" },
        "&::after": { content: JSON.stringify(sides), position: "absolute", top: 12, left: "50%",
          transform: "translateX(-50%)", whiteSpace: "nowrap", px: 1, py: 0.25, borderRadius: 1,
            bgcolor: "background.paper", color: "text.primary", fontSize: 12 },
      }} />
  );
}
