// Commands of the timing desk: keys on the clipboard, marks, range, splitting, onion, compare.
import { newId, note } from "../common.js";

const STORE = "key-clipboard";

export function timingCommands(editor, { timeline, compare }) {
  const scene = () => editor.sceneId;
  const layers = () => editor.selectedLayers.filter((layer) => !layer.locked).map((layer) => layer.id);
  const some = (run) => () => (layers().length ? run(layers()) : note("Select a layer first."));
  const keys = (run) => () => (editor.keys.size ? run(editor.chosenKeys) : note("Choose some keys in the timeline first."));
  const range = (start_s, end_s) => editor.edit({ kind: "set-range", scene: scene(), start_s, end_s });
  const [from, to] = [() => (editor.scene.range_s || [0])[0], () => (editor.scene.range_s || [0, editor.scene.length_s])[1]];
  editor.on("paste-keys", (options) => pasteKeys(editor, options));
  return [
    { id: "mark", label: "Set a mark at the playhead", keys: "Shift+Enter", combo: "Shift+Enter", run: () => editor.edit({ kind: "add-mark", scene: scene(), time_s: editor.time }) },
    { id: "split", label: "Split layers at the playhead", keys: "Ctrl+Enter", combo: "Ctrl+Enter", run: some((ids) => split(editor, ids)) },
    { id: "extend", label: "Extend layers to the end of the scene", keys: "Alt+End", combo: "Alt+End", run: some((ids) => editor.edit({ kind: "extend-layers", scene: scene(), layers: ids })) },
    { id: "range-start", label: "Working range starts here", keys: "Shift+Home", combo: "Shift+Home", run: () => range(editor.time, to() > editor.time ? to() : null) },
    { id: "range-end", label: "Working range ends here", keys: "Shift+End", combo: "Shift+End", run: () => range(from(), editor.time + editor.timeOf(1)) },
    { id: "range-span", label: "Working range over the selected layers", keys: "", run: some((ids) => range(Math.min(...ids.map((id) => editor.layer(id).start_s)), Math.max(...ids.map((id) => editor.layer(id).end_s)))) },
    { id: "range-whole", label: "Working range: the whole scene", keys: "", run: () => range(null, null) },
    { id: "keys-back", label: "Move the chosen keys one frame back", keys: "Alt+Left", combo: "Alt+ArrowLeft", run: keys((chosen) => nudge(editor, chosen, -1)) },
    { id: "keys-on", label: "Move the chosen keys one frame on", keys: "Alt+Right", combo: "Alt+ArrowRight", run: keys((chosen) => nudge(editor, chosen, 1)) },
    { id: "keys-back-ten", label: "Move the chosen keys ten frames back", keys: "Alt+Shift+Left", combo: "Alt+Shift+ArrowLeft", run: keys((chosen) => nudge(editor, chosen, -10)) },
    { id: "keys-on-ten", label: "Move the chosen keys ten frames on", keys: "Alt+Shift+Right", combo: "Alt+Shift+ArrowRight", run: keys((chosen) => nudge(editor, chosen, 10)) },
    { id: "keys-reverse", label: "Reverse the chosen keys in time", keys: "", run: keys((chosen) => editor.edit({ kind: "reverse-keys", scene: scene(), keys: chosen })) },
    { id: "keys-mirror", label: "Mirror the values of the chosen keys", keys: "", run: keys((chosen) => editor.edit({ kind: "mirror-keys", scene: scene(), keys: chosen })) },
    { id: "keys-spread", label: "Spread the chosen keys evenly in time", keys: "", run: keys((chosen) => editor.edit({ kind: "distribute-keys", scene: scene(), keys: chosen })) },
    { id: "keys-smooth", label: "Smooth the chosen keys", keys: "", run: keys((chosen) => editor.edit({ kind: "join-keys", scene: scene(), keys: chosen, join: "smooth" })) },
    { id: "keys-table", label: "Table of the chosen keys...", keys: "", run: keys(() => window.dispatchEvent(new Event("open-key-table"))) },
    { id: "keys-all", label: "Choose all keys of the selected layers", keys: "Alt+A", combo: "Alt+a", run: some((ids) => chooseAll(editor, ids)) },
    { id: "show-scene", label: "Timeline: show the whole scene", keys: "Alt+1", combo: "Alt+1", run: () => timeline.fit() },
    { id: "show-span", label: "Timeline: show the selected layers' spans", keys: "Alt+2", combo: "Alt+2", run: some((ids) => timeline.fitTimes(Math.min(...ids.map((id) => editor.layer(id).start_s)), Math.max(...ids.map((id) => editor.layer(id).end_s)))) },
    { id: "show-selection", label: "Timeline: show the chosen keys", keys: "Alt+3", combo: "Alt+3", run: keys((chosen) => timeline.fitTimes(editor.keyTime(chosen[0]), editor.keyTime(chosen.at(-1)))) },
    { id: "freeze", label: "Freeze clips at this frame", keys: "", run: some((ids) => editor.edit({ kind: "freeze-layers", scene: scene(), layers: ids, time_s: editor.time })) },
    { id: "thaw", label: "Let frozen clips run again", keys: "", run: some((ids) => editor.edit({ kind: "freeze-layers", scene: scene(), layers: ids })) },
    { id: "fit-speed", label: "Speed of clips: fill their spans", keys: "", run: some((ids) => editor.edit({ kind: "fit-speed", scene: scene(), layers: ids })) },
    { id: "onion", label: "Onion view of the selected layers", keys: "", run: () => toggleOnion(editor) },
    { id: "compare-moment", label: "Compare with this moment", keys: "", run: () => compare.set(compare.mode === "moment" ? "" : "moment") },
    { id: "compare-edit", label: "Compare before and after the last edit", keys: "", run: () => compare.set(compare.mode === "before-edit" ? "" : "before-edit") },
    { id: "split-xy", label: "Split position into x and y", keys: "", run: some((ids) => editor.edit({ kind: "split-property", scene: scene(), targets: ids.map((layer) => ({ layer, property: "position" })) })) },
    { id: "join-xy", label: "Join x and y of position", keys: "", run: some((ids) => editor.edit({ kind: "join-property", scene: scene(), targets: ids.map((layer) => ({ layer, property: "position" })) })) },
  ];
}

export function toggleOnion(editor) {
  editor.onion = editor.onion ? null : { before: 3, after: 3, step: 2 };
  editor.tell("onion");
  editor.requestStage();
}

function split(editor, layerIds) {
  const on = layerIds.filter((id) => editor.layer(id).start_s < editor.time - 1e-6 && editor.layer(id).end_s > editor.time + 1e-6);
  if (!on.length) {
    note("None of these layers is on at the playhead.");
    return;
  }
  const ids = Object.fromEntries(on.map((id) => [id, newId()]));
  editor.edit({ kind: "split-layers", scene: editor.sceneId, time_s: editor.time, ids }).then((done) => done && editor.select(Object.values(ids)));
}

function nudge(editor, chosen, frames) {
  const by = editor.timeOf(frames);
  const moves = chosen.map((entry) => ({ ...entry, time_s: editor.keyTime(entry) + by }));
  editor.edit({ kind: "move-keys", scene: editor.sceneId, moves, free: true });
}

function chooseAll(editor, layerIds) {
  const entries = layerIds.flatMap((id) =>
    Object.entries(editor.layer(id).properties).flatMap(([property, each]) => each.keys.map((key) => ({ layer: id, property, key: key.id }))),
  );
  for (const id of layerIds) editor.openLayers.add(id);
  editor.selectKeys(entries);
}

/** Chosen keys on the clipboard, their times counted from the first; also for other scenes. */
export function copyKeys(editor) {
  const chosen = editor.chosenKeys;
  const first = editor.keyTime(chosen[0]);
  const tracks = new Map();
  for (const entry of chosen) {
    const layer = editor.layer(entry.layer);
    const name = `${entry.layer}|${entry.property}`;
    const spec = editor.spec(layer, entry.property);
    if (!tracks.has(name)) tracks.set(name, { layer: entry.layer, property: entry.property, kind: spec.kind, keys: [] });
    const { value, easing, join, handle_in, handle_out } = editor.keyOf(entry);
    tracks.get(name).keys.push({ at_s: Math.max(0, editor.keyTime(entry) - first), value, easing, join, handle_in, handle_out });
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
      if (spec && spec.kind === track.kind && spec.animatable) tracks.push({ layer: layer.id, property, keys: track.keys });
    }
  }
  if (!tracks.length) {
    note("The copied keys fit nothing that is selected.");
    return;
  }
  for (const track of tracks) editor.openLayers.add(track.layer);
  const before = new Set(tracks.flatMap(({ layer, property }) => (editor.layer(layer).properties[property]?.keys || []).map((key) => key.id)));
  const done = await editor.edit({ kind: "paste-keys", scene: editor.sceneId, tracks, time_s: editor.time, every, times });
  if (!done) return;
  const fresh = tracks.flatMap(({ layer, property }) =>
    editor.layer(layer).properties[property].keys.filter((key) => !before.has(key.id)).map((key) => ({ layer, property, key: key.id })),
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
