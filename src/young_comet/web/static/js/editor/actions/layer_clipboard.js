// Layers on the clipboard, with all that they need of their project.
import { newId } from "../../formats.js";
import { note } from "../../notes.js";

let clipboard = null;

export function copyLayers(editor, layers) {
  const chosen = editor.layers
    .filter((layer) => layers.includes(layer.id))
    .map((layer) => structuredClone(editor.arranging.asSeen(layer)));
  const { project, scene } = editor;
  // What they need of the project goes along, so that they can be pasted into another one.
  const scenes = [];
  const gather = (held) => {
    for (const id of held.map((layer) => layer.properties["scene.id"]?.value).filter(Boolean)) {
      const inner = project.scenes.find((each) => each.id === id);
      if (!inner || scenes.includes(inner)) continue;
      scenes.unshift(inner);
      gather(inner.layers);
    }
  };
  gather(chosen);
  let text = JSON.stringify([chosen, scenes]);
  const named = (list, mark) => list.filter((each) => text.includes(`"${mark}${each.id}"`));
  const moves = named(project.saved_moves, "own:");
  text += JSON.stringify(moves);
  clipboard = {
    project: editor.projectId,
    layers: chosen,
    scenes,
    groups: scene.groups,
    assets: named(project.assets, ""),
    inks: named(project.inks, "ink:"),
    easings: named(project.easings, "easing:"),
    moves,
  };
  try {
    localStorage.setItem("layer-clipboard", JSON.stringify(clipboard));
  } catch {
    localStorage.removeItem("layer-clipboard"); // too much to be kept: it can be pasted on this page
  }
  localStorage.removeItem("key-clipboard"); // what was copied last is what is pasted
}

const heldLayers = () => {
  const kept = globalThis.localStorage?.getItem("layer-clipboard");
  return JSON.parse(kept || "null") || clipboard;
};

/** The layer that was copied last; the lowest of several. */
export const heldLayer = () => heldLayers()?.layers?.[0] || null;

/** Sides of the copied layer ("place", "looks", ...) put on the selected ones. */
export function pasteParts(editor, sides) {
  const held = heldLayers();
  const targets = editor.selectedLayers.filter((layer) => !layer.locked).map((layer) => layer.id);
  const { assets, inks, easings, moves } = held.project === editor.projectId ? {} : held;
  const edit = { kind: "paste-parts", scene: editor.sceneId, layer: held.layers[0], targets, sides };
  for (const [name, brought] of Object.entries({ assets, inks, easings, moves })) {
    if (brought) edit[name] = brought;
  }
  return editor.edit(edit);
}

export function pasteLayers(editor, { inPlace = false } = {}) {
  const held = heldLayers();
  if (!held?.layers?.length) {
    note("There is nothing to paste.");
    return;
  }
  const ids = Object.fromEntries(held.layers.map((layer) => [layer.id, newId()]));
  const above = editor.selectedLayers.at(-1)?.id ?? null;
  const own = held.project === editor.projectId;
  const { assets, inks, easings, moves, scenes } = own ? {} : held;
  const edit = {
    kind: "paste-layers",
    scene: editor.sceneId,
    layers: held.layers,
    ids,
    above,
    groups: held.groups || [],
    assets,
    inks,
    easings,
    moves,
    scenes,
  };
  for (const name of Object.keys(edit)) if (edit[name] === undefined) delete edit[name];
  if (!inPlace) edit.at_s = editor.time;
  editor.edit(edit).then((done) => done && editor.select(Object.values(ids)));
}

export function duplicateLayers(editor, layers, linked = false) {
  const copies = Object.fromEntries(layers.map((id) => [id, newId()]));
  editor
    .edit({ kind: "duplicate-layers", scene: editor.sceneId, copies, linked })
    .then((done) => done && editor.select(Object.values(copies)));
}
