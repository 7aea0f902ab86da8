// Places of effects and colour points on the selected layer: their handles, and dragging them.
import { minus } from "../points.js";

/** Handles of effects' places and colour points on the selected layer. */
export function placesOf(editor) {
  if (editor.selected.size !== 1 || !editor.mode.selects) return [];
  const [layer] = editor.selectedLayers;
  const view = editor.view[layer.id];
  if (!view?.matrix || layer.locked) return [];
  const found = [];
  for (const effect of layer.effects) {
    for (const spec of editor.specsOfMember(layer, "effect", effect)) {
      if (spec.widget === "place" && editor.mode.place === spec.id) {
        found.push({ layer, spec, at: editor.value(layer, spec.id), matrix: view.matrix });
      }
      if (spec.kind === "spots" && effect.on) {
        const [l, t, r, b] = view.box;
        editor.value(layer, spec.id).forEach(([x, y, , colour], index) => {
          const at = [l + ((r - l) * x) / 100, t + ((b - t) * y) / 100];
          found.push({
            layer,
            spec,
            index,
            at,
            matrix: view.matrix,
            box: view.box,
            colour: editor.colourOf(colour),
          });
        });
      }
    }
  }
  return found;
}

/** Drags the place of an effect or a colour point; `at` is where it was taken hold of. */
export function placeDrag(editor, place, at) {
  const { layer, spec, index = null } = place;
  const held = { scene: editor.sceneId, layer: layer.id, property: spec.id, index, time_s: editor.time };
  return { edits: (to) => [{ kind: "move-place", ...held, by: minus(to, at) }] };
}
