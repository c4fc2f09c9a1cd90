import type { Binding } from "./keys";
import { Rail } from "./Rail";
import { useKeys } from "./useKeys";

const SIZES = [4, 400] as const;
const STEP = 1.2;

/** How wide a pen draws, in picture pixels. */
export function PenSize({ size, onSize, keys }: { size: number; onSize: (change: (size: number) => number) => void;
  keys: Record<"smaller" | "larger", Binding> }) {
  useKeys(keys.smaller, () => onSize((s) => Math.max(SIZES[0], Math.round(s / STEP))));
  useKeys(keys.larger, () => onSize((s) => Math.min(SIZES[1], Math.round(s * STEP))));
  const to = (v: number) => onSize(() => v);
  return <Rail label="Pen" min={SIZES[0]} max={SIZES[1]} value={size} says={(v) => `${v} px`} onShow={to}
    onMake={to} />;
}
