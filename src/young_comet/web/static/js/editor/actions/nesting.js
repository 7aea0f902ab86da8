// Scenes in scenes: going in and back, placing, wrapping and unwrapping.
import { afterPaint, newId } from "../../formats.js";
import { note } from "../../notes.js";

export const sceneOf = (editor, layer) => {
  const id = layer?.kind === "scene" ? layer.properties["scene.id"]?.value : null;
  return editor.project.scenes.find((scene) => scene.id === id) || null;
};

/** The scenes through which one has come here, the outermost first. */
export const visited = () =>
  (new URLSearchParams(location.search).get("via") || "").split(",").filter(Boolean);

export function openInner(editor, layer) {
  const scene = sceneOf(editor, layer);
  if (!scene) {
    note("It shows no scene yet: choose one in the Selection tab.");
    return;
  }
  const via = [...visited().filter((id) => id !== scene.id), editor.sceneId].join(",");
  location.href = `/projects/${editor.projectId}/scenes/${scene.id}?via=${via}`;
}

export function placeScene(editor, scene) {
  const layer = editor.newLayer("scene", scene.name, { "scene.id": scene.id });
  layer.end_s = Math.min(editor.scene.length_s, layer.start_s + scene.length_s);
  if (layer.end_s <= layer.start_s) layer.end_s = layer.start_s + scene.length_s;
  return editor.addLayer(layer);
}

/** The other scenes of the project one after another, in their order: an empty scene begins with them, else
 *  they begin where new layers do. */
export function placeInTurn(editor) {
  const placed = placeable(editor).map((scene) => ({ scene: scene.id, id: newId() }));
  const at_s = editor.layers.length ? editor.newStart : 0;
  return editor.edit({ kind: "place-scenes", scene: editor.sceneId, placed, at_s });
}

/** Scenes that can be placed in this one: all that do not show it themselves. */
export function placeable(editor) {
  const shows = (scene, wanted, seen = new Set()) => {
    if (scene.id === wanted) return true;
    if (seen.has(scene.id)) return false;
    seen.add(scene.id);
    return scene.layers.some((layer) => {
      const inner = sceneOf(editor, layer);
      return inner && shows(inner, wanted, seen);
    });
  };
  return editor.project.scenes.filter((scene) => !shows(scene, editor.sceneId));
}

/** Wraps the selected layers into a scene of their own; its name is asked for in the timeline. */
export async function wrap(editor, timeline) {
  const layers = [...editor.selected];
  const order = editor.layers.map((layer) => layer.id);
  const at = layers.map((id) => order.indexOf(id));
  const between = Math.max(...at) - Math.min(...at) + 1 - layers.length;
  const first = editor.layer(order[Math.max(...at)]);
  const taken = new Set(editor.project.scenes.map((scene) => scene.name));
  let name = layers.length === 1 ? first.name : `${first.name} and more`;
  for (let n = 2; taken.has(name); n += 1) name = `${first.name} ${n}`;
  const [id, scene] = [newId(), newId()];
  const done = await editor.edit({
    kind: "wrap-layers",
    scene: editor.sceneId,
    layers,
    id,
    new_scene: scene,
    name,
  });
  if (!done) return;
  editor.select([id]);
  // Once its row is there.
  afterPaint(() =>
    timeline.pointing.renameLayer(id, (chosen) => {
      const edits = [
        { kind: "change-scene", scene, name: chosen },
        { kind: "change-layers", scene: editor.sceneId, layers: [id], name: chosen },
      ];
      if (chosen !== name) editor.edit({ kind: "together", title: `Rename ${name} to ${chosen}`, edits });
    }),
  );
  if (between) {
    const who = between === 1 ? "A layer" : `${between} layers`;
    note(`${who} that lay between came along, so that nothing changes.`);
  }
}

export async function unwrap(editor) {
  const [layer] = editor.selectedLayers;
  const before = new Set(editor.layers.map((each) => each.id));
  const baked = bakedBy(editor, layer);
  if (await editor.edit({ kind: "unwrap-scene", scene: editor.sceneId, layer: layer.id })) {
    editor.select(editor.layers.filter((each) => !before.has(each.id)).map((each) => each.id));
    if (baked.length) {
      const why = "no longer kept aligned to the scene's frame, which is not there any more";
      note(`${baked.join(", ")}: ${why}. The place is as it was.`, { seconds: 9 });
    }
  }
}

/** Names of inner layers that ride and are aligned to the inner frame: outside they keep the place only. */
function bakedBy(editor, placed) {
  const value = (layer, name, otherwise) => layer.properties[name]?.value ?? otherwise;
  const along = (layer) =>
    ["align.x", "align.y"].some((name) => value(layer, name, "none") !== "none") &&
    value(layer, "align.to", "frame") !== "layer";
  return (sceneOf(editor, placed)?.layers || [])
    .filter((layer) => layer.rides && along(layer) && !value(layer, "align.pinned", false))
    .map((layer) => layer.name);
}
