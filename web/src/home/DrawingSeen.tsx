import Box from "@mui/material/Box";
import { useEffect, useRef, useState } from "react";
import type { JobState } from "../api/client";

const HEIGHT = 240;
const FADE = "opacity 350ms ease-out";

/** A drawing as it was dropped, at once; its lines, areas and first picture fade in over it as they are ready. */
export function DrawingSeen({ file, job, onSeen }: { file: File; job: JobState | null;
  onSeen?: (image: HTMLImageElement) => void }) {
  const picture = useRef<HTMLImageElement>(null);
  const [shown, setShown] = useState(false);
  useEffect(() => {
    const url = URL.createObjectURL(file);
    if (picture.current) picture.current.src = url;
    return () => URL.revokeObjectURL(url);
  }, [file]);
  const seen = Array.from({ length: job?.seen ?? 0 }, (_, k) => k + 1);
  // What the browser cannot show (TIFF) is shown when it has been read.
  return (
    <Box sx={{ display: shown || seen.length ? "grid" : "none", placeItems: "center", height: HEIGHT, borderRadius: 1,
      overflow: "hidden", bgcolor: "#fff", "& > img": { gridArea: "1 / 1", width: "100%", height: HEIGHT,
        objectFit: "contain" } }}>
      <img ref={picture} alt="The drawing"
        onLoad={(e) => { setShown(true); onSeen?.(e.currentTarget); }} onError={() => setShown(false)}
        style={{ visibility: shown ? "visible" : "hidden" }} />
      {job && seen.map((number) => <Fading key={number} src={`/api/jobs/${job.id}/seen/${number}`}
        name={STAGES[number - 1] ?? ""} />)}
    </Box>
  );
}

const STAGES = ["The lines", "The areas", "The first picture"];

function Fading({ src, name }: { src: string; name: string }) {
  const [ready, setReady] = useState(false);
  return <img src={src} alt={name} onLoad={() => setReady(true)}
    style={{ opacity: ready ? 1 : 0, transition: FADE, backgroundColor: "#fff" }} />;
}
