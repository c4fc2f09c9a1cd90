import Box from "@mui/material/Box";
import { useRef, useState } from "react";

interface Named { key: string; label: string }

/** Minutes moved over the seam between two steps; neither gets fewer than none. Sums stay. */
export function moved(plan: Record<string, number>, before: string, after: string,
  by: number): Record<string, number> {
  const [a, b] = [plan[before] ?? 0, plan[after] ?? 0];
  const step = a + b < 12 ? 0.25 : a + b < 120 ? 1 : 5;
  const first = Math.min(a + b, Math.max(0, Math.round((a + by) / step) * step));
  return { ...plan, [before]: first, [after]: a + b - first };
}

/** The seam between two steps of the tape: dragged, or moved with the arrow keys. */
export function PlanSeam({ before, after, plan, perPixel, onDraft, onPlan }: {
  before: Named; after: Named; plan: Record<string, number>;
  /** Minutes that a pixel of the tape stands for. */
  perPixel: () => number;
  onDraft: (plan: Record<string, number> | null) => void;
  onPlan: (plan: Record<string, number>) => void;
}) {
  const start = useRef<{ x: number; plan: Record<string, number> } | null>(null);
  const [on, setOn] = useState(false);
  const [a, b] = [plan[before.key] ?? 0, plan[after.key] ?? 0];
  const at = (x: number) => {
    const { current } = start;
    return current ? moved(current.plan, before.key, after.key, (x - current.x) * perPixel()) : plan;
  };
  const end = () => { start.current = null; setOn(false); };
  return (
    <Box role="separator" tabIndex={0} aria-orientation="vertical"
      aria-label={`Minutes between ${before.label} and ${after.label}`}
      aria-valuenow={Math.round(a)} aria-valuemin={0} aria-valuemax={Math.round(a + b)}
      aria-valuetext={`${before.label} ${Math.round(a)}, ${after.label} ${Math.round(b)} minutes`}
      onPointerDown={(e: React.PointerEvent) => {
        if (e.button !== 0) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        start.current = { x: e.clientX, plan };
        setOn(true);
      }}
      onPointerMove={(e: React.PointerEvent) => { if (start.current) onDraft(at(e.clientX)); }}
      onPointerUp={(e: React.PointerEvent) => {
        if (!start.current) return;
        const next = at(e.clientX);
        const changed = next[before.key] !== start.current.plan[before.key];
        end();
        if (changed) onPlan(next);
        else onDraft(null);
      }}
      onPointerCancel={() => { end(); onDraft(null); }}
      onKeyDown={(e: React.KeyboardEvent) => {
        const by = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
        if (e.key === "Escape" && start.current) { end(); onDraft(null); }
        if (!by) return;
        e.preventDefault();
        e.stopPropagation();
        const step = a + b < 12 ? 0.25 : a + b < 120 ? 1 : 5;
        const next = moved(plan, before.key, after.key, by * step);
        if (next[before.key] !== a) onPlan(next);
      }}
      sx={{ width: 14, mx: "-7px", zIndex: 1, cursor: "col-resize", touchAction: "none", position: "relative",
        "&::after": { content: '""', position: "absolute", left: 6, top: 8, bottom: 8, borderLeft: "2px dashed",
          borderColor: "primary.main", opacity: on ? 1 : 0 },
        "&:hover::after, &:focus-visible::after": { opacity: 1 }, "&:focus-visible": { outline: "none" } }} />
  );
}
