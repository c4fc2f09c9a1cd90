let down = false;
let waiting: (() => void)[] = [];

function lift(): void {
  down = false;
  const now = waiting;
  waiting = [];
  for (const run of now) run();
}

const listen = { capture: true, passive: true };
window.addEventListener("pointerdown", () => { down = true; }, listen);
for (const kind of ["pointerup", "pointercancel"]) window.addEventListener(kind, lift, listen);
// A pen that was lifted outside of the window is seen up when it comes back.
window.addEventListener("pointermove", (e) => { if (down && e.buttons === 0) lift(); }, listen);

/** Run at once, or as soon as no pen is down. */
export function quietly(run: () => void): void {
  if (down) waiting.push(run);
  else run();
}
