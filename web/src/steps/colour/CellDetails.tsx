import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { SheetCell } from "../../api/client";
import { Figure } from "../../theme/Figure";
import { MARKS } from "./marks";

/** How a colour came about, how far it is from the base, and the way back to the rule. */
export function CellDetails({ cell, onGiveBack }: { cell: SheetCell; onGiveBack: () => void }) {
  const mark = cell.mark ? MARKS[cell.mark] : undefined;
  if (cell.name === "base") return null;
  return (
    <Box sx={{ width: 316, px: 2, pt: 2, mb: -0.5 }}>
      <Typography variant="body2">
        <Figure>{cell.step.toFixed(1)}</Figure> ΔE from the base, L* <Figure>{cell.lightness > 0 ? "+"
          : "−"}{Math.abs(cell.lightness).toFixed(1)}</Figure>
      </Typography>
      <Typography variant="body2" sx={{ overflowWrap: "anywhere" }}>{cell.own
        ? "Your own choice; the rule leaves it alone." : `= ${cell.how}`}</Typography>
      {mark && <Typography variant="body2" sx={{ color: "text.primary" }}><span
        aria-hidden>{mark.sign} </span>{mark.word}: {mark.why}.</Typography>}
      {cell.own && <Button variant="outlined" fullWidth sx={{ mt: 1 }} onClick={onGiveBack}>Give it back to the
        rule</Button>}
    </Box>
  );
}
