// Shapes and their paths: points edited, joined, made editable, cut; masks with a half plane.
import { newId } from "../../formats.js";
import { note } from "../../notes.js";
import { outlined, unlocked } from "./chosen.js";
import { addMembers } from "../member_edits.js";

const idsOf = (layers) => layers.map((layer) => layer.id);
const now = (editor, kind, more) => ({ kind, scene: editor.sceneId, time_s: editor.time, ...more });

export function joinShapes(editor, how) {
  return editor.edit(now(editor, "join-shapes", { layers: idsOf(outlined(editor)), how }));
}

export function outline(editor) {
  return editor.edit(now(editor, "outline-layers", { layers: idsOf(outlined(editor)) }));
}

export function slice(editor) {
  return editor.edit(now(editor, "slice-layer", { layer: unlocked(editor)[0].id }));
}

/** Points of the layer's own path, else of its first mask; a second time ends it. */
export function editPoints(editor) {
  const { mode } = editor;
  if (mode.property) {
    editor.modes.escape();
    return;
  }
  const [layer] = editor.selectedLayers;
  const shapes = (editor.shapes[layer.id] || []).filter((shape) => shape.contours.length);
  const found = shapes.find((shape) => !mode.mask || shape.mask === mode.mask) || shapes[0];
  if (found) editor.enter("points", { property: found.property });
  else {
    const help = '"Make editable paths" turns shapes and texts into paths.';
    note(`This layer has no path of its own and no mask with points. ${help}`);
  }
}

export async function addHalfPlane(editor) {
  const id = newId();
  const member = { id, name: "Edge", form: "half-plane" };
  if (await editor.edit(addMembers(editor, "mask", [unlocked(editor)[0].id], [{ member }]))) {
    editor.tell("show-tab", "looks");
    editor.tell("mask-added", id);
  }
}
