import { bindings } from "../ui/keys";

/** Keys of a piece that is in a series. */
export const IN_SERIES = bindings("In a series", {
  before: ["Alt+PageUp", "The picture before"],
  after: ["Alt+PageDown", "The picture after"],
  goOn: ["Ctrl+Enter", "Deliver and open the next one"],
  first: ["q", "Parts: the doubtful area has the part that it was given"],
  second: ["w", "Parts: it has the other likely part"],
  none: ["z", "Parts: it has none of them"],
});

/** Keys of the wall. */
export const WALL = bindings("Series", {
  before: ["ArrowLeft", "The picture before"],
  after: ["ArrowRight", "The picture after"],
  play: ["p", "Let the pictures run, or stop them"],
  onion: ["o", "Neighbours under the picture"],
});

/** Keys of a page. */
export const PAGE = bindings("Panels of a page", {
  remove: ["Delete", "Remove the chosen panel"],
});
