// Commands on layers: the clipboard, the stack, groups, riding, scenes, ties, nudging, adding.
import { addBackdrop, addShape, flip, group, nudge, order, remove, ungroup } from "../actions/layers.js";
import { copyKeys, duplicateKeys, heldKeys, pasteKeys } from "../actions/key_clipboard.js";
import { copyLayers, duplicateLayers, pasteLayers } from "../actions/layer_clipboard.js";
import { openInner, placeInTurn, unwrap, wrap } from "../actions/nesting.js";
import { carryTogether, chooseRide, rideOff } from "../actions/riding.js";
import { whooshFor } from "../actions/sounds.js";
import { cutThread, cutTies, startTying } from "../actions/tying.js";

const chosen = (editor) => [...editor.selected];
const layers = ["layers"];
const either = ["keys-or-layers"];
const move = (id, label, keys, by) => ({
  id,
  label,
  keys,
  needs: ["placed"],
  run: ({ editor }) => nudge(editor, by),
});
const stack = (id, label, keys, to) => ({
  id,
  label,
  keys,
  needs: layers,
  run: ({ editor }) => order(editor, to),
});

export const LAYERS = [
  {
    id: "all",
    label: "Select all layers",
    keys: "Ctrl+A",
    run: ({ editor }) => editor.modes.current.chooseAll() || editor.selectAll(),
  },
  {
    id: "rename",
    label: "Rename",
    keys: "F2",
    needs: layers,
    run: ({ editor, timeline }) => {
      const [id] = editor.selected;
      if (timeline.pointing.renameLayer(id)) return;
      editor.tell("show-tab", "selection");
      requestAnimationFrame(() => document.querySelector(".who-row input")?.select());
    },
  },
  {
    id: "pivot",
    label: "Move the pivot",
    keys: "Alt+P",
    needs: ["placed", "unlocked"],
    run: ({ editor }) => editor.enter(editor.mode.movesPivot ? "select" : "pivot"),
  },
  { id: "none", label: "Select nothing", keys: "Escape", run: ({ editor }) => editor.select([]) },
  {
    id: "copy",
    label: "Copy keys or layers",
    menu: "Copy",
    keys: "Ctrl+C",
    needs: either,
    run: ({ editor }) => (editor.keys.size ? copyKeys(editor) : copyLayers(editor, chosen(editor))),
  },
  {
    id: "cut",
    label: "Cut layers",
    keys: "Ctrl+X",
    needs: ["unlocked"],
    run: ({ editor }) => {
      copyLayers(editor, chosen(editor));
      remove(editor);
    },
  },
  {
    id: "paste",
    label: "Paste keys or layers",
    menu: "Paste",
    keys: "Ctrl+V",
    run: ({ editor }) => (heldKeys() ? pasteKeys(editor) : pasteLayers(editor)),
  },
  {
    id: "paste-in-place",
    label: "Paste layers at the times they had",
    keys: "Ctrl+Shift+V",
    run: ({ editor }) => pasteLayers(editor, { inPlace: true }),
  },
  {
    id: "paste-what",
    label: "Paste what of the copied layer...",
    menu: "Paste what...",
    keys: "Alt+V",
    needs: ["unlocked", "held-layers"],
    run: () => window.dispatchEvent(new Event("open-paste-what")),
  },
  {
    id: "duplicate",
    label: "Duplicate keys or layers",
    menu: "Duplicate",
    keys: "Ctrl+D",
    needs: either,
    run: ({ editor }) => (editor.keys.size ? duplicateKeys(editor) : duplicateLayers(editor, chosen(editor))),
  },
  {
    id: "linked-copy",
    label: "Linked copy: shares content and keys until changed",
    keys: "Alt+D",
    needs: layers,
    run: ({ editor }) => duplicateLayers(editor, chosen(editor), true),
  },
  {
    id: "delete",
    label: "Delete points, keys or layers",
    menu: "Delete",
    keys: "Delete",
    also: ["Backspace"],
    run: ({ editor }) => cutThread(editor) || editor.modes.current.remove() || remove(editor),
  },
  {
    id: "group",
    label: "Group layers",
    menu: "Group",
    keys: "Ctrl+G",
    needs: layers,
    run: ({ editor }) => group(editor),
  },
  {
    id: "ungroup",
    label: "Ungroup",
    keys: "Ctrl+Shift+G",
    needs: ["grouped"],
    run: ({ editor }) => ungroup(editor),
  },
  {
    id: "hide",
    label: "Hide or show layers",
    menu: "Hide or show",
    needs: layers,
    run: ({ editor }) => flip(editor, "hidden"),
  },
  {
    id: "lock",
    label: "Lock or unlock layers",
    menu: "Lock or unlock",
    needs: layers,
    run: ({ editor }) => flip(editor, "locked"),
  },
  stack("front", "Bring to the front", "", "front"),
  stack("forward", "One step up in the stack", "Ctrl+]", "up"),
  stack("backward", "One step down in the stack", "Ctrl+[", "down"),
  stack("rear", "Send to the back", "", "back"),
];

export const LINKS = [
  {
    id: "ride",
    label: "Ride on... (then click what to ride on)",
    menu: "Ride on...",
    keys: "Alt+R",
    needs: ["placed"],
    run: ({ editor }) => chooseRide(editor),
  },
  { id: "ride-off", label: "Ride on nothing", needs: ["riding"], run: ({ editor }) => rideOff(editor) },
  {
    id: "carry",
    label: "Carry together",
    keys: "Alt+G",
    needs: ["placed"],
    run: ({ editor }) => carryTogether(editor),
  },
  {
    id: "tie-start",
    label: "Tie start to... (then click a moment)",
    menu: "Tie start to...",
    keys: "Alt+T",
    needs: ["unlocked"],
    run: ({ editor }) => startTying(editor, "start"),
  },
  {
    id: "tie-end",
    label: "Tie end to... (then click a moment)",
    menu: "Tie end to...",
    keys: "Alt+Shift+T",
    needs: ["unlocked"],
    run: ({ editor }) => startTying(editor, "end"),
  },
  {
    id: "cut-ties",
    label: "Cut the ties of the selected layers",
    menu: "Cut its ties",
    needs: ["tied"],
    run: ({ editor }) => cutTies(editor),
  },
  {
    id: "whoosh",
    label: "Add a whoosh that fits how the layer arrives",
    needs: ["arriving"],
    run: ({ editor }) => whooshFor(editor),
  },
  {
    id: "wrap",
    label: "Wrap into a scene",
    keys: "Alt+W",
    needs: layers,
    run: ({ editor, timeline }) => wrap(editor, timeline),
  },
  {
    id: "unwrap",
    label: "Unwrap a placed scene",
    needs: ["placed-scene"],
    run: ({ editor }) => unwrap(editor),
  },
  {
    id: "open-scene",
    label: "Open the placed scene",
    keys: "Alt+Enter",
    needs: ["placed-scene"],
    run: ({ editor }) => openInner(editor, editor.selectedLayers[0]),
  },
];

export const NUDGES = [
  move("left", "Nudge left", "Ctrl+Left", [-1, 0]),
  move("right", "Nudge right", "Ctrl+Right", [1, 0]),
  move("up", "Nudge up", "Ctrl+Up", [0, -1]),
  move("down", "Nudge down", "Ctrl+Down", [0, 1]),
  move("left-ten", "Nudge left by ten", "Ctrl+Shift+Left", [-10, 0]),
  move("right-ten", "Nudge right by ten", "Ctrl+Shift+Right", [10, 0]),
  move("up-ten", "Nudge up by ten", "Ctrl+Shift+Up", [0, -10]),
  move("down-ten", "Nudge down by ten", "Ctrl+Shift+Down", [0, 10]),
];

const add = (id, label, name, run) => ({ id: `add-${id}`, label, name, run });
const shape = (id, label, more) =>
  add(id, `Add a shape: ${label.toLowerCase()}`, label, ({ editor }) => addShape(editor, id, label, more));
const bare =
  (kind, label, title) =>
  ({ editor }) =>
    editor.addLayer(editor.newLayer(kind, title ?? label, {}));
const LINE = { "fill.on": false, "stroke.width": 8, "stroke.cap": "round" };

/** `name` is what the Add menu calls it. */
export const ADD = [
  add("backdrop", "Add a backdrop", "Backdrop", ({ editor }) => addBackdrop(editor)),
  shape("rectangle", "Rectangle"),
  shape("ellipse", "Ellipse", { "shape.size": [300, 300] }),
  shape("polygon", "Polygon"),
  shape("star", "Star"),
  shape("line", "Line", LINE),
  add("path", "Add a path from SVG data", "Path from SVG data", ({ editor }) =>
    addShape(editor, "path", "Path"),
  ),
  add("text", "Add a text", "Text", ({ editor }) => editor.addLayer(editor.addText(null))),
  add("phrases", "Add phrases: lines, or a subtitle file", "Phrases: lines, or a subtitle file", () =>
    window.dispatchEvent(new CustomEvent("open-phrases")),
  ),
  add("carrier", "Add a carrier", "Carrier: draws nothing, others ride on it", bare("carrier", "Carrier")),
  add(
    "treatment",
    "Add a treatment: effects on all that lies below",
    "Treatment of all below",
    bare("treatment", "Treatment"),
  ),
  {
    id: "place-scenes",
    label: "Place the other scenes one after another",
    name: "Other scenes, one after another",
    needs: ["other-scenes"],
    run: ({ editor }) => placeInTurn(editor),
  },
  add("picture", "Add a picture, clip or sound from a file", "Picture, clip or sound...", ({ chooseFiles }) =>
    chooseFiles({ place: true }),
  ),
];
