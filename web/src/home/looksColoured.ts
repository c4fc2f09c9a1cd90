const EDGE = 96;
const PURE = 36; // between the strongest and the weakest channel
const LEAST = 0.06; // of the picture

/** Whether pixels (RGBA) are of a picture that has been coloured: a scan's paper may be tinted, but not so much. */
export function looksColoured(pixels: Uint8ClampedArray): boolean {
  let pure = 0;
  for (let k = 0; k < pixels.length; k += 4) {
    const [r, g, b, a] = [pixels[k] ?? 0, pixels[k + 1] ?? 0, pixels[k + 2] ?? 0, pixels[k + 3] ?? 0];
    if (a > 127 && Math.max(r, g, b) - Math.min(r, g, b) > PURE) pure += 1;
  }
  return pure > (LEAST * pixels.length) / 4;
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
