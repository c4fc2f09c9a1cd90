import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, need } from "../api/client";
import { tellProblem, tellUndoable } from "../api/notice";
import { useLayeredFiles } from "../api/stacks";

/** Layered files that came in; nothing at all if there are none. */
export function LayeredList() {
  const { data: files } = useLayeredFiles();
  const client = useQueryClient();
  if (!files?.length) return null;
  const remove = async (id: number) => {
    try {
      await need(api.DELETE("/api/layered/{file_id}", { params: { path: { file_id: id } } }));
      tellUndoable("Removed from Wardrobe. The file on your disk is as it was.", () => void putBack(id));
    } catch (error) {
      tellProblem(error);
    }
    await client.invalidateQueries({ queryKey: ["layered-files"] });
  };
  const putBack = async (id: number) => {
    try {
      await need(api.POST("/api/layered/{file_id}/put-back", { params: { path: { file_id: id } } }));
    } catch (error) {
      tellProblem(error);
    }
    await client.invalidateQueries({ queryKey: ["layered-files"] });
  };
  return (
    <Box component="section" aria-label="Layered files" sx={{ px: 4, pb: 5, maxWidth: 1640, mx: "auto" }}>
      <Typography variant="h2" sx={{ mb: 1 }}>Layered files</Typography>
      <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0, display: "grid", gap: 1, gridTemplateColumns:
        "repeat(auto-fill, minmax(320px, 1fr))" }}>
        {files.map((f) => (
          <Box component="li" key={f.id}
            sx={{ display: "flex", alignItems: "center", bgcolor: "background.paper", border: 1, borderColor: "divider",
              borderRadius: 1, px: 1.5, py: 0.5 }}>
            <Box sx={{ flex: 1, minWidth: 0, overflow: "hidden", textOverflow: "ellipsis",
              whiteSpace: "nowrap" }}>{f.title}</Box>
            <Button component={Link} to={`/layered/${f.id}`} color="inherit">Open</Button>
            <Button color="inherit" aria-label={`Remove ${f.title}`} sx={{ minWidth: 0, color: "text.secondary" }}
              onClick={() => void remove(f.id)}>Remove</Button>
          </Box>
        ))}
      </Box>
    </Box>
  );
}
