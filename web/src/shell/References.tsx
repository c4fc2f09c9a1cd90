import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import IconButton from "@mui/material/IconButton";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, useState } from "react";
import { fetchBitmap, type Piece } from "../api/client";
import { tell } from "../api/notice";
import { referenceUrl, useReferences, type KeptReference } from "../api/references";
import { Figure } from "../theme/Figure";
import { FileButton } from "../ui/FileButton";

const PICTURES = "image/png,image/jpeg,image/webp,image/tiff,image/svg+xml,.tif,.tiff";
const CLOSEST = 12;

/** Pictures beside the canvas, in every step: looked at closely, colours picked, notes; never delivered. */
export function References({ piece, onClose }: { piece: Piece; onClose: () => void }) {
  const { references, adding, add, change, remove } = useReferences(piece.id);
  const [at, setAt] = useState(0);
  const here = references[Math.min(at, references.length - 1)] ?? null;
  const own = here?.piece === piece.id;
  return (
    <Box component="aside" aria-label="References"
      onKeyDown={(e: React.KeyboardEvent) => { if (e.key === "Escape") { e.stopPropagation(); onClose(); } }}
      onDragOver={(e: React.DragEvent) => { e.preventDefault(); e.stopPropagation(); }}
      onDrop={(e: React.DragEvent) => { e.preventDefault(); e.stopPropagation();
        void add([...e.dataTransfer.files]); }}
      sx={{ width: "clamp(230px, 23vw, 340px)", flexShrink: 0, display: "flex", flexDirection: "column", minHeight: 0,
        bgcolor: "background.paper", borderRight: 1, borderColor: "divider" }}>
      <Box sx={{ display: "flex", alignItems: "center", pl: 1.5, minHeight: 40 }}>
        <Typography variant="h3" component="h2" sx={{ flex: 1 }}>References{" "}
          {references.length > 0 && <Figure>{references.length}</Figure>}</Typography>
        <FileButton label="Pictures to pin" accept={PICTURES} multiple size="small" disabled={adding}
          onFiles={(files) => void add(files)}>{adding ? "Pinning …" : "Pin"}</FileButton>
        <Button size="small" color="inherit" onClick={onClose}>Hide</Button>
      </Box>
      {!here && <Typography variant="body2" sx={{ px: 1.5 }}>Drop pictures here, or choose them: a photo, the character
        in another picture, a palette. They stay beside the canvas in every step and are never delivered.</Typography>}
      {here && <Closely key={`${here.piece} ${here.number}`} reference={here} />}
      {references.length > 1 && (
        <Box role="group" aria-label="Pinned pictures" sx={{ display: "flex", gap: 0.5, overflowX: "auto", p: 1,
          flexShrink: 0 }}>
          {references.map((r, k) => (
            <Box key={`${r.piece} ${r.number}`} component="button" type="button" aria-pressed={r === here}
              aria-label={r.note || r.name || `Reference ${k + 1}`} onClick={() => setAt(k)}
              sx={{ width: 52, height: 52, p: 0, flexShrink: 0, border: 1, borderColor: "divider", cursor: "pointer",
                bgcolor: "background.default", ...(r === here && { outline: "2px dashed", outlineColor: "primary.main",
                  outlineOffset: -3 }) }}>
              <img src={referenceUrl(r, 104)} alt="" style={{ width: "100%", height: "100%", objectFit: "cover" }} />
            </Box>
          ))}
        </Box>
      )}
      {here && (
        <Box sx={{ px: 1.5, pb: 1, flexShrink: 0 }}>
          {own ? <>
            <Note key={here.number} reference={here} onGive={(text) => void change(here, { note: text,
              shared: here.shared })} />
            <Box sx={{ display: "flex", alignItems: "center" }}>
              <FormControlLabel sx={{ flex: 1 }} label="For all of this character" control={<Checkbox size="small"
                checked={here.shared} onChange={(_, on) => void change(here, { note: here.note, shared: on })} />} />
              <Button size="small" color="inherit" onClick={() => void remove(here)}>Take away</Button>
            </Box>
          </> : <Typography variant="body2">{here.note || here.name}, from another piece of this
            character.</Typography>}
        </Box>
      )}
    </Box>
  );
}

function Note({ reference, onGive }: { reference: KeptReference; onGive: (text: string) => void }) {
  const [text, setText] = useState(reference.note);
  const give = () => { if (text.trim() !== reference.note) onGive(text.trim()); };
  return <TextField fullWidth multiline maxRows={3} value={text} onChange={(e) => setText(e.target.value)} onBlur={give}
    placeholder="A note" slotProps={{ htmlInput: { "aria-label": "Note", maxLength: 2000 } }} />;
}

interface Look { x: number; y: number; zoom: number }

/** One picture, zoomed by wheel or keys and moved by dragging; a click picks a colour. */
function Closely({ reference }: { reference: KeptReference }) {
  const surface = useRef<HTMLCanvasElement>(null);
  const [bitmap, setBitmap] = useState<ImageBitmap | null>(null);
  const [look, setLook] = useState<Look>({ x: 0.5, y: 0.5, zoom: 1 });
  const [picked, pick] = useState<string | null>(null);
  const drag = useRef<{ x: number; y: number; moved: boolean } | null>(null);
  const [box, setBox] = useState({ width: 0, height: 0 });
  const url = referenceUrl(reference);
  useEffect(() => {
    const stop = new AbortController();
    fetchBitmap(url, { signal: stop.signal }).then(setBitmap).catch(() => undefined);
    return () => stop.abort();
  }, [url]);
  useEffect(() => {
    const canvas = surface.current;
    if (!canvas) return;
    const observer = new ResizeObserver(() => setBox({ width: canvas.clientWidth, height: canvas.clientHeight }));
    observer.observe(canvas);
    return () => observer.disconnect();
  }, []);
  const fit = bitmap ? Math.min(box.width / bitmap.width, box.height / bitmap.height) : 1;
  useEffect(() => {
    const [canvas, dpr] = [surface.current, window.devicePixelRatio];
    const ctx = canvas?.getContext("2d", { willReadFrequently: true });
    if (!canvas || !ctx || !bitmap) return;
    [canvas.width, canvas.height] = [Math.round(box.width * dpr), Math.round(box.height * dpr)];
    const k = fit * look.zoom * dpr;
    ctx.imageSmoothingEnabled = k < 2;
    ctx.setTransform(k, 0, 0, k, canvas.width / 2 - look.x * bitmap.width * k,
      canvas.height / 2 - look.y * bitmap.height * k);
    ctx.drawImage(bitmap, 0, 0);
    canvas.dataset.zoom = String(look.zoom);
  }, [bitmap, look, box, fit]);
  const zoomBy = (factor: number) => setLook((l) => ({ ...l, zoom: Math.min(CLOSEST, Math.max(1, l.zoom * factor)) }));
  const pan = (dx: number, dy: number) => bitmap && setLook((l) => ({ ...l,
    x: clamp(l.x - dx / (fit * l.zoom * bitmap.width)), y: clamp(l.y - dy / (fit * l.zoom * bitmap.height)) }));
  const pickAt = (e: React.PointerEvent) => {
    const canvas = surface.current;
    const ctx = canvas?.getContext("2d");
    if (!canvas || !ctx) return;
    const rect = canvas.getBoundingClientRect();
    const k = canvas.width / rect.width;
    const [r = 0, g = 0, b = 0, a = 0] = ctx.getImageData((e.clientX - rect.left) * k, (e.clientY - rect.top) * k, 1,
      1).data;
    if (!a) return;
    const colour = `#${[r, g, b].map((v) => v.toString(16).padStart(2, "0")).join("")}`;
    pick(colour);
    // Where the clipboard is not to be had, the colour is still shown.
    navigator.clipboard.writeText(colour).then(() => tell(`${colour} is on the clipboard.`)).catch(() => undefined);
  };
  return (
    <>
      <Box sx={{ flex: 1, minHeight: 120, position: "relative", bgcolor: "#8b8b8b" }}>
        <canvas ref={surface} tabIndex={0} role="application" data-testid="reference"
          aria-label={`${reference.note || reference.name || "Reference"}. Plus and minus zoom, arrows move.`}
          style={{ width: "100%", height: "100%", display: "block", touchAction: "none", cursor: "crosshair" }}
          onWheel={(e) => zoomBy(Math.exp(-e.deltaY / 400))}
          onKeyDown={(e) => {
            const way = { ArrowLeft: [30, 0], ArrowRight: [-30, 0], ArrowUp: [0, 30], ArrowDown: [0, -30] }[e.key];
            if (e.key === "+" || e.key === "=") zoomBy(1.25);
            else if (e.key === "-") zoomBy(0.8);
            else if (way) pan(way[0] ?? 0, way[1] ?? 0);
            else return;
            e.preventDefault();
            e.stopPropagation();
          }}
          onPointerDown={(e) => { e.currentTarget.setPointerCapture(e.pointerId);
            drag.current = { x: e.clientX, y: e.clientY, moved: false }; }}
          onPointerMove={(e) => {
            const from = drag.current;
            if (!from) return;
            const [dx, dy] = [e.clientX - from.x, e.clientY - from.y];
            if (!from.moved && Math.hypot(dx, dy) < 4) return;
            drag.current = { x: e.clientX, y: e.clientY, moved: true };
            pan(dx, dy);
          }}
          onPointerUp={(e) => { if (drag.current && !drag.current.moved) pickAt(e); drag.current = null; }}
          onPointerCancel={() => { drag.current = null; }} />
        <Box sx={{ position: "absolute", right: 4, bottom: 4, display: "flex", bgcolor: "background.paper",
          borderRadius: 1 }}>
          <IconButton size="small" aria-label="Reference closer" onClick={() => zoomBy(1.5)}>+</IconButton>
          <IconButton size="small" aria-label="Reference farther" onClick={() => zoomBy(1 / 1.5)}>−</IconButton>
        </Box>
      </Box>
      <Box role="status" sx={{ display: "flex", alignItems: "center", gap: 1, px: 1.5, minHeight: 34, flexShrink: 0 }}>
        {picked ? <><Box sx={{ width: 22, height: 22, border: 1, borderColor: "text.secondary", bgcolor: picked }} />
          <Figure>{picked}</Figure></> : <Typography variant="body2" noWrap>Click to pick a colour.</Typography>}
      </Box>
    </>
  );
}

const clamp = (v: number) => Math.min(1, Math.max(0, v));
