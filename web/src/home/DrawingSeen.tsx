import Box from "@mui/material/Box";
import { useEffect, useRef, useState } from "react";

/** A drawing as it was dropped, at once, while nothing of it is worked out yet. */
export function DrawingSeen({ file }: { file: File }) {
  const picture = useRef<HTMLImageElement>(null);
  const [shown, setShown] = useState(false);
  useEffect(() => {
    const url = URL.createObjectURL(file);
    if (picture.current) picture.current.src = url;
    return () => URL.revokeObjectURL(url);
  }, [file]);
  // What the browser cannot show (TIFF) is shown when it has been read.
  return (
    <Box sx={{ display: shown ? "grid" : "none", placeItems: "center", height: 240, borderRadius: 1, overflow: "hidden", bgcolor: "#fff" }}>
      <img ref={picture} alt="The drawing" onLoad={() => setShown(true)} onError={() => setShown(false)}
        style={{ maxWidth: "100%", maxHeight: 240, display: "block" }} />
    </Box>
  );
}
