import { bindings } from "../../ui/keys";

export const DELIVER = bindings("Deliver", {
  sides: ["t", "Stack, set up, files, rounds, take back in turn"],
  layer: ["Tab", "On the stack: from layer to layer, each lit up in the picture"],
});
