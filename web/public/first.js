// What the list of pieces needs is asked for before the application has been read.
if (location.pathname === "/") {
  let minutes = 240;
  try {
    minutes = JSON.parse(localStorage.getItem("wardrobe-clock")).state.day || minutes;
  } catch {
    // Nothing was wished yet.
  }
  window.wardrobeFirst = {};
  for (const path of ["/api/pieces", `/api/today?minutes=${minutes}`]) {
    window.wardrobeFirst[path] = fetch(path);
    window.wardrobeFirst[path].catch(() => undefined);
  }
}
