const KEY = "wardrobe-first-seen";
const MOST = 12;

/** Keep which pictures are seen where, for `first.js` to show them at once the next time. */
export function keepFirstSeen(list: HTMLElement) {
  const pictures = [...list.querySelectorAll("img")].map((img) => ({ img, box: img.getBoundingClientRect() }))
    .filter(({ img, box }) => img.complete && img.naturalWidth > 0 && box.bottom > 0 && box.top < window.innerHeight)
    .slice(0, MOST).map(({ img, box: { x, y, width, height } }) => ({ src: img.getAttribute("src"), x, y, width,
      height }));
  try {
    localStorage.setItem(KEY, JSON.stringify({ width: window.innerWidth, height: window.innerHeight,
      ground: getComputedStyle(document.body).backgroundColor, pictures }));
  } catch {
    // No room: the next time the page begins empty.
  }
}
