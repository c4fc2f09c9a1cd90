import Box from "@mui/material/Box";
import ToggleButton from "@mui/material/ToggleButton";
import ToggleButtonGroup from "@mui/material/ToggleButtonGroup";
import Typography from "@mui/material/Typography";
import { useCallback, useState } from "react";
import { useKeys } from "../../shell/useKeys";
import type { Edit } from "../../api/client";
import { useChanges, useCut } from "../../api/pieces";
import { PictureView } from "../../picture/PictureView";
import { Key } from "../../shell/GlanceBar";
import type { StepProps } from "../StepProps";
import { Workplace } from "../../shell/Workplace";
import { Figure } from "../../theme/Figure";
import { Seam } from "../../theme/Seam";
import { useAreaMap } from "./areaMap";
import { PartList } from "./PartList";
import { useSweep, type Act } from "./useSweep";

export function PartsStep({ piece }: StepProps) {
  const { data: cut } = useCut(piece);
  const map = useAreaMap(piece);
  const { edit } = useChanges(piece.id);
  const { parts } = piece.recipe;
  const [chosen, setChosen] = useState<string | null>(null);
  const [act, setAct] = useState<Act>("claim");
  const part = parts.find((p) => p.id === chosen)?.id ?? parts[0]?.id ?? null;
  const make = useCallback((change: Edit) => edit(change), [edit]);
  const { tool, tint, stepTo, press, hovered } = useSweep(map, cut, part, act, make);

  const step = (by: number) => {
    const at = parts.findIndex((p) => p.id === part);
    const next = parts[at + by];
    if (next) setChosen(next.id);
  };
  useKeys("BracketLeft", () => step(-1), { useKey: false });
  useKeys("BracketRight", () => step(1), { useKey: false });
  useKeys("comma", () => stepTo(-1));
  useKeys("period", () => stepTo(1));
  useKeys("enter", (e) => { if (!(e.target instanceof Element) || !e.target.closest("button, a, [role=option]")) press(); });
  useKeys("a", () => setAct("claim"));
  useKeys("d", () => setAct("ground"));

  const silhouette = cut?.silhouette_pixels ?? 0;
  const name = parts.find((p) => p.id === part)?.name;
  return (
    <Workplace title="Parts" lead="Click or sweep over areas to give them to the selected part; click again to take them away."
      picture={
        <PictureView piece={piece} kind="parts" tool={tool}
          overlay={(ctx) => {
            if (tint && map) ctx.drawImage(tint, 0, 0, map.width / map.scale, map.height / map.scale);
          }}>
          {() => <Readout text={hovered ? describe(hovered.ground, parts.find((p) => p.id === hovered.part)?.name, (100 * hovered.pixels) / Math.max(1, silhouette)) : null} />}
        </PictureView>
      }>
      <ToggleButtonGroup exclusive fullWidth size="small" value={act} aria-label="What a sweep does"
        onChange={(_, v: Act | null) => v && setAct(v)}>
        <ToggleButton value="claim">Give to {name ?? "a part"}<Key>A</Key></ToggleButton>
        <ToggleButton value="ground">Mark ground<Key>D</Key></ToggleButton>
      </ToggleButtonGroup>
      <Typography variant="body2" sx={{ mt: 1 }}>
        {cut ? (
          <>
            <Figure>{cut.areas.length}</Figure> areas, <Figure>{cut.areas.filter((a) => a.ground).length}</Figure> of them ground.{" "}
            {cut.unclaimed ? <><Figure>{cut.unclaimed}</Figure> without a part, dark red on the picture.</> : "Every area of the figure has a part."}
          </>
        ) : "Cutting areas …"}
      </Typography>
      <Seam />
      <PartList piece={piece} cut={cut} selected={part} onSelect={setChosen} edit={edit} />
    </Workplace>
  );
}

function describe(ground: boolean, part: string | undefined, share: number): string {
  const size = `${share < 10 ? share.toFixed(2) : share.toFixed(0)} % of the silhouette`;
  if (ground) return "ground";
  return `${part ?? "no part yet"}, ${size}`;
}

function Readout({ text }: { text: string | null }) {
  if (!text) return null;
  return (
    <Box sx={{ position: "absolute", left: 12, bottom: 12, px: 1.25, py: 0.5, borderRadius: 1, bgcolor: "background.paper", fontSize: 13, pointerEvents: "none" }}>
      {text}
    </Box>
  );
}
