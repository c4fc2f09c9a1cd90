import { bindings } from "../ui/keys";

const STEP_KEYS = ["F2", "F3", "F4", "F6", "F7", "F8", "F9", "F10"]; // F5 reloads the page

/** Keys of a piece, whichever step is open. */
export const PIECE = bindings("Everywhere", {
  step: [STEP_KEYS, "Go to a step: lines, parts, colour, light, finish, looks, check, deliver"],
  undo: ["Ctrl+Z", "Undo"],
  redo: [["Ctrl+Shift+Z", "Ctrl+Y"], "Redo"],
  references: ["i", "References beside the canvas"],
  large: ["Shift+C", "The large clock"],
  pause: ["Shift+P", "Stop the clock, or let it run"],
  help: ["?", "This list"],
});
