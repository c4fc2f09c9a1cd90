import { bindings } from "../../ui/keys";

export const LINES = bindings("Lines", {
  sides: ["l", "Frame, drawing, versions, hatching, gaps in turn"],
  figure: ["y", "Close the figure as it is offered; also in Parts"],
});

export const GAPS = bindings("Lines, gaps", {
  before: [",", "Point at the gap before"],
  after: [".", "Point at the gap after"],
  close: ["c", "Close the gap pointed at"],
  leave: ["o", "Leave it open"],
  draw: ["d", "Draw a closing"],
  leak: ["k", "Test for leaks"],
});

export const VERSIONS = bindings("Lines, versions", {
  before: [",", "Point at the place before that changes"],
  after: [".", "Point at the place after"],
  take: ["c", "Put the corrected drawing in place"],
});

export const HATCHING = bindings("Lines, hatching", {
  before: [",", "Point at the hatched place before"],
  after: [".", "Point at the hatched place after"],
  turn: ["o", "Only print the place pointed at, or let it bound areas"],
  draw: ["d", "Draw across strokes that bound nothing"],
});
