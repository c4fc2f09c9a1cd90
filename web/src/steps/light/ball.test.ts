import { describe, expect, it } from "vitest";
import cases from "../../../../tests/golden/ball.json";
import { describeLight, lightVector, paintBall } from "./ball";

const COLOURS = { base: "#808080", shade: "#000000", light: "#ffffff" } as const;
const SIZE = 160;

/** What is painted, by level, at a point of the ball (-1..1 to the right and down). */
function painted(look: { azimuth: number; height: number; shadeShare: number; lightShare: number }):
  (x: number, y: number) => [number, number] {
  let data = new Uint8ClampedArray(0);
  const ctx = {
    createImageData: (width: number, height: number) => ({ data: new Uint8ClampedArray(4 * width * height) }),
    putImageData: (image: { data: Uint8ClampedArray<ArrayBuffer> }) => { data = image.data; },
  } as unknown as CanvasRenderingContext2D;
  paintBall(ctx, SIZE, look.azimuth, look.height, { ...COLOURS, shadeShare: look.shadeShare, shadeOffset: 0,
    lightShare: look.lightShare });
  return (x, y) => {
    const [i, j] = [x, y].map((v) => Math.floor(v * (SIZE / 2 - 1) + SIZE / 2)) as [number, number];
    const at = 4 * (j * SIZE + i);
    return [data[at] ?? -1, data[at + 3] ?? -1];
  };
}

describe("the ball", () => {
  it.each(cases.map((c) => [`${c.azimuth}° ${c.height}°, ${c.shadeShare} in shade, ${c.lightShare} in light`,
    c] as const))("is shaded as the figure is: %s", (_, c) => {
    const at = painted(c);
    const levels = { shade: 0, base: 128, light: 255 };
    for (const [x, y, what] of c.points as [number, number, keyof typeof levels][])
      expect([x, y, ...at(x, y)]).toEqual([x, y, levels[what], 255]);
  });

  it("has nothing around it", () => {
    const at = painted({ azimuth: 135, height: 45, shadeShare: 0.4, lightShare: 0 });
    for (const [x, y] of [[-0.99, -0.99], [0.99, 0.8], [0.75, -0.75]] as const) expect(at(x, y)[1]).toBe(0);
  });
});

describe("a light", () => {
  it("is a direction: right at 0°, up at 90°, towards the eye by its height", () => {
    for (const [azimuth, height, vector] of [[0, 0, [1, 0, 0]], [90, 0, [0, -1, 0]], [180, 0, [-1, 0, 0]],
      [45, 90, [0, 0, 1]]] as const) {
      lightVector(azimuth, height).forEach((v, k) => expect(v).toBeCloseTo(vector[k] ?? NaN, 12));
    }
    for (let a = 0; a < 360; a += 17) expect(Math.hypot(...lightVector(a, a / 4))).toBeCloseTo(1, 12);
  });

  it.each([[135, 45, "from the upper left"], [495, 45, "from the upper left"], [-45, 45, "from the lower right"],
    [90, 10, "from above, grazing"], [0, -10, "from the right, behind"],
      [200, 80, "face on"]])("at %i° and %i° comes %s", (azimuth, height, words) => {
    expect(describeLight(azimuth, height)).toBe(words);
  });
});
