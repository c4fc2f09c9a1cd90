import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { Link } from "react-router";

export function LostPage({ detail = "There is no page at this address." }: { detail?: string }) {
  return (
    <Box sx={{ height: "100%", display: "grid", placeContent: "center", gap: 2, textAlign: "center" }}>
      <Typography variant="h1">Nothing here</Typography>
      <Typography variant="body1">{detail}</Typography>
      <Button component={Link} to="/" variant="contained">Back to all pieces</Button>
    </Box>
  );
}
