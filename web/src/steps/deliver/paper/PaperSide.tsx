import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import FormControlLabel from "@mui/material/FormControlLabel";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import ToggleButton from "@mui/material/ToggleButton";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Piece } from "../../../api/client";
import { useChanges, useMeta, usePaper } from "../../../api/pieces";
import { Workplace } from "../../../shell/Workplace";
import { Figure } from "../../../theme/Figure";
import { Seam } from "../../../theme/Seam";
import { Choice } from "../../../ui/Choice";
import { Key } from "../../../ui/Key";
import { NumberField } from "../../../ui/NumberField";
import { useKeys } from "../../../ui/useKeys";
import type { SideProps } from "../../StepProps";
import { choose } from "../deliver";
import { DeliveryBar, DeliveryLine, useDelivery } from "../Delivery";
import { PAPER } from "../keys";
import { cutOff, cutWords, dpiOf, lie, paperName, scaled, spotOf, USUAL, type Box as Rect,
  type Setup, type Spot } from "./paper";
import { PaperView } from "./PaperView";
import { PressFields } from "./PressFields";
import { StickerFields } from "./StickerFields";
import { Unprintable } from "./Unprintable";

const KINDS: { value: Kind; label: string }[] = [{ value: "picture", label: "As it is" }, { value: "proof",
  label: "As printed" }, { value: "unprintable", label: "Out of reach" }];
type Kind = "picture" | "proof" | "unprintable";

/** The paper that the piece is printed on, and the press. */
export function PaperSide({ piece, tabs }: SideProps) {
  const { edit } = useChanges(piece.id);
  const { data: report } = usePaper(piece);
  const formats = (useMeta().data?.formats ?? []).filter((f) => f.group === "sheet");
  const { job, start } = useDelivery(piece);
  const [kind, setKind] = useState<Kind>("picture");
  const setup = { ...USUAL, ...piece.recipe.delivery?.paper };
  const subject = (report?.subject ?? [0, 0, piece.width, piece.height]) as unknown as Rect;
  const size = [piece.width, piece.height] as const;
  const lying = lie(setup, size, subject);
  const spot = spotOf(lying, size, subject);
  const change = (some: (now: Required<Setup>) => Partial<Setup>) => edit(choose((now) => {
    const latest = { ...USUAL, ...now.paper };
    return { paper: { ...latest, ...some(latest) } };
  }));
  const set = (some: Partial<Setup>) => void change(() => some);
  // From where it is when its turn comes: keys may be pressed faster than the piece changes.
  const shift = (to: (spot: Spot) => Spot) => void change((now) => ({ placed: to(spotOf(lie(now, size, subject), size,
    subject)) }));
  const nudge = (dx: number, dy: number) => shift((s) => ({ ...s, x: s.x + dx, y: s.y + dy }));
  useKeys(PAPER.move, (key, e) => {
    e.preventDefault(); // or the sheet would be panned as well
    const far = key.startsWith("Shift") ? 10 : 1;
    const way = key.replace("Shift+", "");
    nudge(way === "ArrowLeft" ? -far : way === "ArrowRight" ? far : 0, way === "ArrowUp" ? -far : way === "ArrowDown"
      ? far : 0);
  });
  useKeys(PAPER.larger, () => shift((s) => scaled(s, 1.02, [s.x, s.y])));
  useKeys(PAPER.smaller, () => shift((s) => scaled(s, 1 / 1.02, [s.x, s.y])));
  useKeys(PAPER.fit, () => set({ placed: null }));
  return (
    <Workplace title="Paper" lead="How the picture lies on a sheet, and what a press makes of its colours."
      picture={<PaperView piece={piece} setup={setup} subject={subject} kind={kind}
        onPlace={(placed) => change(() => ({ placed }))} />}>
      {tabs}
      <DeliveryBar job={job} />
      <SheetFields setup={setup} set={set} />
      <Seam />
      <PlaceFields piece={piece} setup={setup} lying={lying} fewest={report?.fewest ?? 200}
        beyond={report?.beyond_safe ?? [0, 0, 0, 0]} set={set} spot={spot} />
      <Seam />
      <Box sx={{ display: "flex", alignItems: "baseline", mb: 0.75 }}>
        <Typography variant="h3" component="h2" sx={{ flex: 1 }}>Press</Typography>
        {kind !== "picture" && <Typography variant="body2" sx={{ color: "primary.main", fontWeight: 600 }}>simulated on
          the screen</Typography>}
      </Box>
      <Choice label="What is shown" wide value={kind} onChange={setKind} options={KINDS} />
      <PressFields piece={piece} />
      <Unprintable piece={piece} />
      <Seam />
      <Typography variant="h3" component="h2">Files of the sheet</Typography>
      <Box sx={{ display: "flex", alignItems: "center", gap: 1.5, my: 1 }}>
        <NumberField label="Resolution, dpi" value={piece.recipe.delivery?.dpi ?? 300} min={36} max={2400}
          sx={{ width: 124 }} onKeep={(dpi) => void edit(choose(() => ({ dpi })))} />
        {report && <Figure>{report.pixels[0]} × {report.pixels[1]} px</Figure>}
      </Box>
      <Choice label="How pixels of the sheet are made" wide value={setup.kernel} onChange={(kernel) => set({ kernel })}
        options={[{ value: "smooth", label: "Smooth" }, { value: "crisp", label: "Crisp" }, { value: "hard",
          label: "Hard" }]} />
      <Typography variant="body2" sx={{ my: 0.75 }}>{KERNELS[setup.kernel]}</Typography>
      <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }}>
        {formats.map((f) => <DeliveryLine key={f.key} format={f} main={f.key === "sheet pdf"} disabled={job !== null}
          onStart={() => void start({ format: f.key })} />)}
        <Box component="li" sx={{ display: "flex", alignItems: "center", minHeight: 44, borderTop: 1,
          borderColor: "divider", py: 0.5 }}>
          <Box sx={{ flex: 1 }}><b>From the browser</b><Typography variant="body2">At true size, if the print dialog
            leaves it at 100 %.</Typography></Box>
          <Button variant="outlined" component="a" href={`/piece/${piece.id}/print`} target="_blank"
            rel="noreferrer">Print</Button>
        </Box>
      </Box>
      <Seam />
      <Stickers piece={piece} busy={job !== null} start={start} />
    </Workplace>
  );
}

const FIRST_LOOK = "The piece";

/** The figures of looks on the sheet, each on a border, with lines to cut along. */
function Stickers({ piece, busy, start }: { piece: Piece; busy: boolean;
  start: ReturnType<typeof useDelivery>["start"] }) {
  const formats = (useMeta().data?.formats ?? []).filter((f) => f.group === "stickers");
  const [layout, setLayout] = useState({ border: 3, gap: 4, largest: 1000, copies: 1 });
  const looks = [{ id: "piece", name: FIRST_LOOK }, ...(piece.recipe.looks ?? []).filter((k) => !k.retired)];
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set());
  const taken = looks.filter((k) => !left.has(k.id));
  const toggle = (id: string) => setLeft((before) => new Set(before.has(id) ? [...before].filter((k) => k !== id)
    : [...before, id]));
  return (
    <Box component="section" aria-label="Stickers">
      <Typography variant="h3" component="h2">Stickers</Typography>
      <Typography variant="body2" sx={{ mb: 1.25 }}>The figure alone, once for each of <Figure
        size={12}>{taken.length}</Figure> {taken.length === 1 ? "look" : "looks"}, on a border that its silhouette grows
        by; as large as the sheet lets them be.</Typography>
      {looks.length > 1 && (
        <Box role="group" aria-label="Looks on the sheet" sx={{ display: "flex", flexWrap: "wrap", gap: 0.5,
          mb: 1.25 }}>
          {looks.map((k) => <ToggleButton key={k.id} size="small" value={k.id} selected={!left.has(k.id)}
            onClick={() => toggle(k.id)} sx={{ px: 1.25, lineHeight: 1.25 }}>{k.name}</ToggleButton>)}
        </Box>
      )}
      <StickerFields layout={layout} onChange={setLayout} />
      <Box component="ul" sx={{ listStyle: "none", m: 0, mt: 1, p: 0 }}>
        {formats.map((f) => <DeliveryLine key={f.key} format={f} disabled={busy || taken.length === 0}
          onStart={() => void start({ format: f.key, stickers: layout, looks: taken.map((k) => k.id) })} />)}
      </Box>
    </Box>
  );
}

const KERNELS: Record<string, string> = {
  smooth: "Linear, or Hamming’s window when it becomes smaller: no halos along lines.",
  crisp: "Lanczos with three lobes: sharper, with faint halos.", hard: "The nearest pixel: hard edges stay hard." };

function SheetFields({ setup, set }: { setup: Required<Setup>; set: (some: Partial<Setup>) => void }) {
  const papers = useMeta().data?.papers ?? {};
  const name = paperName(papers, setup.width, setup.height);
  const upright = setup.height >= setup.width;
  const take = (paper: string) => {
    const [w = 210, h = 297] = papers[paper] ?? [];
    set({ width: upright ? w : h, height: upright ? h : w, placed: null });
  };
  return (
    <Box component="section" aria-label="Sheet">
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 96px 96px", gap: 1, mb: 1.25 }}>
        <TextField select label="Paper" value={name ?? "own"} onChange={(e) => { if (e.target.value !== "own")
          take(e.target.value); }}>
          {Object.keys(papers).map((p) => <MenuItem key={p} value={p}>{p}</MenuItem>)}
          <MenuItem value="own">Its own size</MenuItem>
        </TextField>
        <NumberField label="Width" unit="mm" digits={1} value={setup.width} min={10} max={3000}
          onKeep={(width) => set({ width })} />
        <NumberField label="Height" unit="mm" digits={1} value={setup.height} min={10} max={3000}
          onKeep={(height) => set({ height })} />
      </Box>
      <Choice label="Which way the paper lies" wide value={upright} onChange={(up) => { if (up !== upright) set({
        width: setup.height, height: setup.width, placed: null }); }} options={[{ value: true, label: "Upright" },
        { value: false, label: "Lying" }]} />
      <Box sx={{ display: "grid", gridTemplateColumns: "repeat(3, 1fr)", gap: 1, mt: 1.5 }}>
        <NumberField label="Margin" unit="mm" digits={1} value={setup.margin} min={0} max={200}
          onKeep={(margin) => set({ margin })} />
        <NumberField label="Safe within" unit="mm" digits={1} value={setup.safe} min={0} max={200}
          onKeep={(safe) => set({ safe })} />
        <NumberField label="Bleed" unit="mm" digits={1} value={setup.bleed} min={0} max={25}
          onKeep={(bleed) => set({ bleed })} />
      </Box>
      <FormControlLabel control={<Checkbox checked={setup.marks} onChange={(_, marks) => set({ marks })} />}
        label="Marks that say where to cut" />
    </Box>
  );
}

function PlaceFields({ piece, setup, lying, spot, fewest, beyond, set }: { piece: Piece; setup: Required<Setup>;
  lying: Rect; spot: NonNullable<Setup["placed"]>; fewest: number; beyond: readonly number[];
  set: (some: Partial<Setup>) => void }) {
  const size = [piece.width, piece.height] as const;
  const dpi = dpiOf(lying, size);
  const cut = cutWords(cutOff(setup, lying));
  const outside = beyond.some((mm) => mm > 0.05);
  return (
    <Box component="section" aria-label="On the sheet">
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", columnGap: 2, rowGap: 0.5 }}>
        <Typography variant="body2">Centred is the</Typography>
        <Typography variant="body2">Around it is the</Typography>
        <Choice label="What is centred" wide value={setup.subject} onChange={(subject) => set({ subject,
          placed: null })} options={[{ value: "picture", label: "Picture" }, { value: "figure", label: "Figure" }]} />
        <Choice label="What is around it" wide value={setup.around} onChange={(around) => set({ around })}
          options={[{ value: "white", label: "Paper" }, { value: "ground", label: "Ground" }]} />
      </Box>
      <Box sx={{ display: "grid", gridTemplateColumns: "repeat(3, 1fr) auto", gap: 1, mt: 1.5 }}>
        <NumberField label="Middle, across" unit="mm" digits={1} value={spot.x} min={-9999} max={9999}
          onKeep={(x) => set({ placed: { ...spot, x } })} />
        <NumberField label="Middle, down" unit="mm" digits={1} value={spot.y} min={-9999} max={9999}
          onKeep={(y) => set({ placed: { ...spot, y } })} />
        <NumberField label="Picture wide" unit="mm" digits={1} value={lying[2]} min={1} max={9999}
          onKeep={(width) => set({ placed: { ...spot, width } })} />
        <Button variant="outlined" disabled={setup.placed === null} onClick={() => set({ placed: null })}>Fit it<Key
          of={PAPER.fit} /></Button>
      </Box>
      <Typography variant="body2" sx={{ mt: 1 }}>The picture has <Figure size={13}>{Math.round(dpi)} dpi</Figure> at
        this size.</Typography>
      {dpi < fewest && <Warning>Fewer than {Math.round(fewest)} dpi: single pixels will be seen (common
        practice). Make it smaller, or scan larger.</Warning>}
      {cut && <Warning>{cut}</Warning>}
      {!cut && outside && <Warning>It reaches beyond the safe area, where a cut may go wrong.</Warning>}
    </Box>
  );
}

function Warning({ children }: { children: React.ReactNode }) {
  return <Typography variant="body1" role="status" sx={{ mt: 0.5, color: "primary.main", fontWeight: 550 }}>{children}
  </Typography>;
}
