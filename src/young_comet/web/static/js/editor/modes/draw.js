// Forms drawn between two places: new layers, or masks of the selected one.
import { newId } from "../../formats.js";
import { round } from "../points.js";
import { drawMask, drawShape, maskTarget } from "./drawn.js";
import { MakingMode } from "./mode.js";

/** The mode's name is the form's kind. Options: `mask` where it becomes a mask. */
export class DrawMode extends MakingMode {
  get hint() {
    if (this.drawsMask) return "Drag the mask on the stage. Shift makes it even, Escape gives up.";
    if (this.id === "line") {
      return "Drag the line. Shift keeps it on steps of 15 degrees, Alt draws it from its middle.";
    }
    return "Drag the shape, or click for one. Shift makes it even, Alt draws it from its middle.";
  }

  press(at) {
    const { editor } = this;
    const layer = this.drawsMask ? maskTarget(editor) : null;
    if (this.drawsMask && !layer) return null;
    const id = newId();
    const start = at.map(round);
    const edit = (drawn) => (layer ? drawMask(editor, layer, id, drawn) : drawShape(editor, id, drawn));
    const edits = (to, { shiftKey, altKey }) => [
      edit({ form: this.id, start, end: to.map(round), even: shiftKey, from_middle: altKey }),
    ];
    const after = () => {
      editor.enter("select");
      if (layer) editor.tell("mask-added", id);
      else editor.select([id]);
    };
    const click = async () => {
      if (layer) editor.enter("select");
      else if (await editor.edit(edit({ form: this.id, start }))) after();
    };
    return { edits, after, click };
  }
}
