import { bindings } from "../../ui/keys";

export const COLOUR = bindings("Colour", {
  sides: ["t", "Sheet, even out, light’s colour, card in turn"],
});

export const SHEET = bindings("Colour, on the sheet", {
  move: [["ArrowUp", "ArrowDown", "ArrowLeft", "ArrowRight"], "From swatch to swatch; Enter opens one"],
  nudge: [["l", "d", "w", "c", "r", "u"], "Lighter, darker, warmer, cooler, richer, duller"],
  copy: ["Ctrl+C", "Copy the colour"],
  paste: ["Ctrl+V", "Put in a colour that was copied"],
  giveBack: [["Delete", "Backspace"], "Give a colour back to the rule"],
});
