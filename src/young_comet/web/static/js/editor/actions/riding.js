// Riding: layers carried along by another one.
import { newId } from "../../formats.js";

/** The selected layers ride on a layer, or on nothing (null). */
export function rideOn(editor, on, everyKey) {
  const placed = editor.selectedLayers.filter((layer) => editor.kinds[layer.kind].placed && layer.id !== on);
  const layers = placed.map((layer) => layer.id);
  if (!layers.length) return null;
  return editor.edit({
    kind: "ride",
    scene: editor.sceneId,
    layers,
    on,
    time_s: editor.time,
    every_key: Boolean(everyKey),
  });
}

export function chooseRide(editor) {
  const text = "Click what to ride on: on the stage or in the stack. Escape gives up.";
  editor.enter("ask-layer", { text, then: (id) => rideOn(editor, id, false) });
}

export function rideOff(editor) {
  return rideOn(editor, null, false);
}

export async function carryTogether(editor) {
  const layers = editor.selectedLayers
    .filter((layer) => editor.kinds[layer.kind].placed)
    .map((layer) => layer.id);
  const id = newId();
  const done = await editor.edit({
    kind: "carry-together",
    scene: editor.sceneId,
    layers,
    id,
    name: editor.freeName("Carrier"),
    time_s: editor.time,
  });
  if (done) editor.select([id]);
}
