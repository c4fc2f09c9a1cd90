import type { Gesture } from "../../api/client";

/** What the pen does in the step Parts. */
export type Act = "claim" | "ground" | Gesture;

interface ActEntry {
  key: Act;
  label: string;
  hotkey: string;
  hint: string;
}

export const ACTS: ActEntry[] = [
  { key: "claim", label: "Give", hotkey: "a", hint: "Click, sweep, or with Shift draw round areas, to give them to the selected part; again to take them away." },
  { key: "share out", label: "Share out", hotkey: "o", hint: "Click once for each part where areas run into each other: each click gets its share." },
  { key: "split", label: "Split", hotkey: "x", hint: "Draw across an area to part it." },
  { key: "join", label: "Join", hotkey: "j", hint: "Draw from one area into another to make them one." },
  { key: "move border", label: "Move border", hotkey: "e", hint: "Draw where the open border between two areas should run." },
  { key: "ground", label: "Ground", hotkey: "d", hint: "Click or sweep over what is seen through; again to take that back." },
];
