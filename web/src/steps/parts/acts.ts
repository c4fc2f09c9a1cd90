import type { Gesture } from "../../api/client";
import type { Binding } from "../../ui/keys";
import { PARTS } from "./keys";

/** What the pen does in the step Parts. */
export type Act = "claim" | "ground" | Gesture;

interface ActEntry {
  key: Act;
  label: string;
  keyed: Binding;
  hint: string;
}

export const ACTS: ActEntry[] = [
  { key: "claim", label: "Give", keyed: PARTS.claim,
    hint: "Click, sweep, or with Shift draw round areas, to give them to the selected part; again to take them away." },
  { key: "share out", label: "Share out", keyed: PARTS.shareOut,
    hint: "Click once for each part where areas run into each other: each click gets its share." },
  { key: "split", label: "Split", keyed: PARTS.split,
    hint: "Draw across an area to part it. With scenery selected it runs behind the figure, as a horizon does." },
  { key: "join", label: "Join", keyed: PARTS.join, hint: "Draw from one area into another to make them one." },
  { key: "move border", label: "Move border", keyed: PARTS.moveBorder,
    hint: "Draw where the open border between two areas should run." },
  { key: "ground", label: "Ground", keyed: PARTS.ground,
    hint: "Click or sweep over what is seen through; again to take that back." },
];

/** The keys of all acts, for one listener. */
export const ACT_KEYS: Binding = { ...PARTS.claim, on: ACTS.flatMap((a) => a.keyed.on) };
