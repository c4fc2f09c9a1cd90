import { useQuery } from "@tanstack/react-query";
import { useCallback } from "react";
import { fetchBitmap, type Shown } from "../api/client";
import { tellProblem } from "../api/notice";

const VEIL = 175; // of 255: how dark it gets around what is lit

/** Darkens the picture but for what one layer is painted on; gives the picture view's overlay. */
export function useSpotlight(of: Shown, layersAt: string, index: number | null) {
  const { data: veil } = useQuery({
    queryKey: ["layer", layersAt, of.revision, index],
    enabled: index !== null,
    staleTime: Infinity,
    gcTime: 60_000,
    queryFn: async () => {
      try {
        return darkened(await fetchBitmap(`${layersAt}/${index}?revision=${of.revision}`));
      } catch (error) {
        tellProblem(error);
        throw error;
      }
    },
  });
  const { width, height } = of;
  return useCallback((ctx: CanvasRenderingContext2D) => {
    if (index !== null && veil) ctx.drawImage(veil, 0, 0, width, height);
  }, [index, veil, width, height]);
}

function darkened(bitmap: ImageBitmap): OffscreenCanvas {
  const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
  const ctx = canvas.getContext("2d", { willReadFrequently: true });
  if (!ctx) return canvas;
  ctx.drawImage(bitmap, 0, 0);
  const image = ctx.getImageData(0, 0, bitmap.width, bitmap.height);
  const { data } = image;
  for (let k = 0; k < data.length; k += 4) {
    const lit = (data[k] ?? 0) / 255;
    data[k] = data[k + 1] = data[k + 2] = 18;
    data[k + 3] = VEIL * (1 - lit);
  }
  ctx.putImageData(image, 0, 0);
  return canvas;
}
