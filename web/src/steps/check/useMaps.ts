import { useRef, useState } from "react";
import { useKeys } from "../../ui/useKeys";
import { MAPS, type MapKey } from "./keys";

const HOLD_MS = 300;
const ALL = { ...MAPS.values, on: Object.values(MAPS).flatMap((b) => b.on) };
const mapOf = (key: string) => (Object.keys(MAPS) as MapKey[]).find((m) => MAPS[m].on[0] === key) ?? null;

/** The map that lies over the picture; a tap of its key leaves it there, holding shows it for as long. */
export function useMaps(): [MapKey | null, (map: MapKey | null) => void] {
  const [map, setMap] = useState<MapKey | null>(null);
  const held = useRef<{ key: string; at: number; before: MapKey | null } | null>(null);
  useKeys(ALL, (key, event) => {
    if (event.repeat) return;
    held.current = { key, at: performance.now(), before: map };
    setMap(map === mapOf(key) ? null : mapOf(key));
  });
  useKeys(ALL, (key) => {
    const press = held.current;
    held.current = null;
    if (press?.key === key && performance.now() - press.at > HOLD_MS) setMap(press.before);
  }, "keyup");
  return [map, setMap];
}
