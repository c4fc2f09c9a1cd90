import Alert from "@mui/material/Alert";
import Snackbar from "@mui/material/Snackbar";
import { useNotice } from "../api/notice";

export function Notices() {
  const { notice, close } = useNotice();
  return (
    <Snackbar key={notice?.text} open={notice !== null} onClose={(_, why) => why !== "clickaway" && close()}
      autoHideDuration={notice?.tone === "error" ? 9000 : 4500}
      anchorOrigin={{ vertical: "bottom", horizontal: "center" }} sx={{ mb: 6 }}>
      <Alert severity={notice?.tone === "error" ? "warning" : "info"} variant="filled" onClose={close}
        sx={{ maxWidth: 560, overflowWrap: "anywhere", bgcolor: "text.primary", color: "background.paper" }}>
        {notice?.text}
      </Alert>
    </Snackbar>
  );
}
