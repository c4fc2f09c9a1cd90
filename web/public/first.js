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
  if ((localStorage.getItem("wardrobe-order") || "next") === "next") {
    // So are the pictures of those that will stand first; held, or they would be asked for anew.
    const answers = Object.values(window.wardrobeFirst).map((answer) => answer.then((a) => a.clone().json()));
    Promise.all(answers).then(([pieces, day]) => {
      const revisions = new Map(pieces.map((p) => [p.id, p.revision]));
      const fits = new Set(day.fits);
      const next = [...day.order.filter((id) => fits.has(id)), ...day.order.filter((id) => !fits.has(id))];
      window.wardrobePictures = next.slice(0, 8).map((id) => {
        const picture = new Image();
        picture.src = `/api/pieces/${id}/card?revision=${revisions.get(id)}`;
        return picture;
      });
    }).catch(() => undefined);
  }
}
