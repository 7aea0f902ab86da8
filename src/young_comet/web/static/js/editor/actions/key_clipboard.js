// Keys on the clipboard.
import { note } from "../../notes.js";

const STORE = "key-clipboard";

/** Chosen keys on the clipboard, their times counted from the first; also for other scenes. */
export function copyKeys(editor) {
  const chosen = editor.chosenKeys;
  const first = editor.keyTime(chosen[0]);
  const tracks = new Map();
  for (const entry of chosen) {
    const layer = editor.layer(entry.layer);
    const name = `${entry.layer}|${entry.property}`;
    const spec = editor.spec(layer, entry.property);
    if (!tracks.has(name)) {
      tracks.set(name, { layer: entry.layer, property: entry.property, kind: spec.kind, keys: [] });
    }
    const { value, easing, join, handle_in, handle_out } = editor.keyOf(entry);
    tracks.get(name).keys.push({
      at_s: Math.max(0, editor.keyTime(entry) - first),
      value,
      easing,
      join,
      handle_in,
      handle_out,
    });
  }
  localStorage.setItem(STORE, JSON.stringify({ project: editor.projectId, tracks: [...tracks.values()] }));
  editor.tell("keys-copied");
  note(`${chosen.length === 1 ? "A key is" : `${chosen.length} keys are`} on the clipboard.`, { seconds: 2 });
}

export function heldKeys() {
  return JSON.parse(localStorage.getItem(STORE) || "null");
}

/** Pastes keys at the playhead: each track to the same property of the selected layers (one
 *  after another where several layers were copied), or all into one property (`into`). */
export async function pasteKeys(editor, { every = null, times = 1, into = null } = {}) {
  const held = heldKeys();
  if (!held) {
    note("There are no keys to paste.");
    return;
  }
  const sources = [...new Set(held.tracks.map((track) => track.layer))];
  const chosen = editor.selectedLayers.filter((layer) => !layer.locked);
  const targets = chosen.length ? chosen : sources.map((id) => editor.layer(id)).filter(Boolean);
  const tracks = [];
  for (const [index, layer] of targets.entries()) {
    const source = sources.length > 1 ? sources[index % sources.length] : sources[0];
    for (const track of held.tracks) {
      if (track.layer !== source) continue;
      const property = into || track.property;
      const spec = editor.spec(layer, property);
      if (spec && spec.kind === track.kind && spec.animatable) {
        tracks.push({ layer: layer.id, property, keys: track.keys });
      }
    }
  }
  if (!tracks.length) {
    note("The copied keys fit nothing that is selected.");
    return;
  }
  for (const track of tracks) editor.openLayers.add(track.layer);
  const before = new Set(
    tracks.flatMap(({ layer, property }) =>
      (editor.layer(layer).properties[property]?.keys || []).map((key) => key.id),
    ),
  );
  const done = await editor.edit({
    kind: "paste-keys",
    scene: editor.sceneId,
    tracks,
    time_s: editor.time,
    every,
    times,
  });
  if (!done) return;
  const fresh = tracks.flatMap(({ layer, property }) =>
    editor
      .layer(layer)
      .properties[property].keys.filter((key) => !before.has(key.id))
      .map((key) => ({ layer, property, key: key.id })),
  );
  editor.selectKeys(fresh);
}

/** Copies of the chosen keys right behind them. */
export function duplicateKeys(editor) {
  const chosen = editor.chosenKeys;
  const last = editor.keyTime(chosen.at(-1));
  const by = last - editor.keyTime(chosen[0]) + editor.timeOf(5);
  const moves = chosen.map((entry) => ({ ...entry, time_s: editor.keyTime(entry) + by }));
  editor.edit({ kind: "copy-keys", scene: editor.sceneId, moves });
}
