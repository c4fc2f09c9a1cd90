import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useEffect, useRef, useState } from "react";
import { fetchBitmap, type Piece, type Schemas } from "../../api/client";
import { wholeView } from "../../picture/sources";
import { EIGHT } from "./presets";

type Light = Schemas["Light"];

const EDGE = 360;

/** The figure under eight lights, to choose one. */
export function EightLights({ piece, light, onMake }: { piece: Piece; light: Light; onMake: (light: Light) => void }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button onClick={() => setOpen(!open)} aria-expanded={open} sx={{ alignSelf: "center" }}>{open ? "Put the eight lights away" : "Look at eight lights"}</Button>
      {open && (
        <Box role="group" aria-label="Eight lights" ref={(box: HTMLElement | null) => box?.scrollIntoView({ block: "nearest" })} sx={{ display: "grid", gridTemplateColumns: "repeat(4, 1fr)", gap: 1, my: 1 }}>
          {EIGHT.map(([name, place], k) => (
            <Thumb key={name} name={name} piece={piece} light={{ ...light, ...place }} wait={k} chosen={light.azimuth === place.azimuth && light.height === place.height} onClick={() => onMake({ ...light, ...place })} />
          ))}
        </Box>
      )}
    </>
  );
}

// One after the other, so that the picture itself is not kept waiting.
let before: Promise<unknown> = Promise.resolve();

function Thumb({ name, piece, light, wait, chosen, onClick }: { name: string; piece: Piece; light: Light; wait: number; chosen: boolean; onClick: () => void }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { id, revision, width, height } = piece;
  const body = JSON.stringify({ edit: { kind: "move_light", light }, view: wholeView({ width, height }, EDGE), kind: "picture", draft: true });
  useEffect(() => {
    const stop = new AbortController();
    const draw = async () => {
      if (stop.signal.aborted) return;
      const bitmap = await fetchBitmap(`/api/pieces/${id}/preview`, { method: "POST", headers: { "content-type": "application/json" }, body, signal: stop.signal });
      const surface = canvas.current;
      if (!surface) return;
      [surface.width, surface.height] = [bitmap.width, bitmap.height];
      surface.getContext("2d")?.drawImage(bitmap, 0, 0);
      surface.dataset.drawn = name;
    };
    // What fails here is told by the picture, which asks for the same.
    before = before.then(draw).catch(() => undefined);
    return () => stop.abort();
  }, [id, revision, body, name, wait]);
  return (
    <Button onClick={onClick} aria-pressed={chosen} color="inherit" sx={{
      display: "flex", flexDirection: "column", p: 0.5, minWidth: 0, fontSize: 12.5, fontWeight: chosen ? 640 : 450, borderRadius: 1,
      outline: chosen ? "2px dashed" : "none", outlineColor: "primary.main", outlineOffset: -2,
    }}>
      <canvas ref={canvas} width={EDGE} height={EDGE} style={{ width: "100%", aspectRatio: `${width} / ${height}`, borderRadius: 4, display: "block" }} aria-hidden />
      {name}
    </Button>
  );
}
