/** Keys that move a colour by a step that looks equal, while a swatch or a part is chosen. */
export const NUDGE_KEYS: Record<string, string> = { l: "lighter", d: "darker", w: "warmer", c: "cooler", r: "richer",
  u: "duller" };
