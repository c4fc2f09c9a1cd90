import type { Binding } from "../ui/keys";
import { useKeys } from "../ui/useKeys";
import { LOOKS, pressLook, releaseLook, useGlance } from "./glance";
import { LOOKING } from "./keys";

/** The keys of the ways of looking: held for a moment, or tapped to lock. */
export function useGlanceKeys(glances: Binding): void {
  const lookOf = (key: string) => LOOKS.find((l) => l.hotkey === key)?.key;
  useKeys(glances, (key, e) => { const look = lookOf(key); if (look && !e.repeat) pressLook(look); });
  useKeys(glances, (key) => { const look = lookOf(key); if (look) releaseLook(look); }, "keyup");
  useKeys(LOOKING.backdrop, () => useGlance.getState().nextBackdrop());
}
