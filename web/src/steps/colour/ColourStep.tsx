import Box from "@mui/material/Box";
import { useMemo, useState } from "react";
import { api, need, type Edit } from "../../api/client";
import { tell, tellProblem } from "../../api/notice";
import { useCut } from "../../api/pieces";
import { ColourField } from "../../colour/ColourField";
import { PictureView, type Tool } from "../../picture/PictureView";
import type { StepProps } from "../StepProps";
import { Workplace } from "../../shell/Workplace";
import { Seam } from "../../theme/Seam";
import { useLiveEdit } from "../useLiveEdit";
import { CardPanel } from "./CardPanel";
import { ColourSheet } from "./ColourSheet";
import { useLiveSheet } from "./useLiveSheet";
import { WashControl } from "./WashControl";

type Taker = (hex: string) => Edit;

export function ColourStep({ piece }: StepProps) {
  const sheet = useLiveSheet(piece);
  const { data: cut } = useCut(piece);
  const picture = useLiveEdit(piece);
  const { show, drop } = sheet;
  const live = useMemo(() => ({
    make: picture.make,
    show: (edit: Edit) => { picture.show(edit); show(edit); },
    drop: () => { picture.drop(); drop(); },
  }), [picture, show, drop]);
  const [taker, setTaker] = useState<Taker | null>(null);
  const { parts, passes, background } = piece.recipe;
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

  const field = (edit: Taker) => ({
    onShow: (hex: string) => live.show(edit(hex)),
    onMake: (hex: string) => void live.make(edit(hex)),
    onCancel: live.drop,
    onPick: () => {
      tell("Click a colour in the picture.");
      setTaker(() => edit);
    },
  });

  return (
    <Workplace title="Colour" lead="What each part really shows. The figure in a swatch is its step from the base, CIEDE2000."
      picture={<PictureView piece={piece} kind="picture" tool={tool} />}>
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 2 }}>
        {(["shade", "light"] as const).map((name) => (
          <WashControl key={name} name={name} wash={passes[name]} live={live}
            field={field((colour) => ({ kind: "set_pass", name, wash: { ...passes[name], colour } }))} />
        ))}
      </Box>
      <Seam />
      <ColourSheet parts={parts} sheet={sheet.rows} cut={cut} passes={passes}
        field={(part) => field((base) => ({ kind: "change_part", part, base }))} />
      <Seam />
      <CardPanel piece={piece} />
      <Seam />
      <ColourField label="Background" value={background} {...field((colour) => ({ kind: "set_background", colour }))} />
    </Workplace>
  );
}
