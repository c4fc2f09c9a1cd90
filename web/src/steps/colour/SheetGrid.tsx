import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import visuallyHidden from "@mui/utils/visuallyHidden";
import { useRef, useState } from "react";
import type { Cut, Edit, Neighbours, Part, Piece, Sheet, SheetCell } from "../../api/client";
import { partPixels, partShare, percent } from "../../api/cut";
import { tell } from "../../api/notice";
import { usePassNames } from "../../api/pieces";
import { ColourField } from "../../colour/ColourField";
import { readColour } from "../../colour/convert";
import { pressed, type Binding } from "../../ui/keys";
import { NUDGE_KEYS } from "../nudges";
import { Alike } from "./Alike";
import { CellDetails } from "./CellDetails";
import { ColumnHead } from "./ColumnHead";
import { SHEET } from "./keys";
import type { FieldCalls, Live } from "./live";
import { MARKS } from "./marks";
import { RowHead } from "./RowHead";
import { steps, Swatch, SWATCH_HEIGHT } from "./Swatch";
import { useNudge } from "./useNudge";

export const ROW_HEIGHT = SWATCH_HEIGHT + 6;
const GUTTER = 20;
const MOVES: Record<string, [number, number]> = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1],
  ArrowRight: [0, 1] };
const COLOUR_TYPE = "text/plain";

interface Props {
  piece: Piece;
  sheet: Sheet | undefined;
  cut: Cut | undefined;
  neighbours: Neighbours[];
  live: Live;
  field: (edit: (hex: string) => Edit) => FieldCalls;
  /** A picture was dropped on a swatch: its colours are wanted there. */
  onReference: (file: File, part: string, name: string) => void;
}

/** The edit that gives a swatch a colour. */
export function colourEdit(part: string, name: string, hex: string): Edit {
  return name === "base" ? { kind: "change_part", part, base: hex }
    : { kind: "choose_colours", part, own: { [name]: hex } };
}

/** The grid in which colour is decided: parts as rows, passes as columns. */
export function SheetGrid({ piece, sheet, cut, neighbours, live, field, onReference }: Props) {
  const grid = useRef<HTMLDivElement>(null);
  const [at, setAt] = useState<[number, number]>([0, 0]);
  const nudge = useNudge(live);
  const passNames = usePassNames();
  const { parts } = piece.recipe;
  if (parts.length === 0) {
    return <Typography variant="body2">There are no parts yet. Make some in the step Parts, then choose their colours
      here.</Typography>;
  }
  const columns = sheet?.columns.filter((c) => c.name !== "wash") ?? [];
  const pixels = partPixels(cut);
  const many = columns.length > 6;
  const template = `${GUTTER}px minmax(84px, 1.15fr) ${columns.map(() => "minmax(40px, 1fr)").join(" ")}`;

  const go = (row: number, column: number) => {
    const to: [number, number] = [Math.min(parts.length - 1, Math.max(0, row)),
      Math.min(columns.length - 1, Math.max(0, column))];
    setAt(to);
    grid.current?.querySelector<HTMLElement>(`[data-cell="${to[0]}-${to[1]}"]`)?.focus();
  };
  const onKey = (e: React.KeyboardEvent, row: number, column: number, part: Part, cell: SheetCell) => {
    const key = (of: Binding) => pressed(of, e.nativeEvent);
    const move = MOVES[key(SHEET.move) ?? ""];
    const to = NUDGE_KEYS[key(SHEET.nudge) ?? ""];
    if (move) go(row + move[0], column + move[1]);
    else if (to) nudge(part.id, cell.name, to);
    else if (key(SHEET.copy)) {
      void navigator.clipboard.writeText(cell.colour).then(() => tell(`${cell.colour} is copied.`), () => undefined);
    } else if (key(SHEET.paste)) {
      void navigator.clipboard.readText().then((text) => give(part.id, cell.name, text), () => undefined);
    } else if (key(SHEET.giveBack) && cell.own) void
      live.make({ kind: "choose_colours", part: part.id, own: { [cell.name]: null } });
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const give = (part: string, name: string, text: string) => {
    const hex = readColour(text);
    if (hex) void live.make(colourEdit(part, name, hex));
  };
  const drop = (e: React.DragEvent, part: string, name: string) => {
    e.preventDefault();
    e.stopPropagation();
    const file = e.dataTransfer.files[0];
    if (file) onReference(file, part, name);
    else give(part, name, e.dataTransfer.getData(COLOUR_TYPE));
  };

  return (
    <Box ref={grid} role="grid" aria-label="Colours by part and pass"
      sx={{ position: "relative", flexShrink: 0, pb: 0.5 }}>
      <Box role="row" sx={{ position: "sticky", top: -16, zIndex: 1, bgcolor: "background.paper", pt: 0.5,
        display: "grid", gridTemplateColumns: template, gap: many ? "4px" : "6px", mb: 0.5, alignItems: "end" }}>
        <span role="columnheader"><span style={visuallyHidden}>Alike</span></span>
        <span role="columnheader"><span style={visuallyHidden}>Part</span></span>
        {columns.map((column) => <ColumnHead key={column.name} piece={piece} column={column} live={live}
          field={field} />)}
      </Box>
      <Box sx={{ position: "relative" }}>
        <Alike parts={parts} neighbours={neighbours} width={GUTTER} row={ROW_HEIGHT} />
        {parts.map((part, r) => {
          const row = sheet?.rows.find((s) => s.part === part.id);
          return (
            <Box role="row" key={part.id}
              sx={{ display: "grid", gridTemplateColumns: template, gap: many ? "4px" : "6px", height: ROW_HEIGHT,
                alignItems: "start" }}>
              <span role="gridcell" />
              <RowHead piece={piece} part={part} live={live}
                share={part.scenery ?? `${percent(partShare(cut, pixels, part.id))} %`}
                own={Object.keys(part.own ?? {}).length} />
              {columns.map((column, c) => {
                const cell = row?.cells.find((x) => x.name === column.name);
                if (!cell) return <Box role="gridcell" key={column.name}
                  aria-label={column.on ? `none on ${part.scenery ?? part.material ?? ""}` : "off"}
                  title={column.on ? `No ${column.label.toLowerCase()} on ${part.scenery ? "scenery"
                    : (part.material ?? "this material")}` : undefined}
                  sx={{ height: SWATCH_HEIGHT, borderRadius: 1, border: "1px dashed", borderColor: "divider" }} />;
                const label = passNames[cell.name] ?? cell.name;
                return (
                  <Box role="gridcell" key={column.name} draggable
                    onDragStart={(e) => e.dataTransfer.setData(COLOUR_TYPE, cell.colour)}
                    onDragOver={(e) => e.preventDefault()} onDrop={(e) => drop(e, part.id, cell.name)}
                    onKeyDown={(e) => { if (e.target instanceof HTMLElement && e.target.dataset.cell)
                      onKey(e, r, c, part, cell); }}>
                    <ColourField label={`${label} of ${part.name}`} value={cell.colour}
                      starters={cell.name === "base" ? familyFor(part) : undefined}
                      said={[cell.mark && MARKS[cell.mark]?.word, cell.name !== "base"
                        && `${steps(cell)} from the base`, cell.own && "your own choice"].filter(Boolean).join(", ")}
                      button={{ "data-cell": `${r}-${c}`, tabIndex: at[0] === r && at[1] === c ? 0
                        : -1, onFocus: () => setAt([r, c]) }}
                      head={<CellDetails cell={cell}
                        onGiveBack={() => void live.make({ kind: "choose_colours", part: part.id,
                          own: { [cell.name]: null } })} />}
                      {...field((hex) => colourEdit(part.id, cell.name, hex))}>
                      <Swatch cell={cell} base={cell.name === "base"} narrow={many} />
                    </ColourField>
                  </Box>
                );
              })}
            </Box>
          );
        })}
      </Box>
    </Box>
  );
}

const FAMILIES = ["skin", "hair", "leather", "metal", "glass"];

/** The starters that a part is likely to want first. */
function familyFor({ name, material }: Part): string {
  if (/\blips?\b/i.test(name)) return "lips";
  return material && FAMILIES.includes(material) ? material : "cloth";
}
