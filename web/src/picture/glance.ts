import { create } from "zustand";

/** The ways of looking; each can be held for a moment or locked. */
export const LOOKS = [
  { key: "flip", label: "Flip", hotkey: "f", hint: "Mirror the picture" },
  { key: "grey", label: "Grey", hotkey: "g", hint: "Values only, by luminance" },
  { key: "squint", label: "Squint", hotkey: "s", hint: "Blur, to judge masses" },
  { key: "small", label: "Small", hotkey: "m", hint: "As a thumbnail" },
  { key: "before", label: "Before", hotkey: "b", hint: "The drawing as it came in" },
] as const;

export type Look = (typeof LOOKS)[number]["key"];

export const BACKDROPS = ["#8b8b8b", "#5c5c5c", "#2b2b2b", "#c6c6c6", "#ffffff"] as const;

interface GlanceState extends Record<Look, boolean> {
  backdrop: number;
  set: (look: Look, on: boolean) => void;
  nextBackdrop: () => void;
}

export const useGlance = create<GlanceState>((set) => ({
  flip: false,
  grey: false,
  squint: false,
  small: false,
  before: false,
  backdrop: 0,
  set: (look, on) => set({ [look]: on }),
  nextBackdrop: () => set((s) => ({ backdrop: (s.backdrop + 1) % BACKDROPS.length })),
}));

const HOLD_MS = 300;
const pressed = new Map<Look, { at: number; before: boolean }>();

/** A press switches a look over; a long press gives it back when it ends. */
export function pressLook(look: Look): void {
  if (pressed.has(look)) return;
  const before = useGlance.getState()[look];
  pressed.set(look, { at: performance.now(), before });
  useGlance.getState().set(look, !before);
}

export function releaseLook(look: Look): void {
  const press = pressed.get(look);
  pressed.delete(look);
  if (press && performance.now() - press.at > HOLD_MS) useGlance.getState().set(look, press.before);
}
