import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { Choice } from "../../ui/Choice";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { pieceShown, type Delivery } from "../../api/client";
import { useChanges, useStack } from "../../api/pieces";
import { useOwnFindings } from "../../api/stacks";
import { PictureView } from "../../picture/PictureView";
import { Workplace } from "../../shell/Workplace";
import { Findings } from "../../stack/Findings";
import { SectionView, told } from "../../stack/SectionView";
import { useSpotlight } from "../../stack/useSpotlight";
import { Figure } from "../../theme/Figure";
import { Seam } from "../../theme/Seam";
import { choose } from "./deliver";
import type { SideProps } from "../StepProps";

const ARRANGEMENTS: { key: NonNullable<Delivery["arrangement"]>; label: string; why: string }[] = [
  { key: "by part", label: "By part",
    why: "A group a part, its passes on its base. "
      + "Choose it to go on painting: everything about the coat lies in one place." },
  { key: "by pass", label: "By pass",
    why: "All bases together, all shades together, all lights together. Choose it to change a whole pass at once." },
  { key: "whole figure", label: "Whole figure",
    why: "One shade and one light over all bases. The smallest stack; it needs one colour a pass for all parts." },
];

/** The stack as it will be delivered, and whether it is in order. */
export function StackSide({ piece, tabs }: SideProps) {
  const { data: section } = useStack(piece);
  const { edit } = useChanges(piece.id);
  const [lit, setLit] = useState<number | null>(null);
  const [checked, setChecked] = useState<number | null>(null);
  const { data: findings, isFetching } = useOwnFindings(piece, checked === piece.revision);
  const shown = pieceShown(piece);
  const spotlight = useSpotlight(shown, `${shown.at}/stack/layers`, lit);
  const now = piece.recipe.delivery?.arrangement ?? "by part";
  const obstacles: Partial<Record<string, string>> = section?.obstacles ?? {};
  const layers = section?.lines.filter((l) => l.kind === "layer") ?? [];
  const line = layers.find((l) => l.index === lit);
  const current = checked === piece.revision ? findings : undefined;
  return (
    <Workplace wide title="Deliver"
      lead="What leaves the house: an ordered, named stack that opens everywhere with this picture."
      picture={<PictureView piece={piece} kind="picture" overlay={spotlight} />}>
      {tabs}
      <Choice label="Arrangement" wide value={now} onChange={(v) => void edit(choose(() => ({ arrangement: v })))}
        options={ARRANGEMENTS.map((a) => ({ value: a.key, label: a.label, off: obstacles[a.key] !== undefined
          && a.key !== now }))} />
      <Typography variant="body2" sx={{ mt: 0.75 }}>{ARRANGEMENTS.find((a) => a.key === now)?.why}</Typography>
      {Object.entries(obstacles).map(([key, why]) => (
        <Typography key={key} variant="body2" sx={{ mt: 0.5 }}>
          <b>{ARRANGEMENTS.find((a) => a.key === key)?.label}</b> is not possible{key === now
            ? " any more, so it is delivered by part" : ""}: {why}
        </Typography>
      ))}
      <Seam />
      <Box sx={{ display: "flex", alignItems: "baseline", gap: 1, mb: 0.75, minHeight: 22 }}>
        <Typography variant="h3" component="h2" sx={{ whiteSpace: "nowrap" }}>{section ? <><Figure
          size={13}>{layers.length}</Figure> layers</> : "Building the stack …"}</Typography>
        <Typography variant="body2" noWrap
          sx={{ flex: 1 }}>{line ? told(line) : "Point at a layer to light it up in the picture."}</Typography>
      </Box>
      {section && <SectionView section={section} lit={lit} onLight={setLit}
        marked={new Set((current ?? []).flatMap((f) => (f.index == null ? [] : [f.index])))} />}
      <Seam />
      <Box sx={{ display: "flex", alignItems: "center", gap: 1.5 }}>
        <Typography variant="h3" component="h2" sx={{ flex: 1 }}>Is it in order?</Typography>
        <Button variant="outlined" disabled={isFetching} onClick={() => setChecked(piece.revision)}>{isFetching
          ? "Checking …" : "Check the stack"}</Button>
      </Box>
      {current ? <Findings findings={current} lit={lit} onLight={setLit} /> : (
        <Typography variant="body2">Names, clipping, flats, pinholes, order, light: looked at as in a file that
          comes from elsewhere.</Typography>
      )}
    </Workplace>
  );
}
