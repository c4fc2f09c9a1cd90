import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { Link } from "react-router";
import { useLayeredFiles } from "../../api/stacks";
import { BringIn } from "../../home/BringIn";
import { PictureView } from "../../picture/PictureView";
import { Workplace } from "../../shell/Workplace";
import { FileButton } from "../../ui/FileButton";
import type { SideProps } from "../StepProps";

/** Files that were painted on elsewhere. */
export function TakeBack({ piece, tabs }: SideProps) {
  const { data: files } = useLayeredFiles(piece.id);
  const [file, setFile] = useState<File | null>(null);
  return (
    <Workplace title="Take back"
      lead="A layered file that was painted on elsewhere: look at it, check it, take over what was changed."
        onDropFile={setFile}
      picture={<PictureView piece={piece} kind="picture" />}>
      {tabs}
      <FileButton label="Layered file" accept=".ora,image/openraster" variant="outlined"
        sx={{ height: 72, borderStyle: "dashed", flexShrink: 0 }} onFiles={([next = null]) => setFile(next)}>
        Choose a layered file (OpenRaster), or drop it here
      </FileButton>
      <Typography variant="body2" sx={{ my: 1 }}>
        Layers are matched to parts and passes by their names, and by where they are painted. A shade that was painted
          by hand becomes touch-ups of the pass, so that it follows new colours and is seen by every check. The file
            itself is never changed.
      </Typography>
      {files?.length ? <Typography variant="h3" component="h2" sx={{ mt: 1 }}>Taken in</Typography> : null}
      <Box component="ul" aria-label="Files taken in" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {files?.map((f) => (
          <Box component="li" key={f.id}
            sx={{ display: "flex", alignItems: "center", gap: 1, minHeight: 40, borderTop: 1, borderColor: "divider" }}>
            <Box sx={{ flex: 1, minWidth: 0, overflow: "hidden", textOverflow: "ellipsis" }}>{f.title}</Box>
            <Button component={Link} to={`/layered/${f.id}`} color="inherit">Open</Button>
          </Box>
        ))}
      </Box>
      {file && <BringIn file={file} piece={piece.id} onClose={() => setFile(null)} />}
    </Workplace>
  );
}
