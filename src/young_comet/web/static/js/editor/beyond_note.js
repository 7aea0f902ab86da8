// Layers that end after their scene are told, with the offer to lengthen it.
import { timecode } from "../formats.js";
import { note } from "../notes.js";

/** The layers whose times an edit may change. */
export function timedBy(edit) {
  if (edit.kind === "set-spans") return edit.spans.map((span) => span.layer);
  return /^(set-tie|tie-)/.test(edit.kind) ? (edit.layers ?? [edit.layer]) : [];
}

/** Says so where layers end after their scene, and offers to lengthen it. */
export function noteBeyond(editor, ids) {
  const { scene } = editor;
  const late = scene.layers.filter((layer) => ids.has(layer.id) && layer.end_s > scene.length_s + 1e-6);
  if (!late.length) return;
  const length_s = Math.max(...late.map((layer) => layer.end_s));
  const who = late.length === 1 ? `${late[0].name} ends` : `${late.length} layers end`;
  const frame = { width: scene.width, height: scene.height, rate: scene.rate, length_s };
  note(`${who} after the scene, at ${timecode(editor.frameAt(length_s), editor.rate)}.`, {
    action: "Lengthen the scene",
    seconds: 9,
    run: () => editor.edit({ kind: "change-frame", scene: scene.id, ...frame }),
  });
}
