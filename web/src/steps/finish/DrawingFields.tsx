import { useState } from "react";
import type { AsDrawn } from "../../api/client";
import { ColourField } from "../../colour/ColourField";
import { perCent, Rail } from "../../ui/Rail";
import { Switched } from "./Switched";

/** How the tones of the drawing are printed. */
export function DrawingFields({ drawing, onShow, onMake, onCancel }: {
  drawing: AsDrawn; onShow: (next: AsDrawn) => void; onMake: (next: AsDrawn) => void; onCancel: () => void;
}) {
  const [paper, setPaper] = useState<number | null>(null);
  return (
    <>
      <ColourField label="Black becomes" value={drawing.tint} onShow={(tint) => onShow({ ...drawing, tint })}
        onMake={(tint) => onMake({ ...drawing, tint })} onCancel={onCancel} />
      <Switched label="In its own hues" on={drawing.hues} onChange={(hues) => onMake({ ...drawing, hues })} />
      <Switched label="Twice over itself" on={drawing.doubled}
        onChange={(doubled) => onMake({ ...drawing, doubled })} />
      <Rail label="Paper" value={paper ?? drawing.paper ?? 0} min={0} max={0.6} step={0.01}
        says={(v) => paper === null && drawing.paper === null ? "by noise" : perCent(v)}
        onShow={(v) => { setPaper(v); onShow({ ...drawing, paper: v }); }}
        onMake={(v) => { setPaper(null); onMake({ ...drawing, paper: v }); }} />
    </>
  );
}
