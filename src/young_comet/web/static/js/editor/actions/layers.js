// Layers removed, ordered, grouped, switched, nudged, added.
import { newId } from "../../formats.js";
import { note } from "../../notes.js";

const together = (title, edits) => (edits.length === 1 ? edits[0] : { kind: "together", title, edits });

/** Removes the chosen keys, else the selected layers that are not locked. */
export function remove(editor) {
  const { sceneId: scene } = editor;
  if (editor.keys.size) return editor.edit({ kind: "remove-keys", scene, keys: [...editor.keys.values()] });
  if (!editor.selected.size) return null;
  const layers = editor.selectedLayers.filter((layer) => !layer.locked).map((layer) => layer.id);
  if (layers.length) return editor.edit({ kind: "remove-layers", scene, layers });
  return note("These layers are locked.");
}

/** The selected layers to the "front" or "back" of the stack, or one step "up" or "down". */
export function order(editor, to) {
  const layers = [...editor.selected];
  const at = layers.map((id) => editor.layers.findIndex((layer) => layer.id === id));
  const rest = editor.layers.length - layers.length;
  const index = {
    front: rest,
    up: Math.max(...at) - layers.length + 2,
    down: Math.max(0, Math.min(...at) - 1),
    back: 0,
  }[to];
  return editor.edit({ kind: "order-layers", scene: editor.sceneId, layers, index });
}

export function group(editor) {
  const taken = new Set(editor.scene.groups.map((each) => each.name));
  let number = 1;
  while (taken.has(`Group ${number}`)) number += 1;
  const made = { id: newId(), name: `Group ${number}` };
  return editor.edit({ kind: "group-layers", scene: editor.sceneId, layers: [...editor.selected], ...made });
}

export function ungroup(editor) {
  const groups = [...new Set(editor.selectedLayers.map((layer) => layer.group).filter(Boolean))];
  return editor.edit(
    together(
      "Ungroup",
      groups.map((each) => ({ kind: "ungroup", scene: editor.sceneId, group: each })),
    ),
  );
}

/** "hidden" or "locked" on for all selected layers, off where all have it. */
export function flip(editor, what) {
  const value = !editor.selectedLayers.every((layer) => layer[what]);
  return editor.edit({
    kind: "change-layers",
    scene: editor.sceneId,
    layers: [...editor.selected],
    [what]: value,
  });
}

export function nudge(editor, by) {
  const moved = editor.selectedLayers.filter((layer) => editor.kinds[layer.kind].placed && !layer.locked);
  const layers = moved.map((layer) => layer.id);
  if (!layers.length) return note("These layers are locked.");
  return editor.edit({ kind: "move-layers", scene: editor.sceneId, layers, by, time_s: editor.time });
}

export function addBackdrop(editor) {
  return editor.addLayer(editor.newLayer("backdrop", "Backdrop", { "fill.kind": "linear" }), 0);
}

export function addShape(editor, kind, name, more = {}) {
  return editor.addLayer(editor.newLayer("shape", name, { "shape.kind": kind, ...more }));
}
