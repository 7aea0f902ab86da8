// Visits that wait for one click: a colour, a layer, a moment.
import { api } from "../../api.js";
import { complain, note } from "../../notes.js";
import { Mode } from "./mode.js";

class Asking extends Mode {
  static visits = true;

  get cursor() {
    return "crosshair";
  }

  get calls() {
    return true;
  }

  press(at) {
    return { click: () => this.answer(at), edits: () => [] };
  }

  escape() {
    this.editor.modes.leave(this, false);
    return true;
  }

  get hint() {
    return this.options.text;
  }
}

/** The colour under the next click. Options: `then` hears it; `before` names a layer and an effect:
 *  then it is taken from what the effect is given, which the stage shows meanwhile. */
export class PickColourMode extends Asking {
  enter() {
    const { before } = this.options;
    if (before) this.show(`${before.layer}|${before.effect}`);
  }

  leave() {
    if (this.options.before) this.show("");
  }

  show(before) {
    this.editor.before = before;
    this.editor.requestStage();
  }

  get hint() {
    const what = this.options.before ? "The stage shows the layer before the effect. " : "";
    return `${what}Click the colour on the stage. Escape gives up.`;
  }

  async answer(at) {
    const { editor } = this;
    const { then, before } = this.options;
    editor.modes.leave(this);
    try {
      const asked = api.colour(editor.projectId, editor.sceneId, editor.time, at[0], at[1], before ?? null);
      const { colour } = await editor.working(asked);
      if (before && colour.length > 7 && colour.endsWith("00")) note("There is nothing of the layer there.");
      else then(before ? colour.slice(0, 7) : colour);
    } catch (error) {
      complain(error);
    }
  }
}

/** The next layer that is clicked, on the stage or in the stack. Options: `text`, `then`. */
export class AskLayerMode extends Asking {
  takes(layerId) {
    this.editor.modes.leave(this);
    this.options.then(layerId);
    return true;
  }

  /** The highest one under the pointer with a place. */
  async answer(at) {
    const { editor, stage } = this;
    try {
      const { layers } = await api.pick(
        editor.projectId,
        editor.sceneId,
        editor.time,
        at[0],
        at[1],
        5 / stage.scale,
      );
      const fits = (id) => editor.kinds[editor.layer(id)?.kind]?.placed && !editor.selected.has(id);
      const other = layers.find(fits);
      if (other) this.takes(other);
      else note("There is no other layer here.");
    } catch (error) {
      complain(error);
    }
  }
}

/** The next moment that is clicked in the timeline. Options: `targets` that come to hang on it. */
export class TieMode extends Asking {
  get hint() {
    return "Click a moment in the timeline: a start, an end, an arrival, a mark. Escape gives up.";
  }

  get targets() {
    return this.options.targets;
  }

  get cursor() {
    return "default";
  }

  /** A press on the stage is no moment: it does what it does without this. */
  press(at, event) {
    this.editor.modes.leave(this, false);
    return this.editor.modes.current.press(at, event);
  }

  /** A moment is clicked: { to, id, moment }. */
  chosen(moment) {
    const { editor } = this;
    editor.modes.leave(this);
    const offset_s = editor.keepsDistance ? null : 0;
    editor.edit({ kind: "tie-times", scene: editor.sceneId, targets: this.targets, ...moment, offset_s });
  }
}
