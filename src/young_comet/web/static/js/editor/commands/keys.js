// Commands on keys.
import { shiftLayers } from "../actions/spans.js";
import { unlocked } from "../actions/chosen.js";
import { chooseAllKeys, nudgeKeys, setKeys, snapKeys, splitPosition } from "../actions/keys.js";

const onKeys =
  (kind, more = {}) =>
  ({ editor }) =>
    editor.edit({ kind, scene: editor.sceneId, keys: editor.chosenKeys, ...more });
const nudge =
  (frames) =>
  ({ editor }) =>
    editor.keys.size ? nudgeKeys(editor, frames) : shiftLayers(editor, unlocked(editor), frames);
const needs = ["keys"];
const either = ["keys-or-layers"];

export const KEYS = [
  {
    id: "set-keys",
    label: "Key the animated properties here",
    keys: "Enter",
    needs: ["layers", "animated"],
    run: ({ editor }) => setKeys(editor),
  },
  {
    id: "keys-all",
    label: "Choose all keys of the selected layers",
    keys: "Alt+A",
    needs: ["unlocked"],
    run: ({ editor }) => chooseAllKeys(editor),
  },
  {
    id: "keys-back",
    label: "Chosen keys, or layers, one frame back",
    keys: "Alt+Left",
    needs: either,
    run: nudge(-1),
  },
  {
    id: "keys-on",
    label: "Chosen keys, or layers, one frame on",
    keys: "Alt+Right",
    needs: either,
    run: nudge(1),
  },
  {
    id: "keys-back-ten",
    label: "Chosen keys, or layers, ten frames back",
    keys: "Alt+Shift+Left",
    needs: either,
    run: nudge(-10),
  },
  {
    id: "keys-on-ten",
    label: "Chosen keys, or layers, ten frames on",
    keys: "Alt+Shift+Right",
    needs: either,
    run: nudge(10),
  },
  {
    id: "keys-reverse",
    label: "Reverse the chosen keys in time",
    menu: "Reverse in time",
    needs,
    run: onKeys("reverse-keys"),
  },
  {
    id: "keys-mirror",
    label: "Mirror the values of the chosen keys",
    menu: "Mirror the values",
    needs,
    run: onKeys("mirror-keys"),
  },
  {
    id: "keys-spread",
    label: "Spread the chosen keys evenly in time",
    menu: "Spread evenly",
    needs,
    run: onKeys("distribute-keys"),
  },
  {
    id: "keys-smooth",
    label: "Smooth the chosen keys",
    menu: "Smooth",
    needs,
    run: onKeys("join-keys", { join: "smooth" }),
  },
  {
    id: "keys-hold",
    label: "Hold the values of the chosen keys",
    menu: "Hold the value",
    needs,
    run: onKeys("ease-keys", { easing: "hold" }),
  },
  {
    id: "keys-linear",
    label: "Even speed after the chosen keys",
    menu: "Even speed",
    needs,
    run: onKeys("ease-keys", { easing: "linear" }),
  },
  {
    id: "keys-snap",
    label: "Put the chosen keys on frames",
    menu: "Put on frames",
    needs: ["off-frames"],
    run: ({ editor }) => snapKeys(editor),
  },
  {
    id: "keys-table",
    label: "Table of the chosen keys...",
    menu: "Table...",
    needs,
    run: () => window.dispatchEvent(new Event("open-key-table")),
  },
  {
    id: "split-xy",
    label: "Split position into x and y",
    needs: ["unlocked"],
    run: ({ editor }) => splitPosition(editor, "split-property"),
  },
  {
    id: "join-xy",
    label: "Join x and y of position",
    needs: ["unlocked"],
    run: ({ editor }) => splitPosition(editor, "join-property"),
  },
];
