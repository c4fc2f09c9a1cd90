import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import Typography from "@mui/material/Typography";
import type { StackFinding } from "../api/client";
import { useCamera } from "../picture/camera";
import { Figure } from "../theme/Figure";

const TITLES: Record<string, string> = {
  "unnamed": "No name of its own", "duplicate-name": "The same name twice", "empty": "Empty",
  "lines-not-on-top": "Lines are covered", "colour-on-lines": "Colour on the layer of the lines",
  "semi-transparent": "A flat that is not opaque", "two-colours": "Two colours on a flat",
  "not-flat": "Shading in the base", "speck": "Specks", "pinhole": "Pinholes", "unclaimed": "Places without a flat",
  "outside-silhouette": "Paint outside the figure", "outside-base": "Paint outside its base",
    "not-clipped": "Not clipped",
  "shade-wrong-way": "A shade that brightens", "light-wrong-way": "A light that darkens",
    "light-disagrees": "Another light",
  "differs": "Differs from its like", "leftover": "Leftovers", "hidden": "Hidden, but it matters",
};

/** Findings that count something other than pixels, and say so in words. */
const COUNTED = new Set(["unnamed", "duplicate-name", "empty", "differs", "leftover", "light-disagrees",
  "shade-wrong-way", "light-wrong-way"]);

interface Props {
  findings: StackFinding[];
  lit: number | null;
  onLight: (index: number | null) => void;
  /** Places in the list that are to be repaired; without it there is nothing to choose. */
  chosen?: ReadonlySet<number>;
  onChoose?: (chosen: ReadonlySet<number>) => void;
}

/** What a check noticed: what, where, why it matters, and what could be done. */
export function Findings({ findings, lit, onLight, chosen, onChoose }: Props) {
  const show = useCamera((s) => s.show);
  if (!findings.length) return <Typography sx={{ mt: 1 }}>Nothing to find fault with. The stack
    is in order.</Typography>;
  return (
    <Box component="ul" aria-label="Findings" sx={{ listStyle: "none", m: 0, p: 0 }}>
      {findings.map((f, k) => (
        <Box component="li" key={k} onPointerEnter={() => onLight(f.index ?? null)} onPointerLeave={() => onLight(null)}
          sx={{ display: "grid", gridTemplateColumns: chosen ? "36px 1fr auto" : "1fr auto", columnGap: 1,
            alignItems: "start", py: 0.75, borderTop: 1, borderColor: "divider", ...(lit !== null && lit === f.index
              && { bgcolor: "action.hover" }) }}>
          {chosen && (f.repair ? (
            <Checkbox checked={chosen.has(k)} sx={{ p: 0.5 }}
              slotProps={{ input: { "aria-label": `${f.repair}: ${f.layer || "the stack"}` } }}
              onChange={(_, on) => { const next = new Set(chosen); if (on) next.add(k); else next.delete(k);
                onChoose?.(next); }} />
          ) : <span />)}
          <Box sx={{ minWidth: 0 }}>
            <Box sx={{ fontWeight: 640, fontSize: 13.5 }}>{TITLES[f.code] ?? f.code}{f.layer && <Box component="span"
              sx={{ fontWeight: 400 }}> · {f.layer}</Box>}</Box>
            <Typography variant="body2">{!COUNTED.has(f.code) && <><Figure
              size={12}>{f.count.toLocaleString("en")} px</Figure>. </>}{f.message}{f.repair && chosen &&
                <> <b>{f.repair}.</b></>}</Typography>
          </Box>
          {f.box ? <Button size="small" color="inherit" onFocus={() => onLight(f.index ?? null)}
            onClick={() => { if (f.box) show(f.box); onLight(f.index ?? null); }}>Show</Button> : <span />}
        </Box>
      ))}
    </Box>
  );
}
