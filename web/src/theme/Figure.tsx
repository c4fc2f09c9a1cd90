import Box from "@mui/material/Box";
import type { ReactNode } from "react";
import { NUMERALS } from "./theme";

/** A number that was measured. */
export function Figure({ children, size = 13 }: { children: ReactNode; size?: number }) {
  return <Box component="span" sx={{ fontFamily: NUMERALS, fontSize: size, whiteSpace: "nowrap" }}>{children}</Box>;
}
