import { beforeEach, describe, expect, it } from "vitest";
import { fit, toPicture, toWindow, useCamera, type Camera } from "./camera";

const PICTURE = { width: 2480, height: 3508 };
const BOX = { width: 900, height: 640 };

/** Numbers that are the same in every run (mulberry32, T. Ettinger, public domain). */
function random(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}

beforeEach(() => {
  useCamera.setState({ camera: null, picture: { width: 1, height: 1 }, box: { width: 1, height: 1 } });
  useCamera.getState().measure(PICTURE, BOX);
});

const now = (): Camera => useCamera.getState().camera ?? fit(PICTURE, BOX);

describe("window and picture", () => {
  it("say the same of a point, both ways, flipped or not", () => {
    const next = random(1);
    for (let k = 0; k < 200; k++) {
      const camera = { cx: next() * 2480, cy: next() * 3508, zoom: 0.05 + next() * 30 };
      const [x, y] = [next() * 2480, next() * 3508];
      for (const flip of [false, true]) {
        const [px, py] = toPicture(camera, BOX, flip, ...toWindow(camera, BOX, flip, x, y));
        expect(px).toBeCloseTo(x, 6);
        expect(py).toBeCloseTo(y, 6);
      }
      const [left] = toWindow(camera, BOX, false, x, y);
      const [mirrored] = toWindow(camera, BOX, true, x, y);
      expect(left + mirrored).toBeCloseTo(BOX.width, 6);
    }
  });

  it("show all of the picture when it fits", () => {
    const [x0, y0] = toWindow(now(), BOX, false, 0, 0);
    const [x1, y1] = toWindow(now(), BOX, false, PICTURE.width, PICTURE.height);
    expect(Math.min(x0, y0, BOX.width - x1, BOX.height - y1)).toBeGreaterThan(0);
    expect(Math.max((x1 - x0) / BOX.width, (y1 - y0) / BOX.height)).toBeCloseTo(0.95, 9);
  });
});

describe("zooming and panning", () => {
  it("keep the point under the pointer where it is", () => {
    const next = random(2);
    for (const flip of [false, true]) {
      for (let k = 0; k < 100; k++) {
        const [wx, wy] = [next() * BOX.width, next() * BOX.height];
        const before = toPicture(now(), BOX, flip, wx, wy);
        useCamera.getState().zoomBy(Math.exp(next() * 2 - 1), flip, wx, wy);
        const after = toPicture(now(), BOX, flip, wx, wy);
        expect(Math.hypot(after[0] - before[0], after[1] - before[1])).toBeLessThan(1e-6 * PICTURE.height);
      }
    }
  });

  it("move the picture with the hand, flipped or not, and never lose it", () => {
    for (const flip of [false, true]) {
      useCamera.getState().fit();
      useCamera.getState().zoomBy(4, flip);
      const held = toPicture(now(), BOX, flip, 300, 300);
      useCamera.getState().panBy(37, -21, flip);
      const [x, y] = toWindow(now(), BOX, flip, ...held);
      expect([x, y]).toEqual([expect.closeTo(337, 6), expect.closeTo(279, 6)]);
      useCamera.getState().panBy(1e6, -1e6, flip);
      expect(now().cx).toBeGreaterThanOrEqual(0);
      expect(now().cx).toBeLessThanOrEqual(PICTURE.width);
      expect(now().cy).toBeLessThanOrEqual(PICTURE.height);
    }
  });

  it("end at 32 times and at a quarter of the whole", () => {
    useCamera.getState().zoomBy(1e9, false);
    expect(now().zoom).toBe(32);
    useCamera.getState().zoomBy(1e-9, false);
    expect(now().zoom).toBeCloseTo(0.25 * fit(PICTURE, BOX).zoom, 12);
  });

  it("begin anew with another picture, and stay with the same", () => {
    useCamera.getState().actual();
    const before = now();
    useCamera.getState().measure(PICTURE, { width: 700, height: 500 });
    expect(useCamera.getState().camera).toEqual(before);
    useCamera.getState().measure({ width: 100, height: 100 }, BOX);
    expect(useCamera.getState().camera).toBeNull();
  });
});
