import Box from "@mui/material/Box";
import type { Gap, Leak, Point } from "../../api/client";
import { toWindow } from "../../picture/camera";
import type { Stage } from "../../picture/PictureView";

export type LeakMark = Leak & { to: Point };

interface Props {
  stage: Stage;
  gaps: Gap[];
  pointed: Gap | null;
  onPoint: (gap: Gap | null) => void;
  onClose: (gap: Gap) => void;
  leak: LeakMark | null;
}

const RING = 18;

/** A pin on each gap with its width; a click closes it. */
export function Pins({ stage, gaps, pointed, onPoint, onClose, leak }: Props) {
  const at = (x: number, y: number) => toWindow(stage.camera, stage.box, stage.flip, x, y);
  return (
    <>
      {gaps.map((g) => {
        const [x, y] = at(g.x, g.y);
        const on = pointed?.x === g.x && pointed.y === g.y;
        const open = g.state === "undecided";
        if (!open && !on) return null;
        const size = Math.max(RING, (g.width * stage.camera.zoom) / 1 + 8);
        return (
          <Box key={`${g.x} ${g.y}`} component="button" type="button" tabIndex={-1} data-testid="pin"
            aria-label={`Gap of ${g.width.toFixed(0)} px between ${g.joins.join(" and ")}. Close`}
            onPointerEnter={() => onPoint(g)} onClick={() => open && onClose(g)}
            sx={{
              position: "absolute", left: x - size / 2, top: y - size / 2, width: size, height: size, p: 0,
                borderRadius: "50%", cursor: "pointer",
              border: on ? "3px solid" : "2px solid", borderColor: "primary.main", bgcolor: "transparent",
                opacity: 1 - 0.5 * g.doubt,
              boxShadow: "0 0 0 1px rgba(255,255,255,.85)",
              "&::before": { content: '""', position: "absolute", inset: -10 },
            }}>
            {(on || gaps.length <= 12) && (
              <Box component="span" sx={{ position: "absolute", left: "100%", top: -7, ml: 0.5, px: 0.5,
                borderRadius: 0.5, fontSize: 11.5, lineHeight: "16px", whiteSpace: "nowrap",
                  bgcolor: "background.paper", color: "text.primary" }}>
                {g.width.toFixed(g.width < 10 ? 1 : 0)} px
              </Box>
            )}
          </Box>
        );
      })}
      {leak && <Mark at={at(leak.x, leak.y)} label={leak.level > 0 ? `${Math.round(leak.level * 100)} %`
        : `${Math.max(0, leak.width).toFixed(0)} px wide`} />}
    </>
  );
}

function Mark({ at: [x, y], label }: { at: [number, number]; label: string }) {
  return (
    <Box data-testid="leak" sx={{ position: "absolute", left: x - 11, top: y - 11, width: 22, height: 22,
      transform: "rotate(45deg)", border: "3px solid", borderColor: "primary.main", boxShadow: "0 0 0 1px #fff",
        pointerEvents: "none" }}>
      <Box sx={{ position: "absolute", left: 18, top: -18, transform: "rotate(-45deg)", px: 0.75, borderRadius: 1,
        fontSize: 12, whiteSpace: "nowrap", bgcolor: "background.paper" }}>{label}</Box>
    </Box>
  );
}
