// Lines drawn by hand: the way of a layer, or a mask.
import { newId } from "../../formats.js";
import { note } from "../../notes.js";
import { round } from "../points.js";
import { drawMask, maskTarget } from "./drawn.js";
import { MakingMode } from "./mode.js";

/** Options: `mask` where the line becomes a mask. */
export class PencilMode extends MakingMode {
  get hint() {
    if (this.drawsMask) return "Draw the mask on the stage. Escape gives up.";
    return "Draw the path of the selected layer on the stage. It starts at the playhead.";
  }

  press(at) {
    return this.drawsMask ? this.mask(at) : this.way(at);
  }

  /** A drag that gathers points at least so many px of the screen apart. */
  line(at, apart, done) {
    const { editor, overlay, stage } = this;
    const points = [at];
    const moved = (_event, to) => {
      const last = points.at(-1);
      if (Math.hypot(to[0] - last[0], to[1] - last[1]) * stage.scale > apart) points.push(to);
      overlay.drawn = points;
      overlay.draw();
    };
    const end = async () => {
      overlay.drawn = null;
      editor.enter("select");
      await done(points);
    };
    return { moved, end, click: end };
  }

  /** The drawn line becomes the way of the one selected layer. */
  way(at) {
    const { editor } = this;
    const [layer] = editor.selectedLayers;
    if (editor.selected.size !== 1 || !editor.kinds[layer.kind].placed) {
      note("Choose one layer first: what you draw becomes its path.");
      editor.enter("select");
      return null;
    }
    const start_s = Math.max(layer.start_s, editor.time);
    const duration_s = Math.max(0.1, editor.wayLength_s ?? Math.min(2, layer.end_s - start_s));
    return this.line(at, 1.5, (points) => {
      const span = { start_s, duration_s };
      const edit = {
        kind: "take-path",
        scene: editor.sceneId,
        layer: layer.id,
        points: points.map((p) => p.map(round)),
        ...span,
      };
      return points.length < 4 ? null : editor.edit(edit);
    });
  }

  /** The drawn line, closed and smoothed by the server, becomes a mask. */
  mask(at) {
    const { editor, stage } = this;
    const layer = maskTarget(editor);
    if (!layer) return null;
    const tolerance = 4 / stage.scale;
    return this.line(at, 2, async (points) => {
      if (points.length < 6) return;
      const id = newId();
      const drawn = { form: "hand", points: points.map((p) => p.map(round)), tolerance, closed: true };
      if (await editor.edit(drawMask(editor, layer, id, drawn))) editor.tell("mask-added", id);
    });
  }
}
