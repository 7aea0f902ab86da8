// Keys set, chosen and moved.
import { unlocked } from "./chosen.js";

/** Keys at the playhead on all that is animated of the selected layers. */
export function setKeys(editor) {
  const targets = editor.selectedLayers.flatMap((layer) =>
    Object.entries(layer.properties)
      .filter(([, property]) => property.keys.length)
      .map(([property]) => ({ layer: layer.id, property })),
  );
  return editor.edit({ kind: "set-keys", scene: editor.sceneId, targets, time_s: editor.time });
}

export function nudgeKeys(editor, frames) {
  const by = editor.timeOf(frames);
  const moves = editor.chosenKeys.map((entry) => ({ ...entry, time_s: editor.keyTime(entry) + by }));
  return editor.edit({ kind: "move-keys", scene: editor.sceneId, moves, free: true });
}

/** Whether a key lies between two frames. */
export const offFrames = (editor, entry) => {
  const time = editor.keyTime(entry);
  return Math.abs(editor.timeOf(editor.frameAt(time)) - time) > 1e-4;
};

/** Chosen keys that lie between frames go to the nearest ones. */
export function snapKeys(editor) {
  const moves = editor.chosenKeys.map((entry) => ({ ...entry, time_s: editor.keyTime(entry) }));
  return editor.edit({ kind: "move-keys", scene: editor.sceneId, moves, free: false });
}

export function chooseAllKeys(editor) {
  const entries = unlocked(editor).flatMap((layer) =>
    Object.entries(layer.properties).flatMap(([property, each]) =>
      each.keys.map((key) => ({ layer: layer.id, property, key: key.id })),
    ),
  );
  for (const layer of unlocked(editor)) editor.openLayers.add(layer.id);
  editor.selectKeys(entries);
}

/** Position taken apart into x and y ("split-property") or joined again ("join-property"). */
export function splitPosition(editor, kind) {
  const targets = unlocked(editor).map((layer) => ({ layer: layer.id, property: "position" }));
  return editor.edit({ kind, scene: editor.sceneId, targets });
}
