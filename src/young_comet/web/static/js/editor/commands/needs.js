// What commands need before they can do anything: each tells why not, or "" where it holds.

import { hasSound } from "../actions/sounds.js";
import { offFrames } from "../actions/keys.js";
import { heldLayer } from "../actions/layer_clipboard.js";
import { outlined, playing, showing, unlocked } from "../actions/chosen.js";

const some = (found, why) => (found ? "" : why);

const SELECT = "Select a layer first.";

export const NEEDS = {
  layers: (editor) => some(editor.selected.size, SELECT),
  seen: (editor) => some(editor.selected.size || editor.seeing?.only.size, SELECT),
  unlocked: (editor) =>
    some(editor.selected.size, SELECT) || some(unlocked(editor).length, "These layers are locked."),
  placed: (editor) =>
    some(
      editor.selectedLayers.some((layer) => editor.kinds[layer.kind].placed),
      "Select a layer with a place first.",
    ),
  arrangements: (editor) =>
    some(editor.arranging?.on, "The scene has no arrangements: Alt+Shift+A makes the first."),
  riding: (editor) =>
    some(
      editor.selectedLayers.some((layer) => layer.rides),
      "Nothing selected rides on anything.",
    ),
  tied: (editor) =>
    some(
      editor.selectedLayers.some((layer) => layer.start_tie || layer.end_tie),
      "Nothing selected is tied.",
    ),
  "held-layers": () => some(heldLayer(), "Copy a layer first."),
  "other-scenes": (editor) =>
    some((editor.project?.scenes.length || 0) > 1, "There is no other scene in the project."),
  text: (editor) =>
    some(
      editor.selectedLayers[0]?.kind === "text" && !editor.selectedLayers[0].locked,
      "Select a text first.",
    ),
  keys: (editor) => some(editor.keys.size, "Choose some keys in the timeline first."),
  "off-frames": (editor) =>
    some(editor.keys.size, "Choose some keys in the timeline first.") ||
    some(
      editor.chosenKeys.some((entry) => offFrames(editor, entry)),
      "All of these keys lie on frames.",
    ),
  "keys-or-layers": (editor) =>
    some(editor.keys.size || editor.selected.size, "Select a layer or keys first."),
  animated: (editor) =>
    some(
      editor.selectedLayers.some((layer) => Object.values(layer.properties).some((each) => each.keys.length)),
      "Nothing selected is animated yet: click the dot beside a field to set its first key.",
    ),
  "at-playhead": (editor) =>
    some(
      unlocked(editor).some(
        (layer) => layer.start_s < editor.time - 1e-6 && layer.end_s > editor.time + 1e-6,
      ),
      "None of these layers is on at the playhead.",
    ),
  playing: (editor) => some(playing(editor).length, "Select a clip, a sound or a placed scene first."),
  "heard-clip": (editor) =>
    some(
      editor.selectedLayers.some((layer) => hasSound(editor, layer)),
      "Select a clip with sound.",
    ),
  arriving: (editor) =>
    some(
      editor.selectedLayers.some((layer) => layer.arrive_s > 0),
      "Select a layer that takes time to arrive: give it a move first.",
    ),
  showing: (editor) => some(showing(editor).length, "Select a clip or a placed scene first."),
  outline: (editor) => some(outlined(editor).length, "Select a shape or a text."),
  outlines: (editor) => some(outlined(editor).length > 1, "Select two or more shapes or texts."),
  points: (editor) =>
    some(editor.mode.property, "First edit the points of a path: Looks tab, or the Path field."),
  effects: (editor) => some(unlocked(editor)[0]?.effects.length, "This layer has no effects."),
  grouped: (editor) =>
    some(
      editor.selectedLayers.some((layer) => layer.group),
      "Nothing selected is in a group.",
    ),
  "placed-scene": (editor) =>
    some(editor.selectedLayers[0]?.kind === "scene", "Select a placed scene first."),
  undo: (editor) => some(editor.undoLabel, "There is nothing to undo."),
  redo: (editor) => some(editor.redoLabel, "There is nothing to redo."),
};
