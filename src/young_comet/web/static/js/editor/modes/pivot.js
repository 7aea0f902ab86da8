// The pivot of a layer moved: a mode of its own, so that it is never in the way of the layer's body.
import { SelectMode } from "./select.js";

export class PivotMode extends SelectMode {
  get hint() {
    return "Drag the pivot, or click where it is to be. Alt: without snapping. Escape ends.";
  }

  get layer() {
    const [layer, ...more] = this.selectedPlaced();
    return layer && !more.length && !layer.locked ? layer : null;
  }

  get movesPivot() {
    return true;
  }

  press(at, event) {
    const { layer } = this;
    if (!layer) return null;
    const drag = this.pivotDrag(layer);
    const click = () => this.editor.edit(drag.edits(at, event)[0]);
    return { ...drag, click };
  }

  holds() {
    return Boolean(this.layer);
  }

  doubleClick() {
    this.editor.enter("select");
    return true;
  }

  finish() {
    this.editor.enter("select");
    return true;
  }

  escape() {
    return this.finish();
  }
}
