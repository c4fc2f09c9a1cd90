import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, useState } from "react";
import type { Edit, LineStretch, Piece } from "../../api/client";
import { ColourField } from "../../colour/ColourField";
import { Figure } from "../../theme/Figure";
import type { LiveEdit } from "../useLiveEdit";
import { stretchKey, stretchName } from "./stretches";

const SHOWN = 14;

/** Every line by what it bounds, the longest first, with its colour. */
export function StretchList({ piece, stretches, live, chosen, onChoose, onPoint }: {
  piece: Piece; stretches: LineStretch[]; live: LiveEdit; chosen: string | null;
  onChoose: (key: string | null) => void; onPoint: (key: string | null) => void;
}) {
  const list = useRef<HTMLUListElement>(null);
  const [all, setAll] = useState(false);
  const at = stretches.findIndex((s) => stretchKey(s) === chosen);
  const most = all ? stretches.length : Math.max(SHOWN, at + 1);
  useEffect(() => {
    if (chosen) list.current?.querySelector(`[data-line="${chosen}"]`)?.scrollIntoView({ block: "nearest" });
  }, [chosen]);
  const on = piece.recipe.ink.on;
  return (
    <Box sx={{ pb: 1 }}>
      <Box component="ul" ref={list} aria-label="Lines" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {stretches.slice(0, most).map((s) => {
          const key = stretchKey(s);
          const name = stretchName(s, piece.recipe.parts);
          const edit = (colour: string | null): Edit => ({ kind: "colour_line", part: s.part,
            beside: s.beside as "ground", colour });
          return (
            <Box component="li" key={key} data-line={key} onPointerEnter={() => onPoint(key)}
              onPointerLeave={() => onPoint(null)} onFocus={() => onPoint(key)} onBlur={() => onPoint(null)}
              sx={{ display: "grid", gridTemplateColumns: "minmax(0, 1fr) auto auto", alignItems: "center",
                columnGap: 1, minHeight: 40, borderTop: 1, borderColor: "divider",
                outline: chosen === key ? "2px dashed" : "none", outlineColor: "primary.main",
                outlineOffset: -2 }}>
              {on ? (
                <ColourField label={`Lines of ${name}`} value={s.colour} onCancel={live.drop}
                  onShow={(hex) => live.show(edit(hex))}
                  onMake={(hex) => { onChoose(key); void live.make(edit(hex)); }}>
                  <Swatched stretch={s} name={name} />
                </ColourField>
              ) : (
                <Box sx={{ display: "flex", alignItems: "center", gap: 1.25 }}>
                  <Swatched stretch={s} name={name} />
                </Box>
              )}
              <Box sx={{ color: s.mend ? "error.main" : "text.secondary", textAlign: "right" }}
                title="Step (CIEDE2000) from the nearer side">
                <Figure>{s.mend ? "faint " : ""}{s.step.toFixed(1)}</Figure></Box>
              {s.own && on ? (
                <Button color="inherit" aria-label={`By the rule: ${name}`} onClick={() => void live.make(edit(null))}
                  sx={{ minWidth: 0, color: "text.secondary" }}>By rule</Button>
              ) : <span />}
            </Box>
          );
        })}
      </Box>
      {stretches.length > most && (
        <Button color="inherit" onClick={() => setAll(true)}>Show {stretches.length - most} more lines</Button>
      )}
    </Box>
  );
}

function Swatched({ stretch, name }: { stretch: LineStretch; name: string }) {
  return (
    <>
      <Box aria-hidden sx={{ width: 40, height: 10, borderRadius: 1, bgcolor: stretch.colour, flexShrink: 0 }} />
      <Typography component="span" variant="body1" noWrap title={name}>{name}</Typography>
    </>
  );
}
