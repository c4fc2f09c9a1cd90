import Alert from "@mui/material/Alert";
import Button from "@mui/material/Button";
import Snackbar from "@mui/material/Snackbar";
import { useNotice } from "../api/notice";

const SHORT_MS = 4500;
const LONG_MS = 9000; // for what is to be read or undone

export function Notices() {
  const { notice, close } = useNotice();
  const undo = notice?.undo;
  return (
    <Snackbar key={notice?.text} open={notice !== null} onClose={(_, why) => why !== "clickaway" && close()}
      autoHideDuration={notice?.tone === "error" || undo ? LONG_MS : SHORT_MS}
      anchorOrigin={{ vertical: "bottom", horizontal: "center" }} sx={{ mb: 6 }}>
      <Alert severity={notice?.tone === "error" ? "warning" : "info"} variant="filled"
        onClose={undo ? undefined : close}
        action={undo && <Button color="inherit" onClick={() => {
          close();
          undo();
        }}>Undo</Button>}
        sx={{ maxWidth: 560, overflowWrap: "anywhere", bgcolor: "text.primary", color: "background.paper" }}>
        {notice?.text}
      </Alert>
    </Snackbar>
  );
}
