import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";

/** The middle band: the picture, and beside it the bench of the step. */
export function Workplace({ picture, title, lead, wide = false, onDropFile, children }: {
  picture: ReactNode; title: string; lead: string; wide?: boolean; children: ReactNode;
  /** A file dropped on the bench. */
  onDropFile?: (file: File) => void;
}) {
  return (
    <Box sx={{ display: "flex", flex: 1, minHeight: 0, minWidth: 0 }}>
      <Box sx={{ flex: 1, minWidth: 0 }}>{picture}</Box>
      <Box component="section" aria-label={title}
        onDragOver={(e: React.DragEvent) => { if (onDropFile) e.preventDefault(); }} onDrop={(e: React.DragEvent) => {
        const file = e.dataTransfer.files[0];
        if (!file || !onDropFile) return;
        e.preventDefault();
        onDropFile(file);
      }} sx={{ width: wide ? "clamp(440px, 40vw, 680px)" : "clamp(380px, 34vw, 520px)", overflowY: "auto",
        bgcolor: "background.paper", borderLeft: 1, borderColor: "divider", p: 2, display: "flex",
          flexDirection: "column" }}>
        <Typography variant="h2" component="h1">{title}</Typography>
        <Typography variant="body2" sx={{ mb: 1.5 }}>{lead}</Typography>
        {children}
      </Box>
    </Box>
  );
}
