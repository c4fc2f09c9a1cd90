import { bindings } from "../../ui/keys";

export const CHECK_SIDES = bindings("Check", {
  sides: ["t", "Findings, compare, review in turn"],
});

export const CHECK = bindings("Check, findings", {
  before: [",", "The finding before; also the up arrow on the list"],
  after: [".", "The next finding; also the down arrow"],
  repair: ["r", "Repair the finding"],
  dismiss: ["x", "Leave it as it is; again to let it count"],
  show: ["w", "Bring its place into view"],
});

export const COMPARE = bindings("Check, compare", {
  swap: ["x", "Change sides"],
  way: ["d", "Divider, side by side, blink, difference in turn"],
});

export const REVIEW = bindings("Check, review", {
  before: [",", "The remark before"],
  after: [".", "The next remark"],
  settle: ["x", "Settle the remark, or open it again"],
});

/** Maps over the picture: tapped they stay, held they last as long as the key. */
export const MAPS = bindings("Check, maps", {
  values: ["v", "The picture in seven values"],
  chroma: ["c", "How pure its colours are"],
  attention: ["a", "What draws the eye"],
  outline: ["o", "The outline against its ground"],
  hues: ["h", "The hue wheel of its colours, by area"],
});
export type MapKey = keyof typeof MAPS;
export const MAP_LABELS: Record<MapKey, string> = { values: "Values", chroma: "Chroma", attention: "Attention",
  outline: "Outline", hues: "Hues" };
