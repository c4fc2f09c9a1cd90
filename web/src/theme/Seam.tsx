import Box from "@mui/material/Box";

/** The dashed seam: what stands on it belongs together. */
export function Seam() {
  return <Box aria-hidden sx={{ borderTop: "2px dashed", borderColor: "primary.main", opacity: 0.75, my: 1.5 }} />;
}
