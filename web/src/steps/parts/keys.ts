import { bindings } from "../../ui/keys";

export const PARTS = bindings("Parts", {
  above: ["[", "Select the part above"],
  below: ["]", "Select the part below"],
  before: [",", "Point at the area before, in reading order"],
  after: [".", "Point at the area after"],
  press: ["Enter", "Give or take the area pointed at"],
  claim: ["a", "Give areas to the selected part; Shift draws round them"],
  shareOut: ["o", "Share out an open area, a click for each part"],
  split: ["x", "Split an area with a stroke"],
  join: ["j", "Join areas"],
  moveBorder: ["e", "Move an open border"],
  ground: ["d", "Mark ground"],
  view: ["v", "Next way to see them"],
  only: ["h", "Only the selected part"],
  keep: ["k", "Keep the suggestion"],
  palette: [["Shift+1", "Shift+2", "Shift+3"], "Take the suggestion in a palette"],
  halve: ["u", "Split the selected part in two, what is least alike apart"],
  order: [["Alt+ArrowUp", "Alt+ArrowDown"], "On the list: move a part to the front or back"],
  belong: [["Alt+ArrowLeft", "Alt+ArrowRight"], "On the list: change what it belongs to"],
});
