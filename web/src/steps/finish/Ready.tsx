import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect, useRef } from "react";
import type { Edit, Piece, ReadyFinish } from "../../api/client";
import { useReadyFinishes } from "../../api/pieces";
import type { LiveEdit } from "../useLiveEdit";
import { swatch } from "./finish";

const REST_MS = 160;

/** Ready finishes: point at one to see it on the picture, click to have its layers. */
export function Ready({ piece, look, live, onMade }: { piece: Piece; look: string; live: LiveEdit;
  onMade: (edit: Edit) => void }) {
  const found = useReadyFinishes(piece, look).data ?? [];
  const resting = useRef(0);
  useEffect(() => () => clearTimeout(resting.current), []);
  const edit = ({ layers, focus }: ReadyFinish): Edit => (focus?.length
    ? { kind: "several", edits: [{ kind: "set_focus", places: focus }, { kind: "add_finish", layers }] }
    : { kind: "add_finish", layers });
  const rest = (finish: ReadyFinish) => {
    clearTimeout(resting.current);
    resting.current = window.setTimeout(() => live.show(edit(finish)), REST_MS);
  };
  const leave = () => {
    clearTimeout(resting.current);
    live.drop();
  };
  const groups = [["Moods", found.filter((f) => f.mood)], ["Worked out from this drawing", found.filter((f) =>
    !f.mood)]] as const;
  return groups.map(([title, offered]) => offered.length > 0 && (
    <Box key={title} role="group" aria-label={title} sx={{ display: "grid", gap: 0.5, mb: 1.5 }}>
      <Typography variant="body2" component="h3">{title}</Typography>
      {offered.map((finish) => (
        <Button key={finish.key} color="inherit" variant="outlined" onPointerEnter={() => rest(finish)}
          onPointerLeave={leave} onFocus={() => rest(finish)} onBlur={leave}
          onClick={() => { clearTimeout(resting.current); onMade(edit(finish)); }}
          sx={{ display: "grid", gridTemplateColumns: "auto 1fr", columnGap: 1.5, textAlign: "left",
            whiteSpace: "normal", lineHeight: 1.4, py: 1, alignItems: "center" }}>
          <Box aria-hidden sx={{ display: "flex", borderRadius: 1, overflow: "hidden", border: 1,
            borderColor: "divider" }}>
            {finish.layers.map((layer, k) => <Box key={k}
              sx={{ width: 14, height: 40, background: swatch(layer.paint) }} />)}
          </Box>
          <span>
            <Typography component="span" variant="h3" sx={{ display: "block" }}>{finish.label}</Typography>{" "}
            <Typography component="span" variant="body2" sx={{ lineHeight: "inherit" }}>{finish.why}</Typography>
          </span>
        </Button>
      ))}
    </Box>
  ));
}
