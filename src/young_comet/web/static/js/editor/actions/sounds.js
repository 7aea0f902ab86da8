// Sounds of the kit taken into the project and placed.
import { newId } from "../../formats.js";
import { complain } from "../../notes.js";
import { api } from "../../api.js";

// A whoosh passes where a layer that arrives is quickest, and lasts a little longer than that takes.
const PASSES = 0.35;
const LONGER = 1.3;

/** Takes a sound of the kit and places it: its moment at a time, tied to a layer or not. */
export async function takeSound(editor, taken, place) {
  try {
    const { asset, moment_s } = await editor.working(api.takeFromKit(editor.projectId, taken));
    await editor.refresh();
    const id = newId();
    const edit = { kind: "place-sound", scene: editor.sceneId, id, asset: asset.id, moment_s, ...place };
    if (await editor.edit(edit)) editor.select([id]);
  } catch (error) {
    complain(error);
  }
}

/** A clip's sound as a layer of its own. */
export async function separateSound(editor) {
  const layer = editor.selectedLayers.find((each) => hasSound(editor, each));
  const id = newId();
  const edit = { kind: "separate-sound", scene: editor.sceneId, layer: layer.id, id };
  if (await editor.edit(edit)) editor.select([id]);
}

/** Whether a layer is a clip in which something is heard. */
export function hasSound(editor, layer) {
  if (layer.kind !== "clip") return false;
  const asset = layer.properties["clip.asset"]?.value;
  return Boolean(editor.project.assets.find((each) => each.id === asset)?.channels);
}

/** A whoosh as long as the chosen layer takes to arrive, tied to its start. */
export function whooshFor(editor) {
  const layer = editor.selectedLayers.find((each) => each.arrive_s > 0);
  const length_s = Math.min(6, Math.max(0.25, layer.arrive_s * LONGER));
  const sound = length_s < 0.6 ? "whoosh-quick-gust" : "whoosh-soft-pass";
  const at_s = layer.start_s + layer.arrive_s * PASSES;
  return takeSound(
    editor,
    { sound, length_s, seed: editor.layers.length },
    { at_s, tied: layer.id, tied_to: "start", name: `Whoosh of ${layer.name}`.slice(0, 100) },
  );
}
