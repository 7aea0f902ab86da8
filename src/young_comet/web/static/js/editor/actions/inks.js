// Inks made of colours.
import { newId } from "../../formats.js";

export function addInk(editor, colour) {
  const ink = { id: newId(), name: `Ink ${editor.project.inks.length + 1}`, colour: colour.slice(0, 7) };
  return editor.edit({ kind: "add-inks", inks: [ink] });
}

/** The next colour that is clicked on the stage becomes an ink. */
export function inkFromStage(editor) {
  editor.enter("pick-colour", { then: (colour) => addInk(editor, colour) });
}
