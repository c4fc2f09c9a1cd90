const SIDE = 72;
const MOST = 14;

/** The colours that stand for a picture: the most frequent, coloured ones first. */
export function coloursOf(bitmap: ImageBitmap): string[] {
  const ctx = new OffscreenCanvas(SIDE, SIDE).getContext("2d", { willReadFrequently: true });
  if (!ctx) return [];
  ctx.drawImage(bitmap, 0, 0, SIDE, SIDE);
  const { data } = ctx.getImageData(0, 0, SIDE, SIDE);
  const bins = new Map<number, { n: number; r: number; g: number; b: number }>();
  for (let k = 0; k < data.length; k += 4) {
    const [r, g, b, a] = [data[k] ?? 0, data[k + 1] ?? 0, data[k + 2] ?? 0, data[k + 3] ?? 0];
    if (a < 128) continue;
    const key = ((r >> 5) << 10) | ((g >> 5) << 5) | (b >> 5);
    const bin = bins.get(key) ?? { n: 0, r: 0, g: 0, b: 0 };
    bins.set(key, { n: bin.n + 1, r: bin.r + r, g: bin.g + g, b: bin.b + b });
  }
  const weight = ({ n, r, g, b }: { n: number; r: number; g: number; b: number }) => Math.sqrt(n) *
    (12 + (Math.max(r, g, b) - Math.min(r, g, b)) / n);
  return [...bins.values()].sort((a, b) => weight(b) - weight(a)).slice(0, MOST)
    .map(({ n, r, g, b }) => `#${[r, g, b].map((v) => Math.round(v / n).toString(16).padStart(2, "0")).join("")}`);
}
