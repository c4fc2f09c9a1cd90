import Box from "@mui/material/Box";
import { useLayoutEffect, useRef } from "react";
import type { Strip } from "../../api/looks";

/** One picture of a strip. */
export function Figurine({ strip, at, ratio, onClick }: { strip: Strip | undefined; at: number; ratio: string;
  onClick?: () => void }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useLayoutEffect(() => {
    const surface = canvas.current;
    if (!surface || !strip || at >= strip.count) return;
    const { bitmap, count } = strip;
    const height = bitmap.height / count;
    if (surface.width !== bitmap.width || surface.height !== height) [surface.width, surface.height] =
      [bitmap.width, height];
    surface.getContext("2d")?.drawImage(bitmap, 0, at * height, bitmap.width, height, 0, 0, bitmap.width, height);
    surface.dataset.drawn = "true";
  }, [strip, at]);
  return <Box component="canvas" ref={canvas} aria-hidden onClick={onClick}
    sx={{ width: "100%", aspectRatio: ratio, display: "block", bgcolor: "rgba(128,128,128,.25)" }} />;
}
