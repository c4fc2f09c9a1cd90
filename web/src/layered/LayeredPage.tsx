import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useMemo, useState } from "react";
import { Link, useParams } from "react-router";
import { toProblem, type LayeredFile, type Shown } from "../api/client";
import { useLayered, useLayeredFindings } from "../api/stacks";
import { LOOKS } from "../picture/glance";
import { GLANCES } from "../picture/keys";
import { PictureView } from "../picture/PictureView";
import { useGlanceKeys } from "../picture/useGlanceKeys";
import { GlanceBar } from "../shell/GlanceBar";
import { LostPage } from "../shell/LostPage";
import { Workplace } from "../shell/Workplace";
import { SectionView, told } from "../stack/SectionView";
import { useSpotlight } from "../stack/useSpotlight";
import { Figure } from "../theme/Figure";
import { useSides } from "../ui/Choice";
import type { Binding } from "../ui/keys";
import { LAYERED } from "./keys";
import { Matching } from "./Matching";
import { Order } from "./Order";

// There is no drawing that a file came from.
const WITHOUT_BEFORE: Binding = { ...GLANCES, on: LOOKS.filter((l) => l.key !== "before").map((l) => l.hotkey) };

/** A layered file that came in: its stack, its faults, and what a piece can take over from it. */
export function LayeredPage() {
  const number = Number(useParams().id);
  const { data: file, error } = useLayered(number);
  if (!Number.isInteger(number)) return <LostPage />;
  if (error && !file) return <LostPage detail={toProblem(error).message} />;
  return file ? <Desk key={file.id} file={file} /> : null;
}

function Desk({ file }: { file: LayeredFile }) {
  const [lit, setLit] = useState<number | null>(null);
  const shown: Shown = useMemo(() => ({ title: file.title, revision: 1, width: file.width, height: file.height,
    at: `/api/layered/${file.id}` }), [file]);
  const spotlight = useSpotlight(shown, `${shown.at}/layers`, lit);
  const { data: findings } = useLayeredFindings(file.id);
  useGlanceKeys(WITHOUT_BEFORE);
  const [side, tabs] = useSides({ order: `In order?${findings ? ` ${findings.length}` : ""}`, stack: "Stack",
    match: "Take over" }, LAYERED.sides, "order");
  const layers = file.section.lines.filter((l) => l.kind === "layer");
  const line = layers.find((l) => l.index === lit);
  const picture = <PictureView of={shown} kind="picture" overlay={spotlight} />;
  const paper = file.dpi ? <>, <Figure>{Math.round(file.dpi)} dpi</Figure></> : null;
  return (
    <Box sx={{ height: "100%", display: "flex", flexDirection: "column" }}>
      <title>{`${file.title} · Wardrobe`}</title>
      <Box component="header" sx={{ height: 56, display: "flex", alignItems: "center", gap: 2, px: 2,
        bgcolor: "background.paper", borderBottom: 1, borderColor: "divider" }}>
        <Button component={Link} to="/" color="inherit">Home</Button>
        <Typography variant="h2" component="div" noWrap sx={{ flex: 1 }}>{file.title}</Typography>
        <Typography variant="body2" noWrap>
          <Figure>{file.width} × {file.height} px</Figure>{paper}, <Figure>{layers.length}</Figure> layers
        </Typography>
        {file.made_from !== null && <Button component={Link} to={`/layered/${file.made_from}`}
          color="inherit">The version before</Button>}
        {file.piece !== null && <Button component={Link} to={`/piece/${file.piece}/deliver`}
          color="inherit">The piece</Button>}
        <Button component="a" href={`/api/layered/${file.id}/file`} download variant="outlined">Download</Button>
      </Box>
      <Box component="main" sx={{ flex: 1, minHeight: 0, display: "flex" }}>
        {side === "match" ? <Matching file={file} tabs={tabs} picture={picture} lit={lit} onLight={setLit} /> : (
          <Workplace wide={side === "stack"} title={side === "order" ? "Is it in order?" : "The stack"}
            picture={picture}
            lead={side === "order" ? "What an orderly artist would find fault with."
              : "As it is in the file; a seam marks what is painted only where its base is."}>
            {tabs}
            {file.notes.map((note) => <Typography key={note} variant="body2" sx={{ mb: 0.5 }}>{note}</Typography>)}
            {side === "order" ? <Order file={file} findings={findings} lit={lit} onLight={setLit} /> : (
              <>
                <Typography variant="body2" noWrap sx={{ mb: 0.75, minHeight: 20 }}>{line ? told(line)
                  : "Point at a layer to light it up in the picture."}</Typography>
                <SectionView section={file.section} lit={lit} onLight={setLit}
                  marked={new Set((findings ?? []).flatMap((f) => (f.index == null ? [] : [f.index])))} />
              </>
            )}
          </Workplace>
        )}
      </Box>
      <GlanceBar />
    </Box>
  );
}
