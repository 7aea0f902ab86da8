// Commands on keys.
import { chooseAllKeys, nudgeKeys, setKeys, snapKeys, splitPosition } from "../actions/keys.js";

const onKeys =
  (kind, more = {}) =>
  ({ editor }) =>
    editor.edit({ kind, scene: editor.sceneId, keys: editor.chosenKeys, ...more });
const nudge =
  (frames) =>
  ({ editor }) =>
    nudgeKeys(editor, frames);
const needs = ["keys"];

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
  { id: "keys-back", label: "Move the chosen keys one frame back", keys: "Alt+Left", needs, run: nudge(-1) },
  { id: "keys-on", label: "Move the chosen keys one frame on", keys: "Alt+Right", needs, run: nudge(1) },
  {
    id: "keys-back-ten",
    label: "Move the chosen keys ten frames back",
    keys: "Alt+Shift+Left",
    needs,
    run: nudge(-10),
  },
  {
    id: "keys-on-ten",
    label: "Move the chosen keys ten frames on",
    keys: "Alt+Shift+Right",
    needs,
    run: nudge(10),
  },
  { id: "keys-reverse", label: "Reverse the chosen keys in time", needs, run: onKeys("reverse-keys") },
  { id: "keys-mirror", label: "Mirror the values of the chosen keys", needs, run: onKeys("mirror-keys") },
  {
    id: "keys-spread",
    label: "Spread the chosen keys evenly in time",
    needs,
    run: onKeys("distribute-keys"),
  },
  { id: "keys-smooth", label: "Smooth the chosen keys", needs, run: onKeys("join-keys", { join: "smooth" }) },
  {
    id: "keys-hold",
    label: "Hold the values of the chosen keys",
    needs,
    run: onKeys("ease-keys", { easing: "hold" }),
  },
  {
    id: "keys-linear",
    label: "Even speed after the chosen keys",
    needs,
    run: onKeys("ease-keys", { easing: "linear" }),
  },
  {
    id: "keys-snap",
    label: "Put the chosen keys on frames",
    needs: ["off-frames"],
    run: ({ editor }) => snapKeys(editor),
  },
  {
    id: "keys-table",
    label: "Table of the chosen keys...",
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
