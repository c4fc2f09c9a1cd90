import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { Figure } from "../../theme/Figure";

type StackLine = Schemas["StackLine"];

/** The layers from top to bottom; a dashed seam joins what is clipped to what. */
export function StackList({ stack }: { stack: StackLine[] | undefined }) {
  if (!stack) return <Typography variant="body2">Listing the layers …</Typography>;
  const layers = stack.filter((l) => l.kind === "layer").length;
  return (
    <>
      <Typography variant="h3" sx={{ mb: 1 }}>
        The stack, top to bottom <Figure size={12}>{layers} layers</Figure>
      </Typography>
      <Box component="ol" aria-label="Layers" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {stack.map((line) => <Line key={`${line.kind}-${line.name}`} line={line} />)}
      </Box>
    </>
  );
}

function Line({ line }: { line: StackLine }) {
  const group = line.kind === "group";
  return (
    <Box component="li" sx={{
      display: "grid", gridTemplateColumns: "26px 1fr auto", alignItems: "center", columnGap: 1, minHeight: group ? 32 : 28,
      ml: line.depth * 2.5, mt: group ? 0.75 : 0, pl: 1,
      borderLeft: line.depth ? "2px dashed" : "2px solid", borderColor: line.clipped_to ? "primary.main" : line.depth ? "primary.main" : "transparent",
    }}>
      {line.colour
        ? <Box sx={{ width: 24, height: 16, borderRadius: 0.5, bgcolor: line.colour, border: 1, borderColor: "divider" }} />
        : <Box sx={{ width: 24, height: 10, borderTop: 2, borderBottom: 2, borderColor: "text.secondary" }} />}
      <Box sx={{ overflow: "hidden", textOverflow: "ellipsis", whiteSpace: "nowrap", fontWeight: group ? 620 : 400, fontSize: 13 }}>{line.name}</Box>
      <Typography variant="body2" sx={{ fontSize: 12, whiteSpace: "nowrap" }}>
        {group ? "group" : !line.visible ? "hidden, a selection" : line.mode !== "normal" ? <>{line.mode} <Figure size={12}>{Math.round(line.opacity * 100)} %</Figure>{line.clipped_to ? ", clipped" : ""}</> : ""}
      </Typography>
    </Box>
  );
}
