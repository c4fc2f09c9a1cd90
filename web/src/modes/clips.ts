const LEAST = 0.01; // share of what a layer lies on from which clipping is told

/** Whether enough of a layer runs to black, white, or a full channel to be told. */
export const clips = (seen: { clipped: number }): boolean => seen.clipped >= LEAST;
