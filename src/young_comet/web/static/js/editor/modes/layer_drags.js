// Layers moved, scaled, turned, their pivots and gradients dragged on the stage.
import { newId } from "../../formats.js";
import { HANDLES } from "../overlay.js";
import { along, minus, plus, round, turning } from "../points.js";
import { boxAround, distances, otherBoxes, snapBox } from "../snapping.js";
import { saidWay } from "../status_line.js";
import { Mode } from "./mode.js";

// What the modifier keys do while something is dragged.
const MOVING = [
  ["Shift", "along one axis"],
  ["Alt", "without snapping"],
];
const SCALING = [
  ["Shift", "keeps the ratio"],
  ["Alt", "from the pivot"],
];
const TURNING = [["Shift", "in steps of 15°"]];
const PIVOTING = [["Alt", "without snapping"]];

export class LayerDrags extends Mode {
  movable() {
    return this.editor.withoutRiders(
      this.editor.selectedLayers.filter((layer) => !layer.locked && this.editor.kinds[layer.kind].placed),
    );
  }

  moveDrag(from, copying) {
    const { editor } = this;
    const layers = this.movable();
    const corners = layers.flatMap((layer) => editor.view[layer.id]?.corners || []);
    const box = corners.length ? boxAround(corners) : null;
    const boxes = otherBoxes(editor, copying ? new Set() : new Set(layers.map((layer) => layer.id)));
    const copies = copying ? Object.fromEntries(layers.map((layer) => [layer.id, newId()])) : null;
    let said = "";
    const drag = { title: "Copy by dragging", keys: MOVING, says: () => said };
    drag.after = () => copies && editor.select(Object.values(copies));
    drag.edits = (at, event) => {
      let by = along(from, at, event.shiftKey);
      this.overlay.snaps = [];
      let onto = [];
      if (box) {
        const now = [box[0] + by[0], box[1] + by[1], box[2] + by[0], box[3] + by[1]];
        let snapped = { shift: [0, 0], marks: [] };
        if (editor.snapping && !event.altKey) {
          snapped = snapBox(editor, now, boxes, this.stage.scale, {
            thirds: this.overlay.grid,
            safe: this.overlay.safe,
          });
          if (event.shiftKey) {
            snapped.shift = snapped.shift.map((value, axis) => (by[axis] === 0 ? 0 : value));
          }
          by = plus(by, snapped.shift);
          onto = snapped.onto;
        }
        this.overlay.snaps = snapped.marks.length ? snapped.marks : distances(editor, now);
      }
      said = saidWay(by) + (onto.length ? ` · snapped to the ${onto.join(" and the ")}` : "");
      if (!layers.length) return [];
      const ids = layers.map((layer) => (copies ? copies[layer.id] : layer.id));
      const move = this.done("move-layers", ids, { by, whole: this.stage.scale <= 1.5 });
      return copies ? [{ kind: "duplicate-layers", scene: editor.sceneId, copies }, move] : [move];
    };
    return drag;
  }

  /** What a hand did to layers, as an edit; the server works out what becomes of their values. */
  done(kind, layers, more) {
    return { kind, scene: this.editor.sceneId, layers, time_s: this.editor.time, ...more };
  }

  /** A handle of the box about one layer or several. */
  scaleDrag(layers, handle) {
    const { editor } = this;
    const [, u, v] = HANDLES.find(([name]) => name === handle);
    if (layers.some((layer) => editor.value(layer, "scale").some((part) => Math.abs(part) < 1e-4))) {
      return { edits: () => [] };
    }
    const ids = layers.map((layer) => layer.id);
    const edits = (at, event) => [
      this.done("drag-box", ids, {
        handle: [u, v],
        to: at,
        even: editor.linked || event.shiftKey,
        from_middle: event.altKey,
      }),
    ];
    return { edits, keys: SCALING, says: () => "Scale" };
  }

  rotateDrag(layers, at) {
    const { editor } = this;
    const corners = layers.flatMap((layer) => editor.view[layer.id].corners);
    const [l, t, r, b] = boxAround(corners);
    const centre = layers.length === 1 ? editor.view[layers[0].id].pivot : [(l + r) / 2, (t + b) / 2];
    const turned = turning(centre, at);
    const ids = layers.map((layer) => layer.id);
    let said = "";
    const edits = (point, event) => {
      const steps_deg = event.shiftKey ? 15 : null;
      const by_deg = turned(point);
      said = `Turned by ${round(steps_deg ? Math.round(by_deg / steps_deg) * steps_deg : by_deg)}°`;
      return [this.done("turn-layers", ids, { by_deg, steps_deg })];
    };
    return { edits, keys: TURNING, says: () => said };
  }

  pivotDrag(layer) {
    const { editor } = this;
    const edits = (at, event) => {
      const near_px = editor.snapping && !event.altKey ? 8 / this.stage.scale : 0;
      return [
        { kind: "move-pivot", scene: editor.sceneId, layer: layer.id, to: at, near_px, time_s: editor.time },
      ];
    };
    return { edits, keys: PIVOTING, says: () => "The pivot: what it turns and grows about" };
  }

  gradientDrag(element, from) {
    const { editor } = this;
    const { layer } = this.overlay.gradientLine();
    const held = { scene: editor.sceneId, layer: layer.id, time_s: editor.time };
    const end = element.dataset.gradient;
    if (end !== "stop") {
      return { edits: (at) => [{ kind: "move-gradient", ...held, end, by: minus(at, from) }] };
    }
    const index = Number(element.dataset.index);
    const click = () => editor.tell("stop", index);
    return { edits: (at) => [{ kind: "move-stop", ...held, index, to: at }], click };
  }
}
