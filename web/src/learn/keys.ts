import { bindings } from "../ui/keys";
import { PEN } from "../ui/penKeys";

export const LESSON = bindings("A lesson", {
  putIn: ["p", "Draw"],
  takeOut: ["o", "Take away"],
  ...PEN,
  undo: ["Ctrl+Z", "Take the last stroke back"],
  check: ["Enter", "Measure the answer"],
  solved: ["h", "The right answer, or yours"],
  next: [".", "The next lesson"],
});
