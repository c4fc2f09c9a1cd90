import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import { useEffect, useRef } from "react";
import type { Edit, FinishLayer } from "../../api/client";
import { Figure } from "../../theme/Figure";
import { pressed } from "../../ui/keys";
import { FINISH } from "./keys";
import { changeOf, say, swatch } from "./finish";

const CHECKS = "repeating-conic-gradient(#b9b9b9 0 25%, #e9e9e9 0 50%) 0 0 / 10px 10px";

/** The layers, the topmost first; the lines lie where the list says so. */
export function LayerList({ layers, chosen, onChoose, make }: {
  layers: FinishLayer[]; chosen: string | null; onChoose: (id: string | null) => void;
    make: (edit: Edit) => Promise<unknown>;
}) {
  const list = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!chosen) return;
    // The list itself first: it has become lower.
    for (const shown of [list.current, list.current?.querySelector(`[data-layer="${chosen}"]`)])
      shown?.scrollIntoView?.({ block: "nearest" });
  }, [chosen, layers.length]);
  const shown = [...layers].reverse();
  const focus = (id: string | undefined) => {
    if (!id) return;
    onChoose(id);
    requestAnimationFrame(() => list.current?.querySelector<HTMLElement>(`[data-layer="${id}"]`)?.focus());
  };
  const move = (id: string, up: boolean) => {
    const at = layers.findIndex((f) => f.id === id);
    const beside = layers[at + (up ? 1 : -1)];
    if (!beside) return;
    const below = up ? layers[at + 2]?.id : beside.id;
    void make({ kind: "move_finish", layer: id, ...(below ? { below } : {}) }).then(() => focus(id));
  };
  const onKeyDown = (e: React.KeyboardEvent, layer: FinishLayer, k: number) => {
    if (e.target !== e.currentTarget) return;
    const up = e.key === "ArrowUp";
    if (pressed(FINISH.order, e.nativeEvent)) move(layer.id, up);
    else if (pressed(FINISH.move, e.nativeEvent)) focus(shown[k + (up ? -1 : 1)]?.id);
    else if (e.key === "Enter" || e.key === " ") onChoose(chosen === layer.id ? null : layer.id);
    else if (e.key === "Escape") onChoose(null);
    else if (pressed(FINISH.remove, e.nativeEvent)) void
      make({ kind: "remove_finish", layers: [layer.id] }).then(() => focus(shown[k + 1]?.id ?? shown[k - 1]?.id));
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  return (
    <Box ref={list} role="grid" aria-label="Finish layers" sx={{ mb: 1, flexShrink: 0,
      ...(chosen && { maxHeight: "max(220px, 36vh)", overflowY: "auto" }) }}>
      {shown.map((layer, k) => {
        const on = layer.visible !== false;
        const selected = chosen === layer.id;
        const seam = !layer.over_lines && (k === 0 || shown[k - 1]?.over_lines);
        return (
          <Box key={layer.id}>
            {seam && <Box aria-hidden
              sx={{ display: "flex", alignItems: "center", gap: 1, color: "text.secondary", fontSize: 12, my: 0.25,
                "&::after": { content: '""', flex: 1, borderTop: "2px dashed", borderColor: "divider" } }}>lines</Box>}
            <Box role="row" aria-selected={selected} aria-label={`${layer.name}, ${say(layer)}`}
              tabIndex={selected || (!chosen && k === 0) ? 0 : -1} data-layer={layer.id}
              onClick={() => onChoose(selected ? null : layer.id)} onKeyDown={(e) => onKeyDown(e, layer, k)}
              sx={{
                display: "grid", gridTemplateColumns: "36px 44px 1fr auto auto", alignItems: "center", columnGap: 1,
                  minHeight: 42, borderRadius: 1, cursor: "pointer", opacity: on ? 1 : 0.55,
                outline: selected ? "2px dashed" : "none", outlineColor: "primary.main", outlineOffset: -2,
                  "&:hover": { bgcolor: "action.hover" },
              }}>
              <Box role="gridcell">
              <IconButton aria-label={on ? `Switch ${layer.name} off` : `Switch ${layer.name} on`} aria-pressed={on}
                tabIndex={selected ? 0 : -1}
                onClick={(e) => { e.stopPropagation(); void make(changeOf(layer.id, { ...layer, visible: !on })); }}>
                <svg width="16" height="16" viewBox="0 0 16 16" fill="none" stroke="currentColor"
                  strokeWidth="1.5"><circle cx="8" cy="8" r="5.500" />{on && <circle cx="8" cy="8" r="2.500"
                    fill="currentColor" />}</svg>
              </IconButton>
              </Box>
              <Box aria-hidden sx={{ width: 40, height: 26, borderRadius: 1, border: 1, borderColor: "divider",
                background: `${swatch(layer.paint)}, ${CHECKS}`, backgroundColor: layer.paint.kind === "colour"
                  ? layer.paint.colour : undefined }}
                style={layer.paint.kind === "gradient" ? undefined : { background: swatch(layer.paint) }} />
              <Box role="gridcell" sx={{ minWidth: 0, overflow: "hidden", textOverflow: "ellipsis",
                whiteSpace: "nowrap", fontWeight: selected ? 640 : 450 }}>{layer.name}</Box>
              <Box role="gridcell"><Figure size={12}>{say(layer)}</Figure></Box>
              <Box role="gridcell" sx={{ display: "flex", visibility: selected ? "visible" : "hidden" }}>
                <Step label={`Move ${layer.name} up`} path="M3 9l4-4 4 4" off={k === 0}
                  onClick={() => move(layer.id, true)} />
                <Step label={`Move ${layer.name} down`} path="M3 5l4 4 4-4" off={k === shown.length - 1}
                  onClick={() => move(layer.id, false)} />
              </Box>
            </Box>
          </Box>
        );
      })}
    </Box>
  );
}

function Step({ label, path, off, onClick }: { label: string; path: string; off: boolean; onClick: () => void }) {
  return (
    <Button color="inherit" aria-label={label} disabled={off} onClick={(e) => { e.stopPropagation(); onClick(); }}
      sx={{ minWidth: 28, px: 0 }}>
      <svg width="14" height="14" fill="none" stroke="currentColor" strokeWidth="1.6"><path d={path} /></svg>
    </Button>
  );
}
