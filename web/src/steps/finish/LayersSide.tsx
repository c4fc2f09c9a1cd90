import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Edit, FinishDraft, Piece, Point } from "../../api/client";
import { PictureView } from "../../picture/PictureView";
import { fillPen, penWidths, tracePoints } from "../../picture/usePen";
import { Workplace } from "../../shell/Workplace";
import type { SideProps } from "../StepProps";
import { useLiveEdit } from "../useLiveEdit";
import { changeOf, STARTS, type Spots } from "./finish";
import { GradientHandles } from "./GradientHandles";
import { LayerEditor } from "./LayerEditor";
import { LayerList } from "./LayerList";
import { Ready } from "./Ready";
import { SpotTools } from "./SpotTools";
import { useSpots } from "./useSpots";

/** Layers over the whole picture: light in the air, scenery, glazes, texture. */
export function LayersSide({ piece, tabs }: SideProps) {
  const live = useLiveEdit(piece);
  const [chosen, choose] = useState<string | null>(null);
  const [drag, setDrag] = useState<FinishDraft | null>(null);
  const { finish } = piece.recipe;
  const kept = finish.find((f) => f.id === chosen) ?? null;
  const layer = kept && drag ? { ...drag, id: kept.id } : kept;
  const show = (more: Partial<FinishDraft>) => {
    if (!layer) return;
    const next = { ...layer, ...more };
    setDrag(next);
    live.show(changeOf(layer.id, next));
  };
  const change = (more: Partial<FinishDraft>) => {
    if (!layer) return Promise.resolve(null);
    const next = { ...layer, ...more };
    setDrag(next);
    return live.make(changeOf(layer.id, next)).finally(() => setDrag(null));
  };
  const add = async (edit: Edit) => {
    const before = new Set(finish.map((f) => f.id));
    const after = await live.make(edit);
    choose(after?.recipe.finish.filter((f) => !before.has(f.id)).at(-1)?.id ?? null);
  };
  const spots = layer?.shape.kind === "spots" ? layer.shape : null;
  const pen = useSpots(spots, Math.max(piece.width, piece.height), (shape) => change({ shape }));
  const paint = layer?.paint.kind === "gradient" ? layer.paint : null;
  return (
    <Workplace title="Finish"
      lead={"Layers over the whole picture. Nothing is baked: each can be switched off, moved, "
        + "and kept to the figure, the ground, a pass, or what you draw."}
      picture={
        <PictureView piece={piece} kind="picture" tool={pen.tool} overlay={(ctx, zoom) => {
          if (!spots) return;
          if (pen.penned) fillPen(ctx, pen.stroke.points, penWidths(pen.size, pen.stroke.pressures), pen.erases
            ? "rgba(255,255,255,.5)" : "rgba(20,20,22,.5)");
          else tracePoints(ctx, pen.stroke.points, zoom, true);
        }}>
          {(stage) => paint && <GradientHandles stage={stage} paint={paint}
            onShow={(ends: [Point, Point]) => show({ paint: { ...paint, ends } })}
              onMake={(ends) => void change({ paint: { ...paint, ends } })} />}
        </PictureView>
      }>
      {tabs}
      <NewLayer piece={piece} onMake={(draft) => void add({ kind: "add_finish", layers: [draft] })} />
      {finish.length > 0 && <LayerList layers={finish} chosen={chosen} onChoose={(id) => { setDrag(null); choose(id); }}
        make={live.make} />}
      {layer && (
        <LayerEditor key={layer.id} piece={piece} layer={layer} onShow={show} onMake={(more) => void change(more)}
          make={live.make}
          onCancel={() => { setDrag(null); live.drop(); }} />
      )}
      {spots && <SpotTools pen={pen} shape={spots} onMake={(shape: Spots) => void change({ shape })} />}
      {!layer && (
        <Box sx={{ mt: finish.length ? 2 : 0 }}>
          <Typography variant="h3" component="h2">{finish.length ? "Lay more on"
            : "Begin with a ready finish"}</Typography>
          <Typography variant="body2" sx={{ mb: 1 }}>Laid out for this drawing and its light. Point at one to see it;
            each becomes layers that you can change.</Typography>
          <Ready piece={piece} live={live} onMade={(edit) => void live.make(edit)} />
        </Box>
      )}
    </Workplace>
  );
}

function NewLayer({ piece, onMake }: { piece: Piece; onMake: (draft: FinishDraft) => void }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <Box sx={{ mb: 1 }}>
      <Button variant="outlined" aria-haspopup="menu" onClick={(e) => setAnchor(e.currentTarget)}>New layer</Button>
      <Menu disablePortal open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}
        slotProps={{ list: { "aria-label": "New layer" } }}>
        {STARTS.map((start) => (
          <MenuItem key={start.label} onClick={() => { setAnchor(null); onMake(start.make(piece)); }}>
            <Box>
              <Typography variant="body1">{start.label}</Typography>
              <Typography variant="body2">{start.hint}</Typography>
            </Box>
          </MenuItem>
        ))}
      </Menu>
    </Box>
  );
}
