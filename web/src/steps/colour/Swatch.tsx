import Box from "@mui/material/Box";
import type { SheetCell } from "../../api/client";
import { Figure } from "../../theme/Figure";
import { MARKS } from "./marks";

export const SWATCH_HEIGHT = 42;

const TAG = { position: "absolute", px: 0.4, borderRadius: 0.5, bgcolor: "rgba(246,246,246,.9)", color: "#1b1b1b",
  lineHeight: 1.25, fontSize: 11, display: "flex", alignItems: "center", gap: 0.4, pointerEvents: "none" } as const;

/** How far a pass is seen to lie from its base, CIEDE2000. */
export const steps = ({ step }: SheetCell) => step.toFixed(step < 9.95 ? 1 : 0);

/** The colour that is seen, its step, its mark, and whether the part chose it. */
export function Swatch({ cell, base, narrow }: { cell: SheetCell; base?: boolean; narrow?: boolean }) {
  const mark = cell.mark ? MARKS[cell.mark] : undefined;
  return (
    <Box aria-hidden sx={{ position: "relative", width: "100%", height: SWATCH_HEIGHT, borderRadius: 1,
      bgcolor: cell.colour, border: 1, borderColor: "divider", outline: mark && cell.mark !== "not drawn" ? "2px solid"
        : "none", outlineColor: "text.primary", outlineOffset: -1, overflow: "hidden" }}>
      {mark && <Box component="span" sx={{ ...TAG, left: 3, top: 3, bgcolor: "#1b1b1b", color: "#f6f6f6" }}><span
        aria-hidden>{mark.sign}</span>{!narrow && mark.word}</Box>}{" "}
      {cell.own && <Box component="span" aria-hidden
        sx={{ position: "absolute", right: 0, top: 0, width: 0, height: 0, borderTop: "13px solid",
          borderLeft: "13px solid transparent", borderTopColor: "primary.main" }} />}
      {!(base && narrow) && (
        <Box component="span" sx={{ ...TAG, right: 3, bottom: 3 }}>
          <Figure size={11}>{base ? cell.colour : steps(cell)}</Figure>
        </Box>
      )}
    </Box>
  );
}
