import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import Select from "@mui/material/Select";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Inking, InkShade, PassKey } from "../../api/client";
import { useMeta } from "../../api/pieces";
import { ColourField } from "../../colour/ColourField";
import { PictureView } from "../../picture/PictureView";
import { Workplace } from "../../shell/Workplace";
import { Figure } from "../../theme/Figure";
import { Seam } from "../../theme/Seam";
import { Choice } from "../../ui/Choice";
import { perCent, Rail } from "../../ui/Rail";
import type { SideProps } from "../StepProps";
import { useLiveEdit } from "../useLiveEdit";
import { FOLLOWS, newShade, sayShade, STYLES } from "./shades";
import { ScreenRuling } from "./ScreenRuling";
import { Line, Parts } from "./ShapeFields";
import { Switched } from "./Switched";

/** Passes that are drawn in ink: hatched, dotted, stippled or black. */
export function ShadesSide({ piece, tabs }: SideProps) {
  const live = useLiveEdit(piece);
  const passes = useMeta().data?.passes ?? {};
  const [drag, setDrag] = useState<Inking | null>(null);
  const [chosen, choose] = useState<number | null>(piece.recipe.ink.shades.length ? 0 : null);
  const ink = drag ?? piece.recipe.ink;
  const shade = chosen === null ? undefined : ink.shades[chosen];
  const withShade = (more: Partial<InkShade>): Inking => ({ ...ink,
    shades: ink.shades.map((s, k) => k === chosen ? { ...s, ...more } : s) });
  const show = (more: Partial<InkShade>) => {
    const next = withShade(more);
    setDrag(next);
    live.show({ kind: "set_ink", ink: next });
  };
  const set = (next: Inking) => {
    setDrag(next);
    return live.make({ kind: "set_ink", ink: next }).finally(() => setDrag(null));
  };
  const make = (more: Partial<InkShade>) => void set(withShade(more));
  const add = () => {
    const free = (["shade", "deep shade"] as const).find((name) => !ink.shades.some((s) => s.name === name));
    void set({ ...ink, shades: [...ink.shades, newShade(piece, free ?? "shade")] });
    choose(ink.shades.length);
  };
  const remove = (k: number) => {
    void set({ ...ink, shades: ink.shades.filter((_, j) => j !== k) });
    choose(null);
  };
  return (
    <Workplace title="Finish"
      lead="Any pass drawn in ink: lines that follow the form, dots of a screen, stipple, or solid black."
      picture={<PictureView piece={piece} kind="picture" />}>
      {tabs}
      <Box><Button variant="outlined" onClick={add} disabled={ink.shades.length >= 12}>Draw a pass in ink</Button></Box>
      <Box component="ul" aria-label="Passes in ink" sx={{ listStyle: "none", m: 0, mt: 1, p: 0 }}>
        {ink.shades.map((s, k) => (
          <Box component="li" key={k} sx={{ display: "grid", gridTemplateColumns: "minmax(0, 1fr) auto", minHeight: 44,
            alignItems: "center", borderTop: 1, borderColor: "divider",
            outline: chosen === k ? "2px dashed" : "none", outlineColor: "primary.main", outlineOffset: -2 }}>
            <Button color="inherit" aria-expanded={chosen === k} onClick={() => choose(chosen === k ? null : k)}
              sx={{ justifyContent: "flex-start", textAlign: "left" }}>
              <span><b>{passes[s.name] ?? s.name}</b> {sayShade(s)}, <Figure>{Math.round(s.spacing)} px</Figure></span>
            </Button>
            <Button color="inherit" aria-label={`Take off ${passes[s.name] ?? s.name} in ink`}
              onClick={() => remove(k)} sx={{ color: "text.secondary", minWidth: 0 }}>Take off</Button>
          </Box>
        ))}
      </Box>
      {ink.shades.length === 0 && <Typography variant="body2" sx={{ mt: 1 }}>Nothing is drawn in ink yet. The shade of
        the whole figure is a good beginning; its colour gives way to the ink.</Typography>}
      {shade && (
        <Box role="group" aria-label={`${passes[shade.name] ?? shade.name} in ink`} sx={{ pb: 1 }}>
          <Seam />
          <Line label="Pass">
            <Select value={shade.name} inputProps={{ "aria-label": "Pass" }}
              onChange={(e) => make({ name: e.target.value as PassKey })}>
              {Object.entries(passes).map(([key, label]) => <MenuItem key={key} value={key}>{label}</MenuItem>)}
            </Select>
          </Line>
          <Parts label="Parts it is drawn on" piece={piece} value={shade.parts} none="The whole figure"
            onChange={(parts) => make({ parts })} />
          <Choice label="Drawn as" wide={3} value={shade.style} options={STYLES} sx={{ my: 1 }}
            onChange={(style) => make({ style })} />
          {(shade.style === "lines" || shade.style === "crossed") && (
            <Choice label="How lines run" wide value={shade.follow} options={FOLLOWS} sx={{ mb: 0.5 }}
              onChange={(follow) => make({ follow })} />
          )}
          <Fields shade={shade} dpi={piece.recipe.delivery.dpi} onShow={show} onMake={make} />
          <ColourField label="Ink" value={shade.colour ?? piece.recipe.lines.colour}
            onCancel={() => { setDrag(null); live.drop(); }}
            onShow={(colour) => show({ colour })} onMake={(colour) => make({ colour })} />
          <Switched label="In place of its colour" on={shade.instead} onChange={(instead) => make({ instead })} />
        </Box>
      )}
    </Workplace>
  );
}

function Fields({ shade, dpi, onShow, onMake }: {
  shade: InkShade; dpi: number; onShow: (more: Partial<InkShade>) => void; onMake: (more: Partial<InkShade>) => void;
}) {
  const rail = (name: "angle" | "spacing" | "tone" | "pressure" | "taper" | "gap") => ({
    value: shade[name], onShow: (v: number) => onShow({ [name]: v }), onMake: (v: number) => onMake({ [name]: v }),
  });
  if (shade.style === "solid") return <Rail label="Gap to lines" {...rail("gap")} min={0} max={4} step={0.1}
    says={(v) => `${v.toFixed(1)} widths`} />;
  return (
    <>
      {shade.style !== "stipple" && <Rail label="Direction" {...rail("angle")} min={-180} max={180}
        says={(v) => `${Math.round(v)}°`} />}
      <Rail label="Spacing" {...rail("spacing")} min={2} max={120} says={(v) => `${Math.round(v)} px`} />
      {shade.style === "dots" && <ScreenRuling spacing={shade.spacing} dpi={dpi}
        onMake={(spacing) => onMake({ spacing })} />}
      <Rail label="Tone" {...rail("tone")} min={0.02} max={1} step={0.01} says={perCent} />
      <Rail label="Pressure" {...rail("pressure")} min={0} max={1} step={0.01} says={perCent} />
      <Rail label="Ends" {...rail("taper")} min={0} max={12} step={0.25} says={(v) => `${v.toFixed(1)} widths`} />
    </>
  );
}
