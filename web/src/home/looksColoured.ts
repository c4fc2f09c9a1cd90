const EDGE = 96;
const PURE = 36; // between the strongest and the weakest channel
const LEAST = 0.06; // of the picture
const BRIGHT = 110; // from which the ground may be paper, white or tinted, in warm or cool light

/** Whether pixels (RGBA) are of a picture that has been coloured: beside its ground, which may be tinted paper. */
export function looksColoured(pixels: Uint8ClampedArray): boolean {
  const [pr, pg, pb] = groundOf(pixels);
  let pure = 0;
  for (let k = 0; k < pixels.length; k += 4) {
    const [r, g, b, a] = [pixels[k] ?? 0, pixels[k + 1] ?? 0, pixels[k + 2] ?? 0, pixels[k + 3] ?? 0];
    const [x, y, z] = [(r * 255) / pr, (g * 255) / pg, (b * 255) / pb];
    if (a > 127 && Math.max(x, y, z) - Math.min(x, y, z) > PURE) pure += 1;
  }
  return pure > (LEAST * pixels.length) / 4;
}

/** The mean of the colours that occur most, if they are bright; else white. */
function groundOf(pixels: Uint8ClampedArray): [number, number, number] {
  const cells = new Map<number, [count: number, r: number, g: number, b: number]>();
  for (let k = 0; k < pixels.length; k += 4) {
    const [r, g, b, a] = [pixels[k] ?? 0, pixels[k + 1] ?? 0, pixels[k + 2] ?? 0, pixels[k + 3] ?? 0];
    if (a <= 127 || Math.max(r, g, b) < BRIGHT) continue;
    const key = (r >> 4) * 256 + (g >> 4) * 16 + (b >> 4);
    const [n, sr, sg, sb] = cells.get(key) ?? [0, 0, 0, 0];
    cells.set(key, [n + 1, sr + r, sg + g, sb + b]);
  }
  const [n, r, g, b] = [...cells.values()].reduce((one, other) => (other[0] > one[0] ? other : one), [0, 0, 0, 0]);
  return n ? [Math.max(1, r / n), Math.max(1, g / n), Math.max(1, b / n)] : [255, 255, 255];
}

/** The pixels of a picture that is shown, small. */
export function smallPixels(image: HTMLImageElement): Uint8ClampedArray {
  const scale = EDGE / Math.max(image.naturalWidth, image.naturalHeight, 1);
  const [width, height] = [image.naturalWidth, image.naturalHeight].map((e) => Math.max(1, Math.round(e * scale)));
  const canvas = Object.assign(document.createElement("canvas"), { width, height });
  const ctx = canvas.getContext("2d");
  if (!ctx) return new Uint8ClampedArray();
  ctx.drawImage(image, 0, 0, canvas.width, canvas.height);
  return ctx.getImageData(0, 0, canvas.width, canvas.height).data;
}
