// Every command by name and key: the keyboard, the finder, the sheet and the menus use this list.
import { newId, note } from "../common.js";
import { carryTogether, chooseRide, rideOff } from "./links_panel.js";
import { openInner, unwrap, wrap } from "./nesting_panel.js";
import { cutThread, startTying } from "./threads.js";
import { looksCommands } from "./looks_commands.js";
import { copyKeys, duplicateKeys, heldKeys, pasteKeys, timingCommands } from "./timing_commands.js";

let clipboard = null;

/** Commands: { id, label, keys (as shown), match(event) or combo, run }. */
export function makeCommands(editor, parts) {
  const { player, stage, timeline, pointing, chooseFiles } = parts;
  const scene = () => editor.sceneId;
  const chosen = () => [...editor.selected];
  const some = (run) => () => (editor.selected.size ? run(chosen()) : note("Select a layer first."));
  const tool = (id, label, key) => ({ id: `tool-${id}`, label: `Tool: ${label}`, keys: key, combo: key, run: () => editor.setTool(id) });
  const order = (index) => some((layers) => editor.edit({ kind: "order-layers", scene: scene(), layers, index: index(layers) }));
  const rest = (layers) => editor.layers.filter((layer) => !layers.includes(layer.id)).map((layer) => layer.id);
  const at = (layers, pick) => pick(layers.map((id) => editor.layers.findIndex((layer) => layer.id === id)));
  const nudge = (dx, dy) => some((layers) => moveBy(editor, layers, dx, dy));

  return [
    { id: "play", label: "Play or pause", keys: "Space", run: () => player.toggle() },
    { id: "back", label: "One frame back", keys: "Left", combo: "ArrowLeft", run: () => editor.goTo(editor.frame - 1) },
    { id: "on", label: "One frame on", keys: "Right", combo: "ArrowRight", run: () => editor.goTo(editor.frame + 1) },
    { id: "back-ten", label: "Ten frames back", keys: "Shift+Left", combo: "Shift+ArrowLeft", run: () => editor.goTo(editor.frame - 10) },
    { id: "on-ten", label: "Ten frames on", keys: "Shift+Right", combo: "Shift+ArrowRight", run: () => editor.goTo(editor.frame + 10) },
    { id: "start", label: "To the start", keys: "Home", combo: "Home", run: () => editor.goTo(0) },
    { id: "end", label: "To the end", keys: "End", combo: "End", run: () => editor.goTo(editor.frameCount - 1) },
    { id: "key-before", label: "To the key before", keys: "Alt+Up", combo: "Alt+ArrowUp", run: () => toKey(editor, -1) },
    { id: "key-after", label: "To the key after", keys: "Alt+Down", combo: "Alt+ArrowDown", run: () => toKey(editor, 1) },
    { id: "set-keys", label: "Key the animated properties here (ends the pen)", keys: "Enter", combo: "Enter", run: () => (editor.drawnPath ? pointing.shapes.endPen(false) : setKeys(editor)) },
    { id: "delete", label: "Delete points, keys or layers", keys: "Delete", combo: "Delete", run: () => cutThread(editor) || pointing.shapes.deed("remove") || remove(editor) },
    { id: "undo", label: "Undo", keys: "Ctrl+Z", combo: "Ctrl+z", run: () => editor.undo() },
    { id: "redo", label: "Redo", keys: "Ctrl+Shift+Z", combo: "Ctrl+Shift+z", run: () => editor.redo() },
    ...timingCommands(editor, parts),
    { id: "copy", label: "Copy keys or layers", keys: "Ctrl+C", combo: "Ctrl+c", run: () => (editor.keys.size ? copyKeys(editor) : some((layers) => copy(editor, layers))()) },
    { id: "cut", label: "Cut layers", keys: "Ctrl+X", combo: "Ctrl+x", run: some((layers) => (copy(editor, layers), remove(editor))) },
    { id: "paste", label: "Paste keys or layers", keys: "Ctrl+V", combo: "Ctrl+v", run: () => (heldKeys() ? pasteKeys(editor) : paste(editor)) },
    { id: "paste-in-place", label: "Paste layers at the times they had", keys: "Ctrl+Shift+V", combo: "Ctrl+Shift+v", run: () => paste(editor, { inPlace: true }) },
    { id: "duplicate", label: "Duplicate keys or layers", keys: "Ctrl+D", combo: "Ctrl+d", run: () => (editor.keys.size ? duplicateKeys(editor) : some((layers) => duplicate(editor, layers))()) },
    { id: "linked-copy", label: "Linked copy: shares content and keys until changed", keys: "Alt+D", combo: "Alt+d", run: some((layers) => duplicate(editor, layers, true)) },
    { id: "all", label: "Select all layers", keys: "Ctrl+A", combo: "Ctrl+a", run: () => pointing.shapes.chooseAllPoints() || editor.select(editor.layers.filter((layer) => !layer.locked).map((layer) => layer.id)) },
    ...looksCommands(editor, parts),
    { id: "none", label: "Select nothing", keys: "Escape", combo: "Escape", run: () => editor.select([]) },
    { id: "group", label: "Group layers", keys: "Ctrl+G", combo: "Ctrl+g", run: some((layers) => editor.edit({ kind: "group-layers", scene: scene(), layers, id: newId(), name: groupName(editor) })) },
    { id: "ungroup", label: "Ungroup", keys: "Ctrl+Shift+G", combo: "Ctrl+Shift+g", run: () => ungroup(editor) },
    { id: "ride", label: "Ride on... (then click what to ride on)", keys: "Alt+R", combo: "Alt+r", run: () => chooseRide(editor) },
    { id: "ride-off", label: "Ride on nothing", keys: "", run: some(() => rideOff(editor)) },
    { id: "wrap", label: "Wrap into a scene", keys: "Alt+W", combo: "Alt+w", run: () => wrap(editor) },
    { id: "unwrap", label: "Unwrap a placed scene", keys: "", run: () => unwrap(editor) },
    { id: "open-scene", label: "Open the placed scene", keys: "Alt+Enter", combo: "Alt+Enter", run: some(() => openInner(editor, editor.selectedLayers[0])) },
    { id: "tie-start", label: "Tie start to... (then click a moment)", keys: "Alt+T", combo: "Alt+t", run: () => startTying(editor, "start") },
    { id: "tie-end", label: "Tie end to... (then click a moment)", keys: "Alt+Shift+T", combo: "Alt+Shift+t", run: () => startTying(editor, "end") },
    { id: "carry", label: "Carry together", keys: "Alt+G", combo: "Alt+g", run: some(() => carryTogether(editor)) },
    { id: "add-carrier", label: "Add a carrier", keys: "", run: () => editor.addLayer(editor.newLayer("carrier", "Carrier", {})) },
    { id: "front", label: "Bring to the front", keys: "", run: order((layers) => rest(layers).length) },
    { id: "forward", label: "One step up in the stack", keys: "Ctrl+]", combo: "Ctrl+]", run: order((layers) => at(layers, (i) => Math.max(...i)) - layers.length + 2) },
    { id: "backward", label: "One step down in the stack", keys: "Ctrl+[", combo: "Ctrl+[", run: order((layers) => Math.max(0, at(layers, (i) => Math.min(...i)) - 1)) },
    { id: "rear", label: "Send to the back", keys: "", run: order(() => 0) },
    { id: "hide", label: "Hide or show layers", keys: "", run: some((layers) => flip(editor, layers, "hidden")) },
    { id: "lock", label: "Lock or unlock layers", keys: "", run: some((layers) => flip(editor, layers, "locked")) },
    { id: "left", label: "Nudge left", keys: "Ctrl+Left", combo: "Ctrl+ArrowLeft", run: nudge(-1, 0) },
    { id: "right", label: "Nudge right", keys: "Ctrl+Right", combo: "Ctrl+ArrowRight", run: nudge(1, 0) },
    { id: "up", label: "Nudge up", keys: "Ctrl+Up", combo: "Ctrl+ArrowUp", run: nudge(0, -1) },
    { id: "down", label: "Nudge down", keys: "Ctrl+Down", combo: "Ctrl+ArrowDown", run: nudge(0, 1) },
    { id: "left-ten", label: "Nudge left by ten", keys: "Ctrl+Shift+Left", combo: "Ctrl+Shift+ArrowLeft", run: nudge(-10, 0) },
    { id: "right-ten", label: "Nudge right by ten", keys: "Ctrl+Shift+Right", combo: "Ctrl+Shift+ArrowRight", run: nudge(10, 0) },
    { id: "up-ten", label: "Nudge up by ten", keys: "Ctrl+Shift+Up", combo: "Ctrl+Shift+ArrowUp", run: nudge(0, -10) },
    { id: "down-ten", label: "Nudge down by ten", keys: "Ctrl+Shift+Down", combo: "Ctrl+Shift+ArrowDown", run: nudge(0, 10) },
    ...["select:Select", "rectangle:Rectangle", "ellipse:Ellipse", "polygon:Polygon", "star:Star", "line:Line", "pen:Pen", "text:Text", "pencil:Motion path", "hand:Move the view"].map((entry, index) => tool(...entry.split(":"), String(index + 1))),
    { id: "add-backdrop", label: "Add a backdrop", keys: "", run: () => editor.addBackdrop() },
    { id: "add-picture", label: "Add a picture from a file", keys: "", run: () => chooseFiles({ place: true }) },
    { id: "dropper", label: "Make an ink from a colour on the stage", keys: "", run: () => pointing.pickColour((colour) => editor.edit({ kind: "add-inks", inks: [{ id: newId(), name: `Ink ${editor.project.inks.length + 1}`, colour: colour.slice(0, 7) }] })) },
    { id: "fit", label: "Fit the frame into the stage", keys: "Ctrl+0", combo: "Ctrl+0", run: () => stage.fit() },
    { id: "fit-time", label: "Show the whole scene in the timeline", keys: "", run: () => timeline.fit() },
    { id: "render", label: "Render...", keys: "", run: () => window.dispatchEvent(new Event("open-render")) },
    { id: "frame", label: "Scene name and frame...", keys: "", run: () => window.dispatchEvent(new Event("change-frame")) },
    { id: "history", label: "History...", keys: "", run: () => window.dispatchEvent(new Event("open-history")) },
    { id: "finder", label: "Find a command or layer", keys: "Ctrl+K", combo: "Ctrl+k", run: () => window.dispatchEvent(new Event("open-finder")) },
    { id: "keys", label: "Keyboard sheet", keys: "?", combo: "?", run: () => window.dispatchEvent(new Event("open-keys")) },
  ];
}

/** Keys work unless something is being typed or a sheet is open. */
export function listenToKeys(commands, editor, { player, pointing, timelinePointing, flight }) {
  const byCombo = new Map(commands.filter((command) => command.combo).map((command) => [command.combo, command]));
  byCombo.set("Backspace", byCombo.get("Delete"));
  byCombo.set("Ctrl+y", byCombo.get("Ctrl+Shift+z"));
  window.addEventListener("keydown", (event) => {
    // Enter ends typing in a field: the keys are commands again.
    if (event.key === "Enter" && event.target.matches?.("#editor input.field")) event.target.blur();
    if (typing(event.target) || document.querySelector("dialog[open]")) return;
    if (event.code === "Space") {
      if (event.target.matches?.("button")) event.target.blur();
      event.preventDefault();
      if (!event.repeat) pointing.holdSpace(true);
      return;
    }
    if (event.key === "Enter" && event.target.matches?.("button, a, select")) return;
    if (event.key === "Escape" && (flight.giveUp() || pointing.giveUp() || timelinePointing.giveUp())) return;
    if (event.key === "0" && !event.ctrlKey && !event.metaKey && !event.altKey) {
      bare(editor, true);
      return;
    }
    const command = byCombo.get(comboOf(event));
    if (!command) return;
    event.preventDefault();
    command.run();
  });
  window.addEventListener("keyup", (event) => {
    if (event.key === "0") bare(editor, false);
    if (event.code !== "Space" || typing(event.target) || document.querySelector("dialog[open]")) return;
    event.preventDefault();
    if (!pointing.holdSpace(false)) player.toggle();
  });
}

/** While a key is held the selected layers are seen without their effects. */
function bare(editor, on) {
  if (editor.bare === on) return;
  editor.bare = on;
  editor.requestStage();
}

function typing(element) {
  return element.matches?.("input:not([type=checkbox]):not([type=range]), textarea, select") || element.isContentEditable;
}

function comboOf(event) {
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  if (key === "?") return "?";
  const parts = [];
  if (event.ctrlKey || event.metaKey) parts.push("Ctrl");
  if (event.altKey) parts.push("Alt");
  if (event.shiftKey) parts.push("Shift");
  return [...parts, key].join("+");
}

function moveBy(editor, layers, dx, dy) {
  const moved = layers.map((id) => editor.layer(id)).filter((layer) => editor.kinds[layer.kind].placed && !layer.locked).map((layer) => layer.id);
  if (moved.length) editor.edit({ kind: "move-layers", scene: editor.sceneId, layers: moved, by: [dx, dy], time_s: editor.time });
}

function toKey(editor, direction) {
  const layers = editor.selected.size ? editor.selectedLayers : editor.layers;
  const frames = new Set();
  for (const layer of layers) {
    for (const time of editor.keyTimes(layer)) frames.add(editor.frameAt(time));
  }
  const sorted = [...frames].filter((frame) => (frame - editor.frame) * direction > 0).sort((a, b) => (a - b) * direction);
  if (sorted.length) editor.goTo(sorted[0]);
}

function setKeys(editor) {
  const targets = editor.selectedLayers.flatMap((layer) =>
    Object.keys(layer.properties).filter((id) => layer.properties[id].keys.length).map((property) => ({ layer: layer.id, property })),
  );
  if (targets.length) editor.edit({ kind: "set-keys", scene: editor.sceneId, targets, time_s: editor.time });
  else note("Nothing selected is animated yet: click the dot beside a field to set its first key.");
}

function remove(editor) {
  if (editor.keys.size) editor.edit({ kind: "remove-keys", scene: editor.sceneId, keys: [...editor.keys.values()] });
  else if (editor.selected.size) {
    const layers = editor.selectedLayers.filter((layer) => !layer.locked).map((layer) => layer.id);
    if (layers.length) editor.edit({ kind: "remove-layers", scene: editor.sceneId, layers });
    else note("These layers are locked.");
  }
}

function copy(editor, layers) {
  const chosen = editor.layers.filter((layer) => layers.includes(layer.id)).map((layer) => structuredClone(layer));
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
    project: editor.projectId, layers: chosen, scenes, groups: scene.groups,
    assets: named(project.assets, ""), inks: named(project.inks, "ink:"), easings: named(project.easings, "easing:"), moves,
  };
  try {
    localStorage.setItem("layer-clipboard", JSON.stringify(clipboard));
  } catch {
    localStorage.removeItem("layer-clipboard"); // too much to be kept: it can be pasted on this page
  }
  localStorage.removeItem("key-clipboard"); // what was copied last is what is pasted
}

function paste(editor, { inPlace = false } = {}) {
  const held = JSON.parse(localStorage.getItem("layer-clipboard") || "null") || clipboard;
  if (!held?.layers?.length) {
    note("There is nothing to paste.");
    return;
  }
  const ids = Object.fromEntries(held.layers.map((layer) => [layer.id, newId()]));
  const above = editor.selectedLayers.at(-1)?.id ?? null;
  const own = held.project === editor.projectId;
  const { assets, inks, easings, moves, scenes } = own ? {} : held;
  const edit = { kind: "paste-layers", scene: editor.sceneId, layers: held.layers, ids, above, groups: held.groups || [], assets, inks, easings, moves, scenes };
  for (const name of Object.keys(edit)) if (edit[name] === undefined) delete edit[name];
  if (!inPlace) edit.at_s = editor.time;
  editor.edit(edit).then((done) => done && editor.select(Object.values(ids)));
}

function duplicate(editor, layers, linked = false) {
  const copies = Object.fromEntries(layers.map((id) => [id, newId()]));
  editor.edit({ kind: "duplicate-layers", scene: editor.sceneId, copies, linked }).then((done) => done && editor.select(Object.values(copies)));
}

function groupName(editor) {
  const taken = new Set(editor.scene.groups.map((group) => group.name));
  let number = 1;
  while (taken.has(`Group ${number}`)) number += 1;
  return `Group ${number}`;
}

function ungroup(editor) {
  const groups = [...new Set(editor.selectedLayers.map((layer) => layer.group).filter(Boolean))];
  if (!groups.length) {
    note("Nothing selected is in a group.");
    return;
  }
  const edits = groups.map((group) => ({ kind: "ungroup", scene: editor.sceneId, group }));
  editor.edit(edits.length === 1 ? edits[0] : { kind: "together", title: "Ungroup", edits });
}

function flip(editor, layers, what) {
  const value = !layers.every((id) => editor.layer(id)[what]);
  editor.edit({ kind: "change-layers", scene: editor.sceneId, layers, [what]: value });
}
