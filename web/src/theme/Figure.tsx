import Box from "@mui/material/Box";
import type { ReactNode } from "react";
import { NUMERALS } from "./theme";

/** A number that was measured. */
export function Figure({ children, size = 12.5 }: { children: ReactNode; size?: number }) {
  return <Box component="span"
    sx={{ fontFamily: NUMERALS, fontSize: size, fontWeight: 400, letterSpacing: "-0.04em", wordSpacing: "-0.3em",
      whiteSpace: "nowrap" }}>{children}</Box>;
}
