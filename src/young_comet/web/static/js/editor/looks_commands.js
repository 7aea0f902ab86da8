// Commands on looks: treatments, effects, masks, points of paths, joining and cutting shapes.
import { newId, note } from "../common.js";
import { addMembers, copyMembers } from "./member_edits.js";

export function looksCommands(editor, { pointing }) {
  const scene = () => editor.sceneId;
  const unlocked = () => editor.selectedLayers.filter((layer) => !layer.locked);
  const some = (run) => () => (unlocked().length ? run(unlocked().map((layer) => layer.id)) : note("Select a layer first."));
  const outlined = (run, least) => () => {
    const layers = unlocked().filter((layer) => ["shape", "text"].includes(layer.kind)).map((layer) => layer.id);
    return layers.length >= least ? run(layers) : note(least > 1 ? "Select two or more shapes or texts." : "Select a shape or a text.");
  };
  const join = (how) => outlined((layers) => editor.edit({ kind: "join-shapes", scene: scene(), layers, how, time_s: editor.time }), 2);
  const points = (deed) => () => pointing.shapes.deed(deed) || note("First edit the points of a path: Looks tab, or the Path field.");
  return [
    { id: "add-effect", label: "Add an effect...", keys: "Ctrl+E", combo: "Ctrl+e", run: () => window.dispatchEvent(new Event("open-effects")) },
    { id: "bare", label: "Hold to see without effects", keys: "0", run: () => note("Hold the 0 key.") },
    { id: "add-treatment", label: "Add a treatment: effects on all that lies below", keys: "", run: () => editor.addLayer(editor.newLayer("treatment", "Treatment", {})) },
    { id: "edit-points", label: "Edit the points of the layer's path", keys: "Ctrl+P", combo: "Ctrl+p", run: () => editPoints(editor) },
    { id: "points-smooth", label: "Points: smooth", keys: "", run: points("smooth") },
    { id: "points-corner", label: "Points: corners", keys: "", run: points("corner") },
    { id: "points-first", label: "Points: this one is the first", keys: "", run: points("first") },
    { id: "points-reverse", label: "Points: turn the path round", keys: "", run: points("reverse") },
    { id: "points-close", label: "Points: close the path", keys: "", run: points("close") },
    { id: "points-open", label: "Points: open the path", keys: "", run: points("open") },
    { id: "unite", label: "Shapes: unite", keys: "", run: join("union") },
    { id: "subtract", label: "Shapes: take the upper from the lowest", keys: "", run: join("minus") },
    { id: "intersect", label: "Shapes: intersect", keys: "", run: join("intersect") },
    { id: "exclude", label: "Shapes: exclude", keys: "", run: join("exclude") },
    { id: "outline", label: "Make editable paths of shapes and texts", keys: "", run: outlined((layers) => editor.edit({ kind: "outline-layers", scene: scene(), layers, time_s: editor.time }), 1) },
    { id: "slice-layers", label: "Cut a sliced layer into separate layers", keys: "", run: some(([layer]) => editor.edit({ kind: "slice-layer", scene: scene(), layer, time_s: editor.time })) },
    { id: "copy-looks", label: "Copy effects of the layer", keys: "", run: some(([id]) => copyEffects(editor, id)) },
    { id: "paste-looks", label: "Paste effects onto the selected layers", keys: "", run: some((layers) => pasteEffects(editor, layers)) },
    { id: "half-plane", label: "Mask with a half plane", keys: "", run: some(([layer]) => addHalfPlane(editor, layer)) },
  ];
}

/** Points of the layer's own path, else of its first mask; a second time ends it. */
function editPoints(editor) {
  if (editor.pointing) {
    editor.editPoints(null);
    return;
  }
  const [layer] = editor.selectedLayers;
  const shapes = (layer && editor.shapes[layer.id]) || [];
  const found = shapes.find((shape) => shape.contours.length && (!editor.mask || shape.mask === editor.mask)) || shapes.find((shape) => shape.contours.length);
  if (found) editor.editPoints(found.property);
  else note("This layer has no path of its own and no mask with points. \"Make editable paths\" turns shapes and texts into paths.");
}

function copyEffects(editor, id) {
  const effects = editor.layer(id).effects.map((effect) => effect.id);
  if (!effects.length) {
    note("This layer has no effects.");
    return;
  }
  localStorage.setItem("effect-clipboard", JSON.stringify({ scene: editor.sceneId, layer: id, effects }));
  note(`${effects.length === 1 ? "An effect is" : `${effects.length} effects are`} on the clipboard.`, { seconds: 2 });
}

function pasteEffects(editor, layers) {
  const held = JSON.parse(localStorage.getItem("effect-clipboard") || "null");
  const source = held && held.scene === editor.sceneId && editor.layer(held.layer);
  if (!source) note("There are no effects of this scene to paste.");
  else editor.edit(copyMembers(editor, "effect", held.layer, held.effects, layers));
}

async function addHalfPlane(editor, layer) {
  const id = newId();
  const member = { id, name: "Edge", form: "half-plane" };
  if (await editor.edit(addMembers(editor, "mask", [layer], [{ member }]))) {
    editor.tell("show-tab", "looks");
    editor.tell("mask-added", id);
  }
}
