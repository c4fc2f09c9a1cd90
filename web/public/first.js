// What the list of pieces needs is asked for before the application has been read.
if (location.pathname === "/") {
  const kept = (name) => {
    try {
      return JSON.parse(localStorage.getItem(name));
    } catch {
      return null; // Nothing was kept yet.
    }
  };
  // The pictures that were seen first the last time stand where they were until the list is drawn over them.
  const last = kept("wardrobe-first-seen");
  if (last?.width === innerWidth && last.height === innerHeight) {
    const page = document.createElement("div");
    Object.assign(page.style, { position: "fixed", inset: "0", backgroundColor: last.ground });
    document.getElementById("root")?.append(page);
    for (const { src, x, y, width, height } of last.pictures ?? []) {
      const picture = new Image(width, height);
      picture.alt = "";
      picture.onerror = () => picture.remove();
      picture.src = src;
      Object.assign(picture.style, { position: "fixed", left: `${x}px`, top: `${y}px`, objectFit: "contain" });
      page.append(picture);
    }
  }
  const minutes = kept("wardrobe-clock")?.state?.day || 240;
  window.wardrobeFirst = {};
  for (const path of ["/api/pieces", `/api/today?minutes=${minutes}`]) {
    window.wardrobeFirst[path] = fetch(path);
    window.wardrobeFirst[path].catch(() => undefined);
  }
}
