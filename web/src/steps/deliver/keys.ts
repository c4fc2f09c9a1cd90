import { bindings } from "../../ui/keys";

export const DELIVER = bindings("Deliver", {
  sides: ["t", "Stack, set up, paper, files, rounds, take back in turn"],
  layer: ["Tab", "On the stack: from layer to layer, each lit up in the picture"],
});

/** Keys of the sheet of paper. */
export const PAPER = bindings("Paper", {
  move: [["ArrowLeft", "ArrowRight", "ArrowUp", "ArrowDown", "Shift+ArrowLeft", "Shift+ArrowRight", "Shift+ArrowUp",
    "Shift+ArrowDown"], "Move the picture by a millimetre, with Shift by ten"],
  larger: ["x", "Larger"],
  smaller: ["z", "Smaller"],
  fit: ["e", "Fit within the margins"],
});
