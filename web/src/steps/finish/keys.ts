import { bindings } from "../../ui/keys";
import { PEN } from "../../ui/penKeys";

export const FINISH = bindings("Finish, on the list", {
  sides: ["t", "Layers, lines, shade in ink in turn"],
  move: [["ArrowUp", "ArrowDown"], "From layer to layer; Enter opens one"],
  order: [["Alt+ArrowUp", "Alt+ArrowDown"], "Move the layer up or down"],
  remove: ["Delete", "Take the layer off"],
});

export const SPOTS = bindings("Finish, spots", {
  erase: ["o", "Add or rub out"],
  ...PEN,
});
