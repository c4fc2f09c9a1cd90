import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { toProblem } from "../api/client";
import { piecesQuery } from "../api/pieces";
import { useSurround } from "../theme/theme";
import { Board } from "./Board";
import { Characters } from "./Characters";
import { LayeredList } from "./LayeredList";
import { SeriesList } from "./SeriesList";

const NewPiece = lazy(async () => ({ default: (await import("./NewPiece")).NewPiece }));

export function Home() {
  const { data: pieces, error } = useQuery(piecesQuery);
  const [open, setOpen] = useState<{ file: File | null } | null>(null);
  const [over, setOver] = useState(false);
  const surround = useSurround();
  const scroller = useRef<HTMLDivElement>(null);
  // What lies below the pieces waits until their pictures have been asked for.
  const [below, setBelow] = useState(false);
  useEffect(() => {
    const after = setTimeout(() => setBelow(true), pieces ? 60 : 600);
    return () => clearTimeout(after);
  }, [pieces]);

  useEffect(() => {
    let depth = 0;
    const carriesFile = (e: DragEvent) => e.dataTransfer?.types.includes("Files") ?? false;
    const enter = (e: DragEvent) => { if (carriesFile(e)) { depth += 1; setOver(true); } };
    const leave = () => { depth = Math.max(0, depth - 1); if (!depth) setOver(false); };
    const overIt = (e: DragEvent) => { if (carriesFile(e)) e.preventDefault(); };
    const drop = (e: DragEvent) => {
      e.preventDefault();
      depth = 0;
      setOver(false);
      const file = e.dataTransfer?.files[0];
      if (file) setOpen({ file });
    };
    window.addEventListener("dragenter", enter);
    window.addEventListener("dragleave", leave);
    window.addEventListener("dragover", overIt);
    window.addEventListener("drop", drop);
    return () => {
      window.removeEventListener("dragenter", enter);
      window.removeEventListener("dragleave", leave);
      window.removeEventListener("dragover", overIt);
      window.removeEventListener("drop", drop);
    };
  }, []);

  return (
    <Box ref={scroller} sx={{ height: "100%", overflowY: "auto" }}>
      <title>Wardrobe</title>
      <Box component="header" sx={{ display: "flex", alignItems: "center", gap: 2, px: 4, height: 72,
        bgcolor: "background.paper", borderBottom: 1, borderColor: "divider" }}>
        <img src="/icon.svg" alt="" width={34} height={34} />
        <Typography variant="h1">Wardrobe</Typography>
        <Typography variant="body2" sx={{ ml: 1 }}>Drop line art anywhere to start a piece;
          a coloured picture or a layered file to judge it.</Typography>
        <Box sx={{ flex: 1 }} />
        <Button color="inherit" component={Link} to="/learn">Practise</Button>
        <Button color="inherit" component={Link} to="/log">Log and figures</Button>
        <Button color="inherit" onClick={surround.toggle}>{surround.surround === "light" ? "Dark surround"
          : "Light surround"}</Button>
        <Button variant="contained" onClick={() => setOpen({ file: null })}>New piece</Button>
      </Box>
      <Box component="main">
        {error && <Typography variant="body1" role="alert" sx={{ p: 4 }}>{toProblem(error).message}</Typography>}
        {pieces && pieces.length > 0 && <Board pieces={pieces} scroller={scroller} />}
        {pieces?.length === 0 && (
          <Box sx={{ textAlign: "center", py: 12 }}>
            <Typography variant="h2">No pieces yet</Typography>
            <Typography variant="body1" sx={{ my: 1.5 }}>Drop a drawing here: PNG, JPEG, WebP, TIFF or SVG. Dark lines
              on white or on nothing work best.</Typography>
            <Button variant="contained" onClick={() => setOpen({ file: null })}>New piece</Button>
          </Box>
        )}
      </Box>
      {below && <><SeriesList /><Characters /><LayeredList /></>}
      {over && (
        <Box sx={{ position: "fixed", inset: 16, border: "3px dashed", borderColor: "primary.main", borderRadius: 2,
          bgcolor: "background.paper", opacity: 0.94, display: "grid", placeContent: "center", pointerEvents: "none",
            zIndex: 10 }}>
          <Typography variant="h1">Let go to bring it in</Typography>
        </Box>
      )}
      {open && <Suspense fallback={null}><NewPiece key={open.file?.name ?? ""} file={open.file}
        onClose={() => setOpen(null)} /></Suspense>}
    </Box>
  );
}
