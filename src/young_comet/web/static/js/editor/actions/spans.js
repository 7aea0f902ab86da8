// Layers in time: split, extended, clips frozen and fitted.
import { newId } from "../../formats.js";
import { note } from "../../notes.js";
import { playing, showing } from "./chosen.js";

const idsOf = (layers) => layers.map((layer) => layer.id);

export async function split(editor, layers) {
  const on = layers.filter((layer) => layer.start_s < editor.time - 1e-6 && layer.end_s > editor.time + 1e-6);
  const ids = Object.fromEntries(on.map((layer) => [layer.id, newId()]));
  const edit = { kind: "split-layers", scene: editor.sceneId, time_s: editor.time, ids };
  if (await editor.edit(edit)) editor.select(Object.values(ids));
}

export function extend(editor, layers) {
  return editor.edit({ kind: "extend-layers", scene: editor.sceneId, layers: idsOf(layers) });
}

/** Clips and placed scenes frozen at a moment, or running again (null). */
export function freeze(editor, time_s) {
  const clips = showing(editor);
  return editor.edit({ kind: "freeze-layers", scene: editor.sceneId, layers: idsOf(clips), time_s });
}

export function fitSpeed(editor) {
  const clips = playing(editor);
  return editor.edit({ kind: "fit-speed", scene: editor.sceneId, layers: idsOf(clips) });
}

/** Layers begin or end ("start_s", "end_s") at a moment; what is shown stays where it is in time. */
export function trimTo(editor, layers, side, time) {
  const spans = layers
    .map((layer) => ({ layer: layer.id, start_s: layer.start_s, end_s: layer.end_s, [side]: time }))
    .filter((span) => span.end_s - span.start_s > 1e-6);
  if (spans.length < layers.length) note("A layer that would have no length stays as it is.");
  if (!spans.length) return null;
  return editor.edit({
    kind: "set-spans",
    scene: editor.sceneId,
    mode: "trim",
    spans,
    ripple: editor.ripple,
  });
}

/** Layers so many frames later, with their keys. */
export function shiftLayers(editor, layers, frames) {
  if (!layers.length) return null;
  const by = editor.timeOf(frames);
  const spans = layers.map(({ id, start_s, end_s }) => ({
    layer: id,
    start_s: start_s + by,
    end_s: end_s + by,
  }));
  return editor.edit({
    kind: "set-spans",
    scene: editor.sceneId,
    mode: "slide",
    spans,
    ripple: editor.ripple,
  });
}
