import Box from "@mui/material/Box";
import { NUMERALS } from "../theme/theme";
import { shown, type Binding } from "./keys";

/** A key beside what it does; for the eye only, `aria-keyshortcuts` tells others. */
export function Key({ of, only }: { of: Binding; only?: string }) {
  return (
    <Box component="kbd" aria-hidden
      sx={{ fontFamily: NUMERALS, fontSize: 11, px: 0.6, ml: 0.75, borderBottom: 1, borderColor: "text.secondary",
        color: "text.secondary", ".MuiButton-contained &": { color: "inherit", borderColor: "currentColor" } }}>
      {shown(only ?? of.on[0] ?? "")}
    </Box>
  );
}
