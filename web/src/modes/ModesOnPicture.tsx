import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Piece } from "../api/client";
import { useMeta, useModes } from "../api/pieces";
import { clips } from "./clips";
import { Formula } from "./Formula";

const EDGE = 132; // px of the longer edge of a picture in a mode

/** A finish layer or a pass in every blend mode, on the picture itself, and what the pointed one does. */
export function ModesOnPicture({ piece, look = "piece", name, mode, onChoose }: {
  piece: Piece; look?: string; name: string; mode: string; onChoose: (mode: string) => void;
}) {
  const modes = useMeta().data?.modes ?? [];
  const seen = useModes(piece, look, name).data;
  const [pointed, setPointed] = useState<string | null>(null);
  const scale = EDGE / Math.max(piece.width, piece.height);
  const [width, height] = [Math.round(piece.width * scale), Math.round(piece.height * scale)];
  return (
    <>
      <Box sx={{ minHeight: 92, my: 0.5 }}><Formula mode={pointed ?? mode} named /></Box>
      <Box role="radiogroup" aria-label="Modes on this picture" sx={{ display: "grid",
        gridTemplateColumns: `repeat(auto-fill, minmax(${Math.max(104, width)}px, 1fr))`, gap: 0.5, mb: 1 }}>
        {modes.map((one, k) => {
          const told = seen?.find((s) => s.mode === one);
          const runs = told && clips(told) ? `${Math.round(100 * told.clipped)} % ` : null;
          return (
            <ButtonBase key={one} role="radio" aria-checked={one === mode}
              aria-label={runs ? `${one}, ${runs}runs out of range` : one} onClick={() => onChoose(one)}
              onPointerEnter={() => setPointed(one)} onPointerLeave={() => setPointed(null)}
              onFocus={() => setPointed(one)} onBlur={() => setPointed(null)}
              sx={{ display: "grid", justifyItems: "center", p: 0.5, borderRadius: 1, outline: one === mode
                ? "2px dashed" : "none", outlineColor: "primary.main", "&:hover": { bgcolor: "action.hover" } }}>
              <Box aria-hidden sx={{ width, height, borderRadius: 0.5, backgroundColor: "divider",
                backgroundImage: `url(/api/pieces/${piece.id}/modes/${name}/picture?edge=${EDGE}`
                  + `&look=${look}&revision=${piece.revision})`, backgroundPosition: `0 ${-k * height}px`,
                backgroundSize: `${width}px ${modes.length * height}px` }} />
              <span style={{ fontSize: 12 }}>{one}</span>
              <Typography variant="body2" sx={{ fontSize: 11, minHeight: 16 }}>
                {told && (runs ? `${runs}out of range` : `a step of ${told.step.toFixed(0)}`)}
              </Typography>
            </ButtonBase>
          );
        })}
      </Box>
    </>
  );
}
