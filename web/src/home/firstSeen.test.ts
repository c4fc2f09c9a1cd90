import source from "../../public/first.js?raw";
import { afterEach, expect, test, vi } from "vitest";
import { keepFirstSeen } from "./firstSeen";

const first = () => { new Function(source)(); };

afterEach(() => {
  localStorage.clear();
  document.body.replaceChildren();
  delete window.wardrobeFirst;
  vi.restoreAllMocks();
});

function picture(src: string, y: number, ready = true): HTMLImageElement {
  const img = document.createElement("img");
  img.setAttribute("src", src);
  Object.defineProperties(img, { complete: { value: ready }, naturalWidth: { value: ready ? 90 : 0 } });
  img.getBoundingClientRect = () => new DOMRect(30, y, 120, 150);
  return img;
}

test("pictures stand where they were seen last, and nowhere else", () => {
  vi.spyOn(window, "fetch").mockResolvedValue(Response.json([]));
  const list = document.createElement("div");
  list.append(picture("/a", 200), picture("/b", window.innerHeight + 5), picture("/c", 300, false));
  keepFirstSeen(list);
  document.body.innerHTML = '<div id="root"></div>';
  first();
  const there = [...document.querySelectorAll<HTMLImageElement>("#root img")];
  expect(there.map((i) => [i.getAttribute("src"), i.style.left, i.style.top, i.width, i.height]))
    .toEqual([["/a", "30px", "200px", 120, 150]]);
  there[0]?.dispatchEvent(new Event("error")); // the piece is gone
  expect(document.querySelectorAll("#root img")).toHaveLength(0);
});

test("in a window of another size, or with nothing kept, the page begins empty", () => {
  vi.spyOn(window, "fetch").mockResolvedValue(Response.json([]));
  document.body.innerHTML = '<div id="root"></div>';
  const same = JSON.stringify({ width: window.innerWidth, height: window.innerHeight });
  for (const kept of [null, "{", same, JSON.stringify({ width: 1, height: 1, pictures: [{ src: "/a" }] })]) {
    if (kept) localStorage.setItem("wardrobe-first-seen", kept);
    first();
    expect(document.querySelectorAll("#root img")).toHaveLength(0);
    expect(Object.keys(window.wardrobeFirst ?? {})).toContain("/api/pieces");
  }
});
