import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useMeta } from "../api/pieces";
import { NUMERALS } from "../theme/theme";

/** A blend mode by its formula, what it does and where it fails. */
export function Formula({ mode, named = false }: { mode: string; named?: boolean }) {
  const told = useMeta().data?.explained[mode];
  if (!told) return null;
  return (
    <>
      <Box component="code" sx={{ fontFamily: NUMERALS, fontSize: 12.5, display: "block", my: 0.25 }}>
        {named && <b>{mode}: </b>}B(cb, cs) = {told.formula}</Box>
      <Typography variant="body2">{told.does} <b>Where it fails:</b> {told.fails.charAt(0).toLowerCase()
        + told.fails.slice(1)}</Typography>
    </>
  );
}
