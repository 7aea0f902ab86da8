// Commands on looks: effects, masks, points of paths, joining and cutting shapes.
import { copyEffects, pasteEffects } from "../actions/effect_clipboard.js";
import { addHalfPlane, editPoints, joinShapes, outline, slice } from "../actions/shapes.js";
import { note } from "../../notes.js";

const points =
  (deed) =>
  ({ editor }) =>
    editor.mode.deed?.(deed);
const join =
  (how) =>
  ({ editor }) =>
    joinShapes(editor, how);
const needs = ["points"];

export const LOOKS = [
  {
    id: "add-effect",
    label: "Add an effect...",
    keys: "Ctrl+E",
    needs: ["layers"],
    run: () => window.dispatchEvent(new Event("open-effects")),
  },
  {
    id: "bare",
    label: "Hold to see without effects",
    keys: "0",
    held: true,
    run: () => note("Hold the 0 key."),
  },
  {
    id: "copy-looks",
    label: "Copy effects of the layer",
    needs: ["unlocked", "effects"],
    run: ({ editor }) => copyEffects(editor),
  },
  {
    id: "paste-looks",
    label: "Paste effects onto the selected layers",
    needs: ["unlocked"],
    run: ({ editor }) => pasteEffects(editor),
  },
  {
    id: "half-plane",
    label: "Mask with a half plane",
    needs: ["unlocked"],
    run: ({ editor }) => addHalfPlane(editor),
  },
  {
    id: "write",
    label: "Write in the text",
    needs: ["text"],
    run: ({ editor }) => editor.enter("write", { layer: editor.selectedLayers[0].id }),
  },
  {
    id: "edit-points",
    label: "Edit the points of the layer's path",
    menu: "Edit its points",
    keys: "Ctrl+P",
    needs: ["layers"],
    run: ({ editor }) => editPoints(editor),
  },
  { id: "points-smooth", label: "Points: smooth", needs, run: points("smooth") },
  { id: "points-corner", label: "Points: corners", needs, run: points("corner") },
  { id: "points-first", label: "Points: this one is the first", needs, run: points("first") },
  { id: "points-reverse", label: "Points: turn the path round", needs, run: points("reverse") },
  { id: "points-close", label: "Points: close the path", needs, run: points("close") },
  { id: "points-open", label: "Points: open the path", needs, run: points("open") },
  { id: "unite", label: "Shapes: unite", needs: ["outlines"], run: join("union") },
  {
    id: "subtract",
    label: "Shapes: take the upper from the lowest",
    needs: ["outlines"],
    run: join("minus"),
  },
  { id: "intersect", label: "Shapes: intersect", needs: ["outlines"], run: join("intersect") },
  { id: "exclude", label: "Shapes: exclude", needs: ["outlines"], run: join("exclude") },
  {
    id: "outline",
    label: "Make editable paths of shapes and texts",
    menu: "Make editable paths",
    needs: ["outline"],
    run: ({ editor }) => outline(editor),
  },
  {
    id: "swap-lines",
    label: "Show the lines of a text one after another",
    menu: "Lines one after another",
    needs: ["text"],
    run: ({ editor }) =>
      editor.edit({ kind: "swap-lines", scene: editor.sceneId, layer: editor.selectedLayers[0].id }),
  },
  {
    id: "slice-layers",
    label: "Cut a sliced layer into separate layers",
    needs: ["unlocked"],
    run: ({ editor }) => slice(editor),
  },
];
