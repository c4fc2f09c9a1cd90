/** A ball under the light, shaded as the figure's parts are. */

const SHADE_SHARE = 0.38;
const LIGHT_SHARE = 0.05;

export function lightVector(azimuth: number, height: number): [number, number, number] {
  const [a, h] = [(azimuth * Math.PI) / 180, (height * Math.PI) / 180];
  return [Math.cos(a) * Math.cos(h), -Math.sin(a) * Math.cos(h), Math.sin(h)];
}

const rgb = (hex: string) => [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16));

/** Paint the ball: base, shade where the light does not reach, light where it hits fully. */
export function paintBall(ctx: CanvasRenderingContext2D, size: number, azimuth: number, height: number, colours: { base: string; shade: string; light: string }): void {
  const [lx, ly, lz] = lightVector(azimuth, height);
  const [hx, hy, hz] = unit(lx, ly, lz + 1);
  const radius = size / 2 - 1;
  const received = new Float32Array(size * size).fill(NaN);
  const mirrored = new Float32Array(size * size);
  const seen: number[] = [];
  const shine: number[] = [];
  for (let j = 0; j < size; j++) {
    for (let i = 0; i < size; i++) {
      const [x, y] = [(i + 0.5 - size / 2) / radius, (j + 0.5 - size / 2) / radius];
      const r2 = x * x + y * y;
      if (r2 > 1) continue;
      const z = Math.sqrt(1 - r2);
      const k = j * size + i;
      received[k] = x * lx + y * ly + z * lz;
      mirrored[k] = x * hx + y * hy + z * hz;
      seen.push(received[k] ?? 0);
      shine.push(mirrored[k] ?? 0);
    }
  }
  seen.sort((a, b) => a - b);
  shine.sort((a, b) => a - b);
  const terminator = seen[Math.floor(seen.length * SHADE_SHARE)] ?? 0;
  const top = shine[Math.floor(shine.length * (1 - LIGHT_SHARE))] ?? 1;
  const image = ctx.createImageData(size, size);
  const [base, shade, light] = [rgb(colours.base), rgb(colours.shade), rgb(colours.light)];
  const soft = 1.2 / radius;
  const ramp = (v: number) => Math.min(1, Math.max(0, v / soft + 0.5));
  for (let k = 0; k < received.length; k++) {
    const n = received[k] ?? NaN;
    if (Number.isNaN(n)) continue;
    const [i, j] = [k % size, Math.floor(k / size)];
    const edge = radius - Math.hypot(i + 0.5 - size / 2, j + 0.5 - size / 2);
    const dark = 1 - ramp(n - terminator);
    const bright = ramp((mirrored[k] ?? 0) - top) * (1 - dark);
    for (let c = 0; c < 3; c++) {
      const flat = (base[c] ?? 0) + dark * ((shade[c] ?? 0) - (base[c] ?? 0));
      image.data[4 * k + c] = flat + bright * ((light[c] ?? 0) - flat);
    }
    image.data[4 * k + 3] = 255 * Math.min(1, edge + 0.5);
  }
  ctx.putImageData(image, 0, 0);
}

function unit(x: number, y: number, z: number): [number, number, number] {
  const size = Math.hypot(x, y, z) || 1;
  return [x / size, y / size, z / size];
}

/** In words, as one would say it. */
export function describeLight(azimuth: number, height: number): string {
  if (height > 75) return "face on";
  const sides = ["right", "upper right", "above", "upper left", "left", "lower left", "below", "lower right"];
  const side = sides[Math.round((((azimuth % 360) + 360) % 360) / 45) % 8] ?? "";
  const from = side === "above" || side === "below" ? `from ${side}` : `from the ${side}`;
  if (height < 0) return `${from}, behind`;
  return height < 20 ? `${from}, grazing` : from;
}
