import Box from "@mui/material/Box";
import Table from "@mui/material/Table";
import TableBody from "@mui/material/TableBody";
import TableCell from "@mui/material/TableCell";
import TableHead from "@mui/material/TableHead";
import TableRow from "@mui/material/TableRow";
import { Choice } from "../../ui/Choice";
import Typography from "@mui/material/Typography";
import { useMemo, useState, type ReactNode } from "react";
import type { LightReport, Piece, PictureKind, Point } from "../../api/client";
import { useLightReport, useMeta } from "../../api/pieces";
import { PictureView, type Tool } from "../../picture/PictureView";
import { useKeys } from "../../ui/useKeys";
import { Workplace } from "../../shell/Workplace";
import { Figure } from "../../theme/Figure";
import type { LiveEdit } from "../useLiveEdit";
import { describeLight } from "./ball";
import { HowLaid, WhyHere } from "./Explained";
import { LOOK_OVER } from "./keys";

type PartLight = LightReport["parts"][number];

/** Below this an arrow tells too little to be drawn. */
const FAINTEST = 0.25;

const PLAIN = new Set(["all", "bases"]);

/** Are the shapes simple, and is there one light? Passes one after the other; arrows of the implied light. */
export function LookOver({ piece, live, tabs }: { piece: Piece; live: LiveEdit; tabs: ReactNode }) {
  const report = useLightReport(piece).data;
  const labels = useMeta().data?.passes ?? {};
  const [last, setLast] = useState<string>("all");
  const [pointed, setPointed] = useState<string | null>(null);
  const passes = report?.passes ?? [];
  const layers = ["bases", ...passes.map((p) => p.name).filter((name) => name !== "ground"), "all"];
  const kind: PictureKind = last === "all" ? "picture" : last === "bases" ? "bases" : `picture:${last}`;
  const step = (by: number) => setLast(layers[Math.min(layers.length - 1, Math.max(0, layers.indexOf(last) + by))] ??
    "all");
  useKeys(LOOK_OVER.less, () => step(-1));
  useKeys(LOOK_OVER.more, () => step(1));
  const [place, setPlace] = useState<Point | null>(null);
  const asking = useMemo<Tool>(() => ({ cursor: "help", down: (x, y) => setPlace([Math.floor(x), Math.floor(y)]) }),
    []);
  const nameOf = (id: string) => piece.recipe.parts.find((p) => p.id === id)?.name ?? id;
  const astray = (report?.parts ?? []).filter((p) => p.astray);
  const { azimuth, height } = piece.recipe.light;
  return (
    <Workplace title="Look over" lead="Are the shapes simple, and is there one light?"
      picture={
        <PictureView piece={piece} kind={kind} tool={asking} overlay={(ctx, zoom) => {
          if (place) pin(ctx, place, zoom);
          const arrows = (report?.parts ?? []).filter((p) => p.astray || p.confidence > FAINTEST);
          for (const p of arrows.sort((a, b) => Number(a.astray) - Number(b.astray))) arrow(ctx, p, zoom,
            p.part === pointed);
        }} />
      }>
      {tabs}
      <Typography variant="h3" component="h2">Passes one after the other</Typography>
      <Choice label="Passes shown" value={last} sx={{ my: 0.75 }} onChange={setLast}
        options={layers.map((name) => ({ value: name, label: name === "bases" ? "Bases" : name === "all" ? "All"
          : `+ ${(labels[name] ?? name).toLowerCase()}` }))} />
      {PLAIN.has(last) ? null : <HowLaid key={last} piece={piece} pass={last} live={live} />}
      <WhyHere piece={piece} place={place} />
      <Typography variant="h3" component="h2" sx={{ mt: 1.5 }}>One light?</Typography>
      <Typography variant="body2">
        The light stands {describeLight(azimuth, height)}. An arrow shows where each part’s shade says that it comes
          from; the longer, the surer.
      </Typography>
      {report && astray.length === 0 && <Typography sx={{ mt: 0.5 }}>No part disagrees.</Typography>}
      <Box component="ul" aria-label="Parts that disagree" sx={{ listStyle: "none", p: 0, m: 0, mt: 0.5 }}>
        {astray.map((p) => (
          <Box component="li" key={p.part} tabIndex={0} onPointerEnter={() => setPointed(p.part)}
            onPointerLeave={() => setPointed(null)} onFocus={() => setPointed(p.part)} onBlur={() => setPointed(null)}
            sx={{ display: "flex", alignItems: "baseline", gap: 1, minHeight: 36, px: 1, borderRadius: 1,
              "&:hover": { bgcolor: "action.hover" } }}>
            <Box sx={{ fontWeight: 640 }}>{nameOf(p.part)}</Box>
            <span>
              lit from <Figure>{p.azimuth.toFixed(0)}°</Figure>, <Figure>{Math.abs(p.away).toFixed(0)}°</Figure> away,
              confidence <Figure>{(100 * p.clear).toFixed(0)} %</Figure>
            </span>
          </Box>
        ))}
      </Box>
      <Typography variant="h3" component="h2" sx={{ mt: 1.5 }}>Simple?</Typography>
      <Table size="small" aria-label="Shapes of the passes">
        <TableHead><TableRow>{["Pass", "Islands", "Holes", "Of the figure"].map((h, k) => <TableCell key={h}
          align={k ? "right" : "left"}>{h}</TableCell>)}</TableRow></TableHead>
        <TableBody>
          {passes.filter((p) => p.name !== "ground").map((p) => (
            <TableRow key={p.name}>
              <TableCell>{labels[p.name] ?? p.name}</TableCell>
              <TableCell align="right"><Figure>{p.islands}</Figure></TableCell>
              <TableCell align="right"><Figure>{p.holes}</Figure></TableCell>
              <TableCell align="right"><Figure>{(100 * p.share).toFixed(1)} %</Figure></TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      <Typography variant="body2" sx={{ mt: 0.75 }}>Many islands scatter the eye. Simplify under Lights draws fewer and
        larger ones.</Typography>
    </Workplace>
  );
}

/** From where the light comes to the middle of the part. */
function arrow(ctx: CanvasRenderingContext2D, p: PartLight, zoom: number, pointed: boolean): void {
  const angle = (p.azimuth * Math.PI) / 180;
  const length = (18 + 26 * (p.astray ? 1 : p.confidence)) / zoom;
  const [dx, dy] = [Math.cos(angle), -Math.sin(angle)];
  const [x, y] = [p.x + dx * length, p.y + dy * length];
  const head = 7 / zoom;
  ctx.lineCap = ctx.lineJoin = "round";
  for (const [style, width] of [["rgba(20,20,22,.85)", pointed ? 7 : 5], [p.astray ? "#ff8a5c" : "#ffffff", pointed
    ? 3.5 : 2]] as const) {
    ctx.strokeStyle = style;
    ctx.lineWidth = width / zoom;
    ctx.beginPath();
    ctx.moveTo(x, y);
    ctx.lineTo(p.x, p.y);
    for (const side of [0.5, -0.5]) {
      ctx.moveTo(p.x + head * Math.cos(angle + side), p.y - head * Math.sin(angle + side));
      ctx.lineTo(p.x, p.y);
    }
    ctx.stroke();
  }
}

/** Where it was asked why. */
function pin(ctx: CanvasRenderingContext2D, [x, y]: Point, zoom: number): void {
  for (const [style, width] of [["#1b1b1b", 4], ["#ffffff", 1.75]] as const) {
    ctx.strokeStyle = style;
    ctx.lineWidth = width / zoom;
    ctx.beginPath();
    ctx.arc(x + 0.5, y + 0.5, 9 / zoom, 0, 2 * Math.PI);
    ctx.stroke();
  }
}
