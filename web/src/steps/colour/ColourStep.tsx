import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useCallback, useMemo, useState } from "react";
import { api, need, type Edit } from "../../api/client";
import { tell, tellProblem } from "../../api/notice";
import { useCut, useNeighbours } from "../../api/pieces";
import { PictureView, type Tool } from "../../picture/PictureView";
import { useSides } from "../../ui/Choice";
import { Workplace } from "../../shell/Workplace";
import type { StepProps } from "../StepProps";
import { useLiveEdit } from "../useLiveEdit";
import { AlikeInWords } from "./Alike";
import { CardPanel } from "./CardPanel";
import { EvenOut } from "./EvenOut";
import { COLOUR } from "./keys";
import { LightColour } from "./LightColour";
import type { Live } from "./live";
import { countMarks, MARKS } from "./marks";
import { MethodChooser } from "./MethodChooser";
import { ReadColours } from "./ReadColours";
import { Shelf } from "./Shelf";
import { colourEdit, SheetGrid } from "./SheetGrid";
import { useLiveSheet } from "./useLiveSheet";
import { ValueStrip } from "./ValueStrip";
import { WashControl } from "./WashControl";

type Taker = (hex: string) => Edit;
const SIDES = { sheet: "Sheet", even: "Even out", light: "Light’s colour", card: "Card", shelf: "Shelf" };

export function ColourStep({ piece }: StepProps) {
  const { sheet, show, drop } = useLiveSheet(piece);
  const { data: cut } = useCut(piece);
  const neighbours = useNeighbours(piece).data ?? [];
  const picture = useLiveEdit(piece);
  const live = useMemo<Live>(() => ({
    make: picture.make,
    show: (edit) => { picture.show(edit); show(edit); },
    drop: () => { picture.drop(); drop(); },
  }), [picture, show, drop]);
  const [taker, setTaker] = useState<Taker | null>(null);
  const [trying, setTrying] = useState<string | null>(null);
  const [looking, setLooking] = useState(false);
  const [reference, setReference] = useState<{ file?: File; take?: Taker } | null>(null);
  const [side, tabs, turnTo] = useSides(SIDES, COLOUR.sides, "sheet");
  const { parts, passes } = piece.recipe;
  const { width, height } = piece;

  const tool = useMemo<Tool | null>(() => taker && {
    cursor: "crosshair",
    up: (x, y) => {
      setTaker(null);
      if (x < 0 || y < 0 || x >= width || y >= height) return;
      need(api.GET("/api/pieces/{piece_id}/colour-at", {
        params: { path: { piece_id: piece.id }, query: { x: Math.floor(x), y: Math.floor(y) } },
      })).then((hex) => live.make(taker(hex))).catch(tellProblem);
    },
  }, [taker, live, piece.id, width, height]);

  const field = useCallback((edit: Taker) => ({
    onShow: (hex: string) => live.show(edit(hex)),
    onMake: (hex: string) => void live.make(edit(hex)),
    onCancel: live.drop,
    onPick: () => {
      tell("Click a colour in the picture.");
      setTaker(() => edit);
    },
    onReference: () => setReference({ take: edit }),
  }), [live]);

  const marks = countMarks(sheet?.rows.flatMap((r) => r.cells) ?? []);
  return (
    <Workplace title="Colour" wide
      lead="What each part really shows. The figure in a swatch is its step from the base, CIEDE2000."
      onDropFile={(file) => setReference({ file })}
      picture={<PictureView piece={piece} kind="picture"
        compare={looking || (trying !== null && trying !== passes.method) ? "picture" : undefined} tool={tool} />}>
      {tabs}
      {side === "sheet" && (
        <>
          <MethodChooser piece={piece} live={live} trying={trying} onTry={setTrying} />
          <SheetGrid piece={piece} sheet={sheet} cut={cut} neighbours={neighbours} live={live} field={field}
            onReference={(file, part, name) => setReference({ file, take: (hex) => colourEdit(part, name, hex) })} />
          {passes.method === "values first" && <WashControl name="wash" title="Wash" mode="multiply" passes={passes}
            live={live} field={field} />}
          {marks.length > 0 && (
            <Box sx={{ display: "flex", alignItems: "center", gap: 1, mt: 0.5 }}>
              <Typography variant="body2" sx={{ flex: 1 }}>
                {marks.map(([mark, count]) =>
                  `${MARKS[mark]?.sign ?? ""} ${count} ${MARKS[mark]?.word ?? mark}`).join("   ")}
              </Typography>
              <Button variant="outlined" onClick={() => turnTo("even")}>Even out</Button>
            </Box>
          )}
          <ValueStrip parts={parts} sheet={sheet} />
          <AlikeInWords parts={parts} neighbours={neighbours} />
        </>
      )}
      {side === "even" && <EvenOut piece={piece} live={live} onLook={setLooking} />}
      {side === "light" && <LightColour piece={piece} live={live} field={field} onLook={setLooking} />}
      {side === "card" && <CardPanel piece={piece} />}
      {side === "shelf" && <Shelf piece={piece} live={live} />}
      {reference && (
        <ReadColours piece={piece} file={reference.file} onClose={() => setReference(null)}
          single={reference.take && ((hex) => { if (reference.take) void live.make(reference.take(hex)); })} />
      )}
    </Workplace>
  );
}
