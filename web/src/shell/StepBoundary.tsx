import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Skeleton from "@mui/material/Skeleton";
import Typography from "@mui/material/Typography";
import { Component, Suspense, type ReactNode } from "react";

interface Props {
  label: string;
  children: ReactNode;
}

/** Around a step: grey while it is fetched; if it fails, what is unharmed and what to try. */
export class StepBoundary extends Component<Props, { failed: boolean }> {
  override state = { failed: false };

  static getDerivedStateFromError() {
    return { failed: true };
  }

  override render() {
    const { children, label } = this.props;
    if (!this.state.failed) return <Suspense fallback={<Waiting label={label} />}>{children}</Suspense>;
    return (
      <Box role="alert" sx={{ m: "auto", maxWidth: 460, p: 3 }}>
        <Typography variant="h2" component="h1">The step {label} ran into a mistake</Typography>
        <Typography variant="body1" sx={{ my: 1.5 }}>
          Your piece is unharmed: every change up to the last is saved. Try again;
            if it fails here each time, undo the last change, or go on in another step.
        </Typography>
        <Box sx={{ display: "flex", gap: 1 }}>
          <Button variant="outlined" onClick={() => this.setState({ failed: false })}>Try again</Button>
          <Button variant="outlined" onClick={() => window.location.reload()}>Load the page anew</Button>
        </Box>
      </Box>
    );
  }
}

function Waiting({ label }: { label: string }) {
  return (
    <Box aria-busy sx={{ display: "flex", flex: 1 }}>
      <Box sx={{ flex: 1, bgcolor: "#8c8c8c" }} />
      <Box sx={{ width: "clamp(380px, 34vw, 520px)", p: 2, bgcolor: "background.paper", borderLeft: 1,
        borderColor: "divider" }}>
        <Typography variant="h2" component="h1">{label}</Typography>
        <Skeleton width="90%" />
        <Skeleton width="70%" sx={{ mb: 2 }} />
        {[0, 1, 2, 3].map((k) => <Skeleton key={k} height={44} />)}
      </Box>
    </Box>
  );
}
