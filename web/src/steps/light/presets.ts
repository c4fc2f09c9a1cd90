import type { Schemas } from "../../api/client";

type Light = Schemas["Light"];
export type SideLight = NonNullable<Light["rim"]>;

export const RIM: SideLight = { azimuth: 0, height: -15, colour: "#cfe0ff", strength: 0.7, width: 2.6 };
export const BOUNCE: SideLight = { azimuth: 300, height: 10, colour: "#e9b27a", strength: 0.26, width: 2.6 };

/** A side light that goes with the key light: the rim on the far side, the bounce from below it. */
export function sideFor(name: "rim" | "bounce", light: Light): SideLight {
  const across = (light.azimuth + 180) % 360;
  return name === "rim" ? { ...RIM, azimuth: across } : { ...BOUNCE, azimuth: across > 90 && across < 270 ? 250 : 290 };
}

/** Where a light stands, in plain words. */
export const PRESETS: [string, (light: Light) => Light][] = [
  ["Upper left", (l) => ({ ...l, azimuth: 130, height: 38 })],
  ["Upper right", (l) => ({ ...l, azimuth: 50, height: 38 })],
  ["Overhead", (l) => ({ ...l, azimuth: 90, height: 25 })],
  ["Face on", (l) => ({ ...l, azimuth: 100, height: 80 })],
  ["From behind", (l) => ({ ...l, azimuth: 60, height: -20, rim: l.rim ?? { ...RIM, azimuth: 130 } })],
  ["From below", (l) => ({ ...l, azimuth: 280, height: 20 })],
  ["Both sides", (l) => ({ ...l, azimuth: 160, height: 25, rim: { ...(l.rim ?? RIM), azimuth: 0, height: -10 } })],
];

export const GROUND: NonNullable<Light["ground"]> = { colour: "#8f86b8", strength: 0.55, soft: 0, pitch: 0.28,
  drop: 0 };

/** Lights to choose from side by side: around the figure from in front and above, then the dramatic ones. */
export const EIGHT: [string, { azimuth: number; height: number }][] = [
  ["upper left", { azimuth: 135, height: 38 }], ["above", { azimuth: 90, height: 30 }],
    ["upper right", { azimuth: 45, height: 38 }],
  ["right", { azimuth: 5, height: 25 }], ["left", { azimuth: 175, height: 25 }],
    ["face on", { azimuth: 110, height: 72 }],
  ["below", { azimuth: 275, height: 22 }], ["behind", { azimuth: 60, height: -12 }],
];
