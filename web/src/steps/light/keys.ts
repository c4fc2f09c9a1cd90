import { bindings } from "../../ui/keys";
import { PEN } from "../../ui/penKeys";

export const LIGHT = bindings("Light", {
  sides: ["t", "Lights, forms, touch-ups, look over, practise in turn"],
  puck: [["ArrowUp", "ArrowDown", "ArrowLeft", "ArrowRight"], "On the ball: move the light by 5°; with Shift by 1°"],
});

export const FORMS = bindings("Light, forms", {
  before: ["[", "The part before"],
  after: ["]", "The part after"],
  edge: ["e", "Draw an edge into a folded part"],
});

export const TOUCH_UPS = bindings("Light, touch-ups", {
  putIn: ["p", "Put in"],
  takeOut: ["o", "Take out"],
  soften: ["e", "Soften an edge"],
  ...PEN,
});

export const LOOK_OVER = bindings("Light, look over", {
  less: [",", "One pass less"],
  more: [".", "One pass more"],
});
