import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useMemo, useState } from "react";
import type { Edit, FinishDraft, PictureKind, Point } from "../../api/client";
import { PictureView } from "../../picture/PictureView";
import { fillPen, penWidths, tracePoints } from "../../picture/usePen";
import { Workplace } from "../../shell/Workplace";
import type { SideProps } from "../StepProps";
import { perCent, Rail } from "../../ui/Rail";
import { useLiveEdit } from "../useLiveEdit";
import { aimed, changeOf, type Spots } from "./finish";
import { FocusFields, FocusHandles, focusEdit, type Focus } from "./FocusFields";
import { LayerEditor } from "./LayerEditor";
import { LayerList } from "./LayerList";
import { NewLayer } from "./NewLayer";
import { PlaceHandles } from "./PlaceHandles";
import { placesOf } from "./places";
import { Ready } from "./Ready";
import { SpotTools } from "./SpotTools";
import { useSpots } from "./useSpots";
import { WhoseFinish } from "./WhoseFinish";

/** Layers over the whole picture: light in the air, scenery, glazes, texture. */
export function LayersSide({ piece, tabs }: SideProps) {
  const [worn, setWorn] = useState("piece");
  const look = piece.recipe.looks.find((k) => k.id === worn) ?? null;
  const wearer = look?.id ?? "piece";
  const kind: PictureKind = look ? `look:${look.id}` : "picture";
  const seen = useLiveEdit(piece, kind);
  const live = useMemo(() => ({ ...seen, show: (edit: Edit) => seen.show(aimed(edit, wearer)),
    make: (edit: Edit) => seen.make(aimed(edit, wearer)) }), [seen, wearer]);
  const [chosen, choose] = useState<string | null>(null);
  const [drag, setDrag] = useState<FinishDraft | null>(null);
  const finish = look?.finish ?? piece.recipe.finish;
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
    const now = after?.recipe.looks.find((k) => k.id === wearer)?.finish ?? after?.recipe.finish;
    choose(now?.filter((f) => !before.has(f.id)).at(-1)?.id ?? null);
  };
  const spots = layer?.shape.kind === "spots" ? layer.shape : null;
  const pen = useSpots(spots, Math.max(piece.width, piece.height), (shape) => change({ shape }));
  const [focusOpen, setFocusOpen] = useState(false);
  const [focusDrag, setFocusDrag] = useState<Focus[] | null>(null);
  const [place, setPlace] = useState<Point | null>(null);
  const [amount, setAmount] = useState<number | null>(null);
  const focus = focusDrag ?? look?.focus ?? piece.recipe.focus;
  const focused = focusOpen || (layer !== null && layer.focus !== "as it is");
  const setAll = (v: number): Edit => ({ kind: "set_finish_amount", amount: v });
  return (
    <Workplace title="Finish"
      lead={"Layers over the whole picture. Nothing is baked: each can be switched off, moved, "
        + "and kept to the figure, the ground, a pass, or what you draw."}
      picture={
        <PictureView piece={piece} kind={kind} tool={pen.tool} overlay={(ctx, zoom) => {
          if (place) ringAt(ctx, place, zoom);
          if (!spots) return;
          if (pen.penned) fillPen(ctx, pen.stroke.points, penWidths(pen.size, pen.stroke.pressures), pen.erases
            ? "rgba(255,255,255,.5)" : "rgba(20,20,22,.5)");
          else tracePoints(ctx, pen.stroke.points, zoom, true);
        }}>
          {(stage) => <>
            {layer && placesOf(layer).map(({ places, put }) => <PlaceHandles key={places.of} stage={stage}
              places={places} onShow={(ends) => show(put(ends))} onMake={(ends) => void change(put(ends))} />)}
            {focused && <FocusHandles stage={stage} focus={focus}
              onShow={(to) => { setFocusDrag(to); live.show(focusEdit(to)); }}
              onMake={(to) => { setFocusDrag(to);
                void live.make(focusEdit(to)).finally(() => setFocusDrag(null)); }} />}
          </>}
        </PictureView>
      }>
      {tabs}
      {piece.recipe.looks.length > 0 && <WhoseFinish piece={piece} wearer={wearer} onChange={(next) => { choose(null);
        setDrag(null); setWorn(next); }} make={seen.make} />}
      <NewLayer piece={piece} onMake={(draft) => void add({ kind: "add_finish", layers: [draft] })} />
      {finish.length > 0 && <LayerList layers={finish} chosen={chosen} onChoose={(id) => { setDrag(null); choose(id); }}
        make={live.make} />}
      {finish.length > 0 && !layer && (
        <Rail label="All of it" value={amount ?? look?.finish_amount ?? piece.recipe.finish_amount} min={0} max={1}
          step={0.01} says={perCent} onShow={(v) => { setAmount(v); live.show(setAll(v)); }}
          onMake={(v) => void live.make(setAll(v)).finally(() => setAmount(null))} />
      )}
      {finish.length > 0 && (!layer || layer.focus !== "as it is") && <FocusFields piece={piece} focus={focus}
        open={focused} onOpen={setFocusOpen} make={live.make} />}
      {layer && (
        <LayerEditor key={layer.id} piece={piece} look={wearer} layer={layer} onShow={show}
          onMake={(more) => void change(more)} make={live.make} onPlace={setPlace}
          onCancel={() => { setDrag(null); live.drop(); }} />
      )}
      {spots && <SpotTools pen={pen} shape={spots} onMake={(shape: Spots) => void change({ shape })} />}
      {!layer && (
        <Box sx={{ mt: finish.length ? 2 : 0 }}>
          <Typography variant="h3" component="h2">{finish.length ? "Lay more on"
            : "Begin with a ready finish"}</Typography>
          <Typography variant="body2" sx={{ mb: 1 }}>Laid out for this drawing and its light. Point at one to see it;
            each becomes layers that you can change.</Typography>
          <Ready piece={piece} look={wearer} live={live} onMade={(edit) => void live.make(edit)} />
        </Box>
      )}
    </Workplace>
  );
}

/** Round a place that is to be looked at. */
function ringAt(ctx: CanvasRenderingContext2D, [x, y]: Point, zoom: number) {
  for (const [colour, width] of [["rgba(20,20,22,.8)", 5], ["#ffffff", 2]] as const) {
    ctx.strokeStyle = colour;
    ctx.lineWidth = width / zoom;
    ctx.beginPath();
    ctx.arc(x, y, 26 / zoom, 0, 2 * Math.PI);
    ctx.stroke();
  }
}
