import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import Slider from "@mui/material/Slider";
import type { Piece } from "../../api/client";
import { useMeta } from "../../api/pieces";
import { ColourField } from "../../colour/ColourField";
import { Choice } from "../../ui/Choice";
import { perCent, Rail } from "../../ui/Rail";
import type { ColourGradient, FormGradient, Paint } from "./finish";
import { PatternFields } from "./PatternFields";
import { paintKind, repainted, type PaintKind } from "./places";
import { Line } from "./ShapeFields";

interface Props<P = Paint> {
  paint: P;
  onShow: (paint: Paint) => void;
  onMake: (paint: Paint) => void;
  onCancel: () => void;
}

const KINDS: { value: PaintKind; label: string }[] = [
  { value: "colour", label: "One colour" }, { value: "gradient", label: "Along a line" },
  { value: "round", label: "Round a point" }, { value: "form", label: "Along the form" },
  { value: "pattern", label: "Pattern, picture" },
];

/** What a layer is painted with. */
export function PaintFields({ piece, paint, onShow, onMake, onCancel }: Props & { piece: Piece }) {
  return (
    <>
      <Choice label="Painted with" wide={3} value={paintKind(paint)} sx={{ mb: 1 }}
        onChange={(kind) => onMake(repainted(piece, paint, kind))} options={KINDS} />
      {paint.kind === "colour" && (
        <ColourField label="Colour" value={paint.colour} onShow={(colour) => onShow({ ...paint, colour })}
          onMake={(colour) => onMake({ ...paint, colour })} onCancel={onCancel} />
      )}
      {paint.kind === "form" && <Way paint={paint} onMake={onMake} />}
      {"stops" in paint && <Stops paint={paint} onShow={onShow} onMake={onMake} onCancel={onCancel} />}
      {paint.kind === "pattern" && <PatternFields piece={piece} paint={paint} onShow={onShow} onMake={onMake}
        onCancel={onCancel} />}
    </>
  );
}

function Way({ paint, onMake }: { paint: FormGradient; onMake: (paint: Paint) => void }) {
  const ways = useMeta().data?.ways ?? {};
  return (
    <Line label="Ends">
      <Select value={paint.way} inputProps={{ "aria-label": "What the last colour faces" }}
        onChange={(e) => onMake({ ...paint, way: e.target.value })}>
        {Object.entries(ways).map(([key, label]) => <MenuItem key={key} value={key}>{label}</MenuItem>)}
      </Select>
    </Line>
  );
}

const MOST_STOPS = 8;

function Stops({ paint, onShow, onMake, onCancel }: Props<ColourGradient | FormGradient>) {
  const { stops } = paint;
  const withStop = (k: number, more: Partial<ColourGradient["stops"][number]>):
    Paint => ({ ...paint, stops: stops.map((s, i) => (i === k ? { ...s, ...more } : s)) });
  const add = () => {
    // Between the two that lie farthest apart.
    const gaps = stops.slice(1).map((s, k) => s.at - (stops[k]?.at ?? 0));
    const k = gaps.indexOf(Math.max(...gaps));
    const [a, b] = [stops[k], stops[k + 1]];
    if (!a || !b) return;
    onMake({ ...paint, stops: [...stops.slice(0, k + 1), { ...a, at: (a.at + b.at) / 2 }, ...stops.slice(k + 1)] });
  };
  return (
    <Box role="group" aria-label="Colours of the gradient">
      {stops.map((stop, k) => {
        const says = `Colour ${k + 1}`;
        const [low, high] = [stops[k - 1]?.at ?? 0, stops[k + 1]?.at ?? 1];
        const inner = k > 0 && k < stops.length - 1;
        return (
          <Box key={k} sx={{ display: "grid", gridTemplateColumns: "48px 1fr 1fr 36px", alignItems: "center",
            columnGap: 1.5, minHeight: 40 }}>
            <ColourField label={says} value={stop.colour} onShow={(colour) => onShow(withStop(k, { colour }))}
              onMake={(colour) => onMake(withStop(k, { colour }))} onCancel={onCancel}>
              <Box sx={{ width: 44, height: 28, borderRadius: 1, bgcolor: stop.colour, border: 1,
                borderColor: "divider" }} />
            </ColourField>
            <Slider size="small" aria-label={`${says}: place`} title="Place on the way" disabled={!inner}
              value={stop.at} min={0} max={1} step={0.01}
              onChange={(_, v) => onShow(withStop(k, { at: Math.min(high, Math.max(low, v)) }))}
                onChangeCommitted={(_, v) => onMake(withStop(k, { at: Math.min(high, Math.max(low, v)) }))} />
            <Slider size="small" aria-label={`${says}: opacity`} title="How much it covers" value={stop.opacity ?? 1}
              min={0} max={1} step={0.01}
              onChange={(_, v) => onShow(withStop(k, { opacity: v }))}
                onChangeCommitted={(_, v) => onMake(withStop(k, { opacity: v }))} />
            <IconButton aria-label={`Take ${says.toLowerCase()} out`} disabled={stops.length <= 2}
              onClick={() => onMake({ ...paint, stops: stops.filter((_, i) => i !== k) })}>
              <svg width="14" height="14"><path d="M2 7h10" stroke="currentColor" strokeWidth="1.6" /></svg>
            </IconButton>
          </Box>
        );
      })}
      <Box sx={{ display: "grid", gridTemplateColumns: "48px 1fr 1fr 36px", columnGap: 1.5, color: "text.secondary",
        fontSize: 12, mt: -0.5 }}>
        <span /><span>place</span><span>covers</span>
      </Box>
      <Button size="small" disabled={stops.length >= MOST_STOPS} onClick={add}>Another colour between</Button>
    </Box>
  );
}

/** Strength, as a rail. */
export function Strength({ value, onShow, onMake }: { value: number; onShow: (v: number) => void;
  onMake: (v: number) => void }) {
  return <Rail label="Strength" value={value} min={0} max={1} step={0.01} says={perCent} onShow={onShow}
    onMake={onMake} />;
}
