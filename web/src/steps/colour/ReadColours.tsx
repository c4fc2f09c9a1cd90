import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import ButtonBase from "@mui/material/ButtonBase";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, useState } from "react";
import type { Piece } from "../../api/client";
import { tell } from "../../api/notice";
import { useChanges } from "../../api/pieces";
import { Figure } from "../../theme/Figure";
import { FileButton } from "../../ui/FileButton";

const LONG_EDGE = 1600;
const REACH = 2;
const NOT_SHOWN = "This file is not a picture that the browser can show: PNG, JPEG or WebP work.";

/** The middle colour of a few pixels, so that the grain of a photo does not decide. */
function colourAt(ctx: CanvasRenderingContext2D, x: number, y: number): string {
  const { data } = ctx.getImageData(x - REACH, y - REACH, 2 * REACH + 1, 2 * REACH + 1);
  const channel = (c: number) => {
    const values = [];
    for (let i = c; i < data.length; i += 4) if (data[i - c + 3]) values.push(data[i] ?? 0);
    return values.sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? 255;
  };
  return `#${[0, 1, 2].map((c) => channel(c).toString(16).padStart(2, "0")).join("")}`;
}

/** Read base colours from any picture: pick a part, click its colour. */
export function ReadColours({ piece, file, single, onClose }: {
  piece: Piece; onClose: () => void;
  /** The picture, if it was dropped. */
  file?: File;
  /** One colour is wanted rather than the bases of parts. */
  single?: (hex: string) => void;
}) {
  const { edit } = useChanges(piece.id);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [bitmap, setBitmap] = useState<ImageBitmap | null>(null);
  const [read, setRead] = useState<Record<string, string>>({});
  const { parts } = piece.recipe;
  const [at, setAt] = useState(parts[0]?.id ?? "");

  const open = async (file: File | undefined) => {
    if (!file) return;
    try {
      setBitmap(await createImageBitmap(file));
    } catch {
      tell(NOT_SHOWN, "error");
    }
  };
  useEffect(() => {
    if (!file) return;
    createImageBitmap(file).then(setBitmap).catch(() => {
      tell(NOT_SHOWN, "error");
      onClose();
    });
    // Only when it is dropped.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [file]);
  useEffect(() => {
    const surface = canvas.current;
    if (!surface || !bitmap) return;
    const scale = Math.min(1, LONG_EDGE / Math.max(bitmap.width, bitmap.height));
    [surface.width, surface.height] = [Math.round(bitmap.width * scale), Math.round(bitmap.height * scale)];
    surface.getContext("2d", { willReadFrequently: true })?.drawImage(bitmap, 0, 0, surface.width, surface.height);
  }, [bitmap]);
  const take = (e: React.MouseEvent<HTMLCanvasElement>) => {
    const surface = e.currentTarget;
    const ctx = surface.getContext("2d", { willReadFrequently: true });
    const rect = surface.getBoundingClientRect();
    if (!ctx || (!at && !single)) return;
    const [x, y] = [((e.clientX - rect.left) / rect.width) * surface.width, ((e.clientY - rect.top) / rect.height) *
      surface.height];
    if (single) {
      single(colourAt(ctx, Math.floor(x), Math.floor(y)));
      onClose();
      return;
    }
    setRead({ ...read, [at]: colourAt(ctx, Math.floor(x), Math.floor(y)) });
    const next = parts[parts.findIndex((p) => p.id === at) + 1];
    if (next) setAt(next.id);
  };
  const finish = () => {
    const changes = Object.entries(read).map(([part, base]) => ({ kind: "change_part" as const, part, base }));
    void edit({ kind: "several", edits: changes });
    onClose();
  };
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle>{single ? "Take a colour from another picture" : "Read base colours from a picture"}</DialogTitle>
      <DialogContent sx={{ display: "grid", gridTemplateColumns: single ? "1fr" : "1fr 220px", gap: 2,
        minHeight: 380 }}>
        <Box onDragOver={(e) => e.preventDefault()} onDrop={(e) => { e.preventDefault(); e.stopPropagation();
          void open(e.dataTransfer.files[0]); }}
          sx={{ bgcolor: "#8b8b8b", display: "grid", placeContent: "center", minHeight: 360, borderRadius: 1, p: 1 }}>
          {bitmap
            ? <canvas ref={canvas} onClick={take} aria-label="Picture to read from"
              style={{ maxWidth: "100%", maxHeight: 460, cursor: "crosshair" }} />
            : (
              <FileButton label="Picture to read from" accept="image/*" variant="contained"
                onFiles={([file]) => void open(file)}>
                Choose a picture, or drop one here
              </FileButton>
            )}
        </Box>
        {!single && <Box role="listbox" aria-label="Parts to read" sx={{ overflowY: "auto", maxHeight: 480 }}>
          {parts.map((p) => (
            <ButtonBase key={p.id} role="option" aria-selected={p.id === at} onClick={() => setAt(p.id)}
              sx={{ width: "100%", minHeight: 38, px: 1, gap: 1, justifyContent: "flex-start", borderRadius: 1,
                outline: p.id === at ? "2px dashed" : "none", outlineColor: "primary.main", outlineOffset: -2 }}>
              <Box sx={{ width: 18, height: 18, borderRadius: "50%", bgcolor: read[p.id] ?? p.base, border: 1,
                borderColor: "divider" }} />
              <Typography variant="body1" noWrap sx={{ flex: 1, textAlign: "left" }}>{p.name}</Typography>
              {read[p.id] && <Figure size={11}>{read[p.id]}</Figure>}
            </ButtonBase>
          ))}
        </Box>}
      </DialogContent>
      <DialogActions sx={{ px: 3, pb: 2 }}>
        <Typography variant="body2" sx={{ flex: 1 }}>{!bitmap ? "A reference, an older piece, a photo." : single
          ? "Click the colour." : "Click the colour of the part that is marked; the next one follows."}</Typography>
        <Button color="inherit" onClick={onClose}>Cancel</Button>
        {!single && <Button variant="contained" disabled={Object.keys(read).length === 0}
          onClick={finish}>Use {Object.keys(read).length} colours</Button>}
      </DialogActions>
    </Dialog>
  );
}
