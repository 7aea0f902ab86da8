// Texts set on the stage.
import { round } from "../points.js";
import { MakingMode } from "./mode.js";

/** A click sets a text, which is then written. */
export class TypeMode extends MakingMode {
  get hint() {
    return "Click where the text is to stand.";
  }

  press(at) {
    const place = () => this.placeText(at);
    return { edits: () => [], end: place, click: place };
  }

  async placeText(at) {
    const { editor } = this;
    const layer = editor.addText(at.map(round));
    editor.enter("select");
    if (await editor.addLayer(layer)) editor.enter("write", { layer: layer.id, fits: true });
  }
}
