import { create } from "zustand";

/** Where the picture lies in the window: picture point (cx, cy) at its middle, css px per picture px. */
export interface Camera {
  cx: number;
  cy: number;
  zoom: number;
}

export interface Size {
  width: number;
  height: number;
}

const FIT_MARGIN = 0.95;
const SMALL_HEIGHT = 150;
const MOST_ZOOM = 32;
const SHOWN_ZOOM = 4;

export function fit(picture: Size, box: Size): Camera {
  const zoom = FIT_MARGIN * Math.min(box.width / picture.width, box.height / picture.height);
  return { cx: picture.width / 2, cy: picture.height / 2, zoom: Math.max(zoom, 1e-4) };
}

export function small(picture: Size): Camera {
  return { cx: picture.width / 2, cy: picture.height / 2, zoom: SMALL_HEIGHT / picture.height };
}

export function toPicture(camera: Camera, box: Size, flip: boolean, x: number, y: number): [number, number] {
  const dx = (x - box.width / 2) / camera.zoom;
  return [camera.cx + (flip ? -dx : dx), camera.cy + (y - box.height / 2) / camera.zoom];
}

export function toWindow(camera: Camera, box: Size, flip: boolean, x: number, y: number): [number, number] {
  const dx = (x - camera.cx) * camera.zoom;
  return [box.width / 2 + (flip ? -dx : dx), box.height / 2 + (y - camera.cy) * camera.zoom];
}

interface CameraState {
  /** null: the picture fits the window. */
  camera: Camera | null;
  picture: Size;
  box: Size;
  measure: (picture: Size, box: Size) => void;
  fit: () => void;
  actual: () => void;
  /** Bring a rectangle of the picture (x, y, width, height) into view. */
  show: (box: readonly [number, number, number, number]) => void;
  /** Zoom by a factor about a point of the window (its middle if none is given). */
  zoomBy: (factor: number, flip: boolean, x?: number, y?: number) => void;
  /** Move the picture by window pixels. */
  panBy: (dx: number, dy: number, flip: boolean) => void;
}

export const useCamera = create<CameraState>((set, get) => ({
  camera: null,
  picture: { width: 1, height: 1 },
  box: { width: 1, height: 1 },
  measure: (picture, box) => {
    const before = get();
    const other = before.picture.width !== picture.width || before.picture.height !== picture.height;
    set({ picture, box, camera: other ? null : before.camera });
  },
  fit: () => set({ camera: null }),
  actual: () => {
    const { picture, box, camera } = get();
    set({ camera: { ...(camera ?? fit(picture, box)), zoom: 1 / window.devicePixelRatio } });
  },
  show: ([x, y, width, height]) => {
    const { picture, box } = get();
    const room = fit({ width: Math.max(width, 24), height: Math.max(height, 24) }, box).zoom * 0.4;
    const least = fit(picture, box).zoom;
    set({ camera: { cx: x + width / 2, cy: y + height / 2, zoom: Math.min(SHOWN_ZOOM, Math.max(least, room)) } });
  },
  zoomBy: (factor, flip, x, y) => {
    const { picture, box } = get();
    const camera = get().camera ?? fit(picture, box);
    const least = 0.25 * fit(picture, box).zoom;
    const zoom = Math.min(MOST_ZOOM, Math.max(least, camera.zoom * factor));
    const [wx, wy] = [x ?? box.width / 2, y ?? box.height / 2];
    const [px, py] = toPicture(camera, box, flip, wx, wy);
    const dx = (wx - box.width / 2) / zoom;
    set({ camera: { cx: px - (flip ? -dx : dx), cy: py - (wy - box.height / 2) / zoom, zoom } });
  },
  panBy: (dx, dy, flip) => {
    const { picture, box } = get();
    const camera = get().camera ?? fit(picture, box);
    const cx = camera.cx - (flip ? -dx : dx) / camera.zoom;
    const cy = camera.cy - dy / camera.zoom;
    set({
      camera: {
        ...camera,
        cx: Math.min(picture.width, Math.max(0, cx)),
        cy: Math.min(picture.height, Math.max(0, cy)),
      },
    });
  },
}));

export function useShownCamera(isSmall: boolean): Camera {
  const { camera, picture, box } = useCamera();
  if (isSmall) return small(picture);
  return camera ?? fit(picture, box);
}
