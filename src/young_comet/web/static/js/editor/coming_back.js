// Where one was in a scene (the playhead, what was selected, which lanes were open) is found again when
// one comes back to it, as after looking into a placed scene.

/** Brings back what was kept, and keeps it when the page is left. */
export function comeBack(editor) {
  const name = `desk:${editor.projectId}:${editor.sceneId}`;
  window.addEventListener("pagehide", () => {
    const desk = { frame: editor.frame, selected: [...editor.selected], open: [...editor.openLayers] };
    try {
      sessionStorage.setItem(name, JSON.stringify(desk));
    } catch {
      // not kept: one begins at the start again
    }
  });
  let desk = null;
  try {
    desk = JSON.parse(sessionStorage.getItem(name));
  } catch {
    // damaged: as if nothing had been kept
  }
  if (!desk) return;
  const known = (ids) => (ids || []).filter((id) => editor.layer(id));
  editor.frame = Math.min(editor.frameCount - 1, Math.max(0, Math.round(desk.frame) || 0));
  editor.selected = new Set(known(desk.selected));
  editor.openLayers = new Set(known(desk.open));
}
