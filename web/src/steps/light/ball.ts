/** A ball under the light, shaded as the figure's parts are. */

/** The part that the ball is made of: its colours, and how its material takes light. */
export interface BallLook {
  base: string;
  shade: string;
  light: string;
  shadeShare: number;
  shadeOffset: number;
  lightShare: number;
}

export function lightVector(azimuth: number, height: number): [number, number, number] {
  const [a, h] = [(azimuth * Math.PI) / 180, (height * Math.PI) / 180];
  return [Math.cos(a) * Math.cos(h), -Math.sin(a) * Math.cos(h), Math.sin(h)];
}

const rgb = (hex: string) => [1, 3, 5].map((i) => parseInt(hex.slice(i, i + 2), 16));

/** Paint the ball: base, shade where the light does not reach, light where it hits fully. */
export function paintBall(ctx: CanvasRenderingContext2D, size: number, azimuth: number, height: number, look: BallLook):
  void {
  const [lx, ly, lz] = lightVector(azimuth, height);
  const [hx, hy, hz] = unit(lx, ly, lz + 1);
  const radius = size / 2 - 1;
  const terminator = quantile(lz, look.shadeShare) + look.shadeOffset;
  const top = look.lightShare > 0 ? quantile(hz, 1 - look.lightShare) : 2;
  const image = ctx.createImageData(size, size);
  const [base, shade, light] = [rgb(look.base), rgb(look.shade), rgb(look.light)];
  const soft = 1.2 / radius;
  // N.H is flat at its peak: its slope at the light's edge is the sine of the angle there.
  const slope = Math.max(0.05, Math.sqrt(Math.max(0, 1 - top * top)));
  const ramp = (v: number) => Math.min(1, Math.max(0, v / soft + 0.5));
  for (let k = 0; k < size * size; k++) {
    const x = ((k % size) + 0.5 - size / 2) / radius;
    const y = (Math.floor(k / size) + 0.5 - size / 2) / radius;
    const r2 = x * x + y * y;
    if (r2 > (1 + 1 / radius) ** 2) continue;
    const z = Math.sqrt(Math.max(0, 1 - r2));
    const dark = 1 - ramp(x * lx + y * ly + z * lz - terminator);
    const bright = ramp((x * hx + y * hy + z * hz - top) / slope) * (1 - dark);
    for (let c = 0; c < 3; c++) {
      const flat = (base[c] ?? 0) + dark * ((shade[c] ?? 0) - (base[c] ?? 0));
      image.data[4 * k + c] = flat + bright * ((light[c] ?? 0) - flat);
    }
    image.data[4 * k + 3] = 255 * Math.min(1, Math.max(0, (1 - Math.sqrt(r2)) * radius + 0.5));
  }
  ctx.putImageData(image, 0, 0);
}

const quantiles = new Map<string, number>();

/** The value of N.V under which a share of the visible ball lies; V's z says all about it. */
function quantile(z: number, share: number): number {
  const key = `${z.toFixed(3)}|${share}`;
  const known = quantiles.get(key);
  if (known !== undefined) return known;
  const values: number[] = [];
  const side = Math.sqrt(Math.max(0, 1 - z * z));
  for (let y = -0.98; y < 1; y += 0.04) {
    for (let x = -0.98; x < 1; x += 0.04) {
      if (x * x + y * y < 1) values.push(x * side + z * Math.sqrt(1 - x * x - y * y));
    }
  }
  values.sort((a, b) => a - b);
  const found = values[Math.floor(values.length * share)] ?? 0;
  quantiles.set(key, found);
  return found;
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
