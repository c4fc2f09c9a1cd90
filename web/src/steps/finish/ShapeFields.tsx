import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import IconButton from "@mui/material/IconButton";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import Switch from "@mui/material/Switch";
import Typography from "@mui/material/Typography";
import { storePicture, type FinishDraft, type PassKey, type Piece, type Schemas } from "../../api/client";
import { tellProblem } from "../../api/notice";
import { useMeta } from "../../api/pieces";
import { FileButton } from "../../ui/FileButton";
import { perCent, Rail } from "../../ui/Rail";
import { likelyLamp, op, type Operation, type Shape } from "./finish";

interface Props {
  piece: Piece;
  layer: FinishDraft;
  onShow: (more: Partial<FinishDraft>) => void;
  onMake: (more: Partial<FinishDraft>) => void;
}

const px = (piece: Piece, thousandths: number) => Math.max(1, Math.round((thousandths * Math.max(piece.width,
  piece.height)) / 1000));

const SHAPES: { key: Shape["kind"]; label: string; make: (piece: Piece) => Shape }[] = [
  { key: "everywhere", label: "All of it", make: () => ({ kind: "everywhere" }) },
  { key: "pass", label: "Where a pass lies", make: () => ({ kind: "pass", name: "shade", outside: false }) },
  { key: "parts", label: "Parts, as a whole", make: () => ({ kind: "parts", parts: [] }) },
  { key: "spots", label: "Spots that you draw", make: () => ({ kind: "spots", strokes: [] }) },
  { key: "given off", label: "Light that parts give off", make: (p) => ({ kind: "given off", parts: [likelyLamp(p)],
    reach: px(p, 160), height: px(p, 55) }) },
  { key: "contact", label: "Close under other parts", make: (p) => ({ kind: "contact", width: px(p, 9) }) },
  { key: "sparks", label: "Sparks", make: (p) => ({ kind: "sparks", at: [p.width / 2, p.height / 2],
    radius: px(p, 300), count: 80, size: px(p, 3), spread: 0.8, seed: 1 }) },
  { key: "lines", label: "The lines", make: () => ({ kind: "lines" }) },
];

/** What a layer lies on, what shape it has there, and what is done to the shape. */
export function ShapeFields({ piece, layer, onShow, onMake }: Props) {
  const meta = useMeta().data;
  const { shape, scope } = layer;
  return (
    <>
      <Line label="Lies on">
        <Select value={scope} inputProps={{ "aria-label": "Lies on" }}
          onChange={(e) => onMake({ scope: e.target.value })}>
          <MenuItem value="everything">Everything</MenuItem>
          <MenuItem value="figure">The figure</MenuItem>
          <MenuItem value="ground">The ground</MenuItem>
          <MenuItem value="parts">Some parts</MenuItem>
        </Select>
      </Line>
      {scope === "parts" && <Parts label="Parts that it lies on" piece={piece} value={layer.parts} none="Choose parts"
        onChange={(parts) => onMake({ parts })} />}
      <Line label="Shape">
        <Select value={shape.kind} inputProps={{ "aria-label": "Shape" }} onChange={(e) => {
          const made = SHAPES.find((s) => s.key === e.target.value)?.make(piece);
          if (made) onMake({ shape: made, ...(made.kind === "lines" ? { over_lines: true } : {}) });
        }}>
          {SHAPES.map((s) => <MenuItem key={s.key} value={s.key}>{s.label}</MenuItem>)}
        </Select>
      </Line>
      {shape.kind === "pass" && (
        <Line label="">
          <Box sx={{ display: "grid", gridTemplateColumns: "1fr auto", columnGap: 1 }}>
            <Select value={shape.name} inputProps={{ "aria-label": "Pass" }}
              onChange={(e) => onMake({ shape: { ...shape, name: e.target.value as PassKey } })}>
              {Object.entries(meta?.passes ?? {}).map(([key, label]) => <MenuItem key={key}
                value={key}>{label}</MenuItem>)}
            </Select>
            <FormControlLabel sx={{ mr: 0 }} label={<Typography variant="body2">outside it</Typography>}
              control={<Switch size="small" checked={shape.outside ?? false}
                onChange={(_, outside) => onMake({ shape: { ...shape, outside } })} />} />
          </Box>
        </Line>
      )}
      {shape.kind === "parts" && <Parts label="Parts that give the shape" piece={piece} value={shape.parts}
        none="The whole figure" onChange={(parts) => onMake({ shape: { ...shape, parts } })} />}
      <MeasuredShape piece={piece} shape={shape} onShow={(to) => onShow({ shape: to })}
        onMake={(to) => onMake({ shape: to })} />
      <Operations layer={layer} piece={piece} kinds={meta?.operators ?? []} onShow={onShow} onMake={onMake} />
      <Line label="By focus">
        <Select value={layer.focus} inputProps={{ "aria-label": "By focus" }}
          onChange={(e) => onMake({ focus: e.target.value })}>
          <MenuItem value="as it is">As strong everywhere</MenuItem>
          <MenuItem value="there">Only where the eye goes</MenuItem>
          <MenuItem value="away">Only away from there</MenuItem>
        </Select>
      </Line>
      <Texture layer={layer} textures={meta?.textures ?? {}} onShow={onShow} onMake={onMake} />
    </>
  );
}

/** Shapes that are told by numbers. */
function MeasuredShape({ piece, shape, onShow, onMake }: { piece: Piece; shape: Shape;
  onShow: (shape: Shape) => void; onMake: (shape: Shape) => void }) {
  const rail = <S extends Shape>(of: S, name: keyof S) => ({ value: Number(of[name]),
    onShow: (v: number) => onShow({ ...of, [name]: v }), onMake: (v: number) => onMake({ ...of, [name]: v }) });
  const inPx = (v: number) => `${Math.round(v)} px`;
  if (shape.kind === "given off") return (
    <>
      <Parts label="Parts that give it off" piece={piece} value={shape.parts} none="Choose parts"
        onChange={(parts) => { if (parts.length > 0) onMake({ ...shape, parts }); }} />
      <Rail label="Reach" min={1} max={px(piece, 800)} says={inPx} {...rail(shape, "reach")} />
      <Rail label="In front by" min={0} max={px(piece, 400)} says={inPx} {...rail(shape, "height")} />
    </>
  );
  if (shape.kind === "contact")
    return <Rail label="Fades over" min={1} max={Math.min(400, px(piece, 60))} says={inPx} {...rail(shape, "width")} />;
  if (shape.kind !== "sparks") return null;
  return (
    <>
      <Rail label="How many" min={1} max={1000} says={(v) => String(Math.round(v))} {...rail(shape, "count")} />
      <Rail label="Largest" min={0.5} max={Math.min(200, px(piece, 30))} step={0.5} says={(v) => `${v.toFixed(1)} px`}
        {...rail(shape, "size")} />
      <Rail label="Unlike" min={0} max={1} step={0.01} says={perCent} {...rail(shape, "spread")} />
      <Button size="small" variant="outlined" sx={{ ml: "96px" }} onClick={() => onMake({ ...shape,
        seed: ((shape.seed ?? 0) + 1) % 1_000_000 })}>Scatter anew</Button>
    </>
  );
}

export function Line({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: "80px 1fr", alignItems: "center", columnGap: 2, minHeight: 42,
      "& .MuiSelect-select": { py: 0.75 } }}>
      <span>{label}</span>
      {children}
    </Box>
  );
}

export function Parts({ label, piece, value, none, onChange }: {
  label: string; piece: Piece; value: string[] | undefined; none: string; onChange: (parts: string[]) => void;
}) {
  const { parts } = piece.recipe;
  const chosen = value ?? [];
  return (
    <Line label="">
      <Select multiple displayEmpty value={chosen} inputProps={{ "aria-label": label }}
        onChange={(e) => onChange([e.target.value].flat())}
        renderValue={(ids) => (ids.length === 0 ? none
          : ids.map((id) => parts.find((p) => p.id === id)?.name ?? "gone").join(", "))}>
        {parts.map((p) => (
          <MenuItem key={p.id} value={p.id}>
            <Box sx={{ width: 14, height: 14, borderRadius: "50%", bgcolor: p.base, border: 1, borderColor: "divider",
              mr: 1 }} />{p.name}
          </MenuItem>
        ))}
      </Select>
    </Line>
  );
}

function Operations({ layer, piece, kinds, onShow, onMake }: Props & { kinds: Schemas["OperatorInfo"][] }) {
  const { operations } = layer;
  const most = Math.max(piece.width, piece.height) / 12;
  const withAmount = (k: number, name: string, v: number): Operation[] => operations.map((o, i) => (i === k
    ? { ...o, amounts: { ...o.amounts, [name]: v } } : o));
  return (
    <>
      {operations.map((operation, k) => {
        const kind = kinds.find((o) => o.key === operation.kind);
        return (
          <Box key={k} role="group" aria-label={kind?.label}>
            {(kind?.settings.length ? kind.settings : [null]).map((s, j) => {
              const drop = j === 0 && (
                <IconButton aria-label={`No longer ${kind?.label.toLowerCase()}`}
                  onClick={() => onMake({ operations: operations.filter((_, i) => i !== k) })}>
                  <svg width="14" height="14"><path d="M2 7h10" stroke="currentColor" strokeWidth="1.6" /></svg>
                </IconButton>
              );
              if (!s) return <Line key="none" label=""><Box
                sx={{ display: "flex", justifyContent: "space-between",
                  alignItems: "center" }}>{kind?.label}{drop}</Box></Line>;
              const high = s.unit === "px" ? Math.min(s.high, Math.max(s.usual * 2, most)) : s.high;
              return (
                <Rail key={s.name} label={j === 0 && kind ? kind.label : s.label}
                  value={operation.amounts?.[s.name] ?? s.usual} min={s.low < 0 ? -high : s.low} max={high} step={0.5}
                  says={(v) => `${s.low < 0 ? `${s.label.toLowerCase()} ` : ""}${v.toFixed(v % 1 ? 1 : 0)} px`}
                  onShow={(v) => onShow({ operations: withAmount(k, s.name, v) })}
                    onMake={(v) => onMake({ operations: withAmount(k, s.name, v) })} after={drop} />
              );
            })}
          </Box>
        );
      })}
      {operations.length < 6 && (
        <Box sx={{ display: "flex", flexWrap: "wrap", gap: 0.5, ml: "88px" }} role="group" aria-label="Do to the shape">
          {kinds.map((kind) => (
            <Button key={kind.key} size="small" variant="outlined"
              onClick={() => onMake({ operations:
                [...operations, op(kind.key as Operation["kind"])] })}>{kind.label}</Button>
          ))}
        </Box>
      )}
    </>
  );
}

function Texture({ layer, textures, onShow, onMake }: Omit<Props, "piece"> & { textures: Record<string, string> }) {
  const use = layer.texture;
  type Use = NonNullable<FinishDraft["texture"]>;
  const usual: Use = { key: "grain", size: 1, angle: 0, amount: 1, picture: null };
  const place = (file: File | undefined) => {
    if (file) storePicture(file, 1024).then((picture) => onMake({ texture: { ...usual, ...use, picture } }))
      .catch(tellProblem);
  };
  const rail = (name: "size" | "amount" | "angle") => ({
    value: use?.[name] ?? 0, onShow: (v: number) => use && onShow({ texture: { ...use, [name]: v } }),
      onMake: (v: number) => use && onMake({ texture: { ...use, [name]: v } }),
  });
  return (
    <>
      <Line label="Texture">
        <Box sx={{ display: "grid", gridTemplateColumns: "1fr auto", gap: 1 }}>
          <Select value={use ? (use.picture ? "own" : use.key) : "none"} inputProps={{ "aria-label": "Texture" }}
            onChange={(e) => onMake({ texture: e.target.value === "none" ? null
              : { ...usual, ...use, key: e.target.value as Use["key"], picture: null } })}>
            <MenuItem value="none">None</MenuItem>
            {Object.entries(textures).map(([key, label]) => <MenuItem key={key} value={key}>{label}</MenuItem>)}
            <MenuItem value="own" disabled={!use?.picture}>Your own</MenuItem>
          </Select>
          <FileButton label="Texture of your own" accept="image/*,.svg" variant="outlined"
            onFiles={([file]) => place(file)}>{use?.picture ? "Another" : "Your own"}</FileButton>
        </Box>
      </Line>
      {use && (
        <>
          <Rail label="Amount" min={0} max={1} step={0.01} says={perCent} {...rail("amount")} />
          <Rail label="Size" min={0.2} max={8} step={0.1} says={(v) => `× ${v.toFixed(1)}`} {...rail("size")} />
          <Rail label="Turned" min={-90} max={90} says={(v) => `${Math.round(v)}°`} {...rail("angle")} />
        </>
      )}
    </>
  );
}
