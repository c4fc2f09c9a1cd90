import { bindings, type Binding } from "../ui/keys";
import { LOOKS } from "./glance";

/** Keys of looking, wherever a picture is shown. */
export const LOOKING = bindings("Looking", {
  ...Object.fromEntries(LOOKS.map((l) => [l.key, [l.hotkey, `${l.hint}; hold for a moment, tap to lock`] as [string,
    string]])),
  backdrop: ["n", "Next backdrop"],
  zoomIn: [["+", "="], "Closer; also the wheel, or a pinch"],
  zoomOut: ["-", "Farther"],
  fit: ["0", "Fit the picture"],
  actual: ["1", "Actual size"],
  hold: ["Space", "Hold and drag to pan; also the middle button, or Shift with the wheel"],
  pan: [["ArrowLeft", "ArrowRight", "ArrowUp", "ArrowDown"], "Pan, on the picture"],
});

/** The keys of all looks, for one listener. */
export const GLANCES: Binding = { on: LOOKS.map((l) => l.hotkey), says: "Ways of looking", where: "Looking" };
