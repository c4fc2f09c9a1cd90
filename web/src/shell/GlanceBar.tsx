import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Tooltip from "@mui/material/Tooltip";
import type { Piece } from "../api/client";
import type { Changes } from "../api/pieces";
import { useCamera, useShownCamera } from "../picture/camera";
import { BACKDROPS, LOOKS, pressLook, releaseLook, useGlance } from "../picture/glance";
import { GLANCES, LOOKING } from "../picture/keys";
import { Figure } from "../theme/Figure";
import { PIECE } from "./keys";
import { useSurround } from "../theme/theme";
import { Key } from "../ui/Key";

/** Ways of looking on the left; undo, redo and zoom on the right. */
export function GlanceBar({ piece, changes, beside = false, onBeside, onHelp }: { piece?: Piece; changes?: Changes;
  beside?: boolean; onBeside?: () => void; onHelp?: () => void }) {
  const glance = useGlance();
  const { fit, actual } = useCamera();
  const camera = useShownCamera(glance.small);
  const surround = useSurround();
  const plain = { color: "text.primary", px: 1.25, minWidth: 36 } as const;
  return (
    <Box component="footer" sx={{ height: 46, display: "flex", alignItems: "center", px: 1, bgcolor: "background.paper",
      borderTop: 1, borderColor: "divider", whiteSpace: "nowrap", overflow: "hidden" }}>
      {LOOKS.filter((look) => piece || look.key !== "before").map((look) => (
        <Tooltip key={look.key} describeChild title={`${look.hint}. Tap to lock, hold for a moment.`}>
          <Button aria-pressed={glance[look.key]} aria-keyshortcuts={look.hotkey.toUpperCase()}
            sx={{ ...plain, ...(glance[look.key]
              && { color: "primary.main", outline: "2px dashed", outlineOffset: -4 }) }}
            onPointerDown={(e) => { e.currentTarget.setPointerCapture(e.pointerId); pressLook(look.key); }}
            onPointerUp={() => releaseLook(look.key)} onPointerCancel={() => releaseLook(look.key)}
            onKeyDown={(e) => { if (e.key === "Enter" || e.key === " ") { e.preventDefault();
              if (!e.repeat) pressLook(look.key); } }}
            onKeyUp={(e) => { if (e.key === "Enter" || e.key === " ") releaseLook(look.key); }}>
            {look.label}<Key of={GLANCES} only={look.hotkey} />
          </Button>
        </Tooltip>
      ))}
      <Tooltip title="The grey behind the picture" describeChild>
        <Button sx={plain} onClick={glance.nextBackdrop}>
          <Box component="span" sx={{ width: 16, height: 16, mr: 0.75, borderRadius: "50%", border: 1,
            borderColor: "text.secondary", bgcolor: BACKDROPS[glance.backdrop] }} />
          Backdrop<Key of={LOOKING.backdrop} />
        </Button>
      </Tooltip>
      <Button sx={plain} onClick={surround.toggle}>{surround.surround === "light" ? "Dark surround"
        : "Light surround"}</Button>
      {onBeside && <Tooltip title="Pictures beside the canvas" describeChild>
        <Button sx={{ ...plain, ...(beside && { color: "primary.main", outline: "2px dashed", outlineOffset: -4 }) }}
          aria-pressed={beside} onClick={onBeside}>References<Key of={PIECE.references} /></Button>
      </Tooltip>}
      <Box sx={{ flex: 1 }} />
      {piece && changes && <Button sx={plain} disabled={!piece.can_undo} onClick={changes.undo}>Undo</Button>}
      {piece && changes && <Button sx={plain} disabled={!piece.can_redo} onClick={changes.redo}>Redo</Button>}
      <Box sx={{ width: 64, textAlign: "right", pr: 1 }} title="Zoom">
        <Figure>{Math.round(camera.zoom * window.devicePixelRatio * 100)} %</Figure>
      </Box>
      <Button sx={plain} onClick={fit}>Fit<Key of={LOOKING.fit} /></Button>
      <Button sx={plain} onClick={actual}>Actual<Key of={LOOKING.actual} /></Button>
      {onHelp && <Button sx={plain} onClick={onHelp} aria-label="? Keyboard shortcuts">?</Button>}
    </Box>
  );
}
