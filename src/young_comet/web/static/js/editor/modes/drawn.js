// What becomes of what was drawn on the stage: edits of the server's.
import { note } from "../../notes.js";

/** The one layer that a drawn mask is for; without one the drawing ends. */
export function maskTarget(editor) {
  if (editor.selected.size === 1) return editor.selectedLayers[0];
  note("Select the one layer that is to be masked first.");
  editor.enter("select");
  return null;
}

/** What was drawn as a shape, above what is selected. */
export function drawShape(editor, id, drawn) {
  const { sceneId: scene, newStart: start_s, newIndex: index } = editor;
  return { kind: "draw-shape", scene, id, drawn, start_s, index };
}

/** What was drawn as a mask of a layer. */
export function drawMask(editor, layer, id, drawn) {
  return { kind: "draw-mask", scene: editor.sceneId, layer: layer.id, id, drawn, time_s: editor.time };
}
