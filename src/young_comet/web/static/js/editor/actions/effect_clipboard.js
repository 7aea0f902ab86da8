// Effects on the clipboard.
import { note } from "../../notes.js";
import { unlocked } from "./chosen.js";
import { copyMembers } from "../member_edits.js";

/** The effects of the first selected layer. */
export function copyEffects(editor) {
  const [layer] = unlocked(editor);
  const effects = layer.effects.map((effect) => effect.id);
  localStorage.setItem(
    "effect-clipboard",
    JSON.stringify({ scene: editor.sceneId, layer: layer.id, effects }),
  );
  note(`${effects.length === 1 ? "An effect is" : `${effects.length} effects are`} on the clipboard.`, {
    seconds: 2,
  });
}

export function pasteEffects(editor) {
  const layers = unlocked(editor).map((layer) => layer.id);
  const held = JSON.parse(localStorage.getItem("effect-clipboard") || "null");
  const source = held && held.scene === editor.sceneId && editor.layer(held.layer);
  if (!source) note("There are no effects of this scene to paste.");
  else editor.edit(copyMembers(editor, "effect", held.layer, held.effects, layers));
}
