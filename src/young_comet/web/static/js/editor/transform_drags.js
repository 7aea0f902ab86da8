// Layers moved, scaled, turned, their pivots and gradients dragged on the stage.
import { newId } from "../common.js";
import { HANDLES } from "./overlay.js";
import { invert, map, minus, plus, round, solve, turn, unscale } from "./points.js";
import { boxAround, distances, otherBoxes, snapBox } from "./snapping.js";

const both = (a, b, change) => [change(a[0], b[0]), change(a[1], b[1])];
const whole = (value) => Math.round(value);

export class TransformDrags {
  // Drags: each has `edits(at, event)` that gives the edits for where the pointer is

  movable() {
    return this.editor.withoutRiders(this.editor.selectedLayers.filter((layer) => !layer.locked && this.editor.kinds[layer.kind].placed));
  }

  moveDrag(copying) {
    const { editor } = this;
    const layers = this.movable();
    const from = layers.map((layer) => ({ id: layer.id, position: editor.value(layer, "position") }));
    const corners = layers.flatMap((layer) => editor.view[layer.id]?.corners || []);
    const box = corners.length ? boxAround(corners) : null;
    const boxes = otherBoxes(editor, copying ? new Set() : new Set(layers.map((layer) => layer.id)));
    const copies = copying ? Object.fromEntries(layers.map((layer) => [layer.id, newId()])) : null;
    const edits = (at, event) => {
      let by = minus(at, this.start.at);
      if (event.shiftKey) by = Math.abs(by[0]) > Math.abs(by[1]) ? [by[0], 0] : [0, by[1]];
      this.overlay.snaps = [];
      if (box) {
        const now = [box[0] + by[0], box[1] + by[1], box[2] + by[0], box[3] + by[1]];
        let snapped = { shift: [0, 0], marks: [] };
        if (editor.snapping && !event.altKey) {
          snapped = snapBox(editor, now, boxes, this.stage.scale, { thirds: this.overlay.grid, safe: this.overlay.safe });
          if (event.shiftKey) snapped.shift = snapped.shift.map((value, axis) => (by[axis] === 0 ? 0 : value));
          by = plus(by, snapped.shift);
        }
        this.overlay.snaps = snapped.marks.length ? snapped.marks : distances(editor, now);
      }
      const targets = from.map(({ id, position }) => ({
        layer: copies ? copies[id] : id,
        property: "position",
        value: plus(position, editor.shiftOf(id, by)).map(editor.view[id]?.carried || this.stage.scale > 1.5 ? round : whole),
      }));
      if (!targets.length) return [];
      const set = editor.set(targets);
      return copies ? [{ kind: "duplicate-layers", scene: editor.sceneId, copies }, set] : [set];
    };
    return { edits, title: "Copy by dragging", after: () => copies && editor.select(Object.values(copies)) };
  }

  scaleDrag(layer, handle) {
    const { editor } = this;
    const view = editor.view[layer.id];
    const [, u, v] = HANDLES.find(([name]) => name === handle);
    const [l, t, r, b] = view.box;
    const hold = [l + (r - l) * u, t + (b - t) * v];
    const opposite = [l + (r - l) * (1 - u), t + (b - t) * (1 - v)];
    const scale = editor.value(layer, "scale").map((part) => part / 100);
    const pivot = editor.value(layer, "pivot");
    const position = editor.value(layer, "position");
    const landing = view.pivot;
    const unscaled = unscale(view.matrix, scale);
    if (!unscaled) return { edits: () => [] };
    const edits = (at, event) => {
      const anchor = event.altKey ? pivot : opposite;
      const fixed = event.altKey ? landing : map(view.matrix, anchor);
      const away = solve(unscaled, minus(at, fixed));
      const reach = minus(hold, anchor);
      const next = [...scale];
      for (const axis of [0, 1]) {
        const free = axis === 0 ? u !== 0.5 : v !== 0.5;
        if (free && Math.abs(reach[axis]) > 1e-6) next[axis] = away[axis] / reach[axis];
      }
      if (handle.length === 2 && (editor.linked || event.shiftKey)) {
        const before = both(reach, scale, (x, s) => x * s);
        const length = before[0] ** 2 + before[1] ** 2;
        const factor = (away[0] * before[0] + away[1] * before[1]) / (length || 1);
        next[0] = scale[0] * factor;
        next[1] = scale[1] * factor;
      }
      const value = next.map((part) => round(part * 100));
      const exact = value.map((part) => part / 100);
      const targets = [{ layer: layer.id, property: "scale", value }];
      if (!event.altKey) {
        const offset = both(minus(anchor, pivot), exact, (x, s) => x * s);
        const by = editor.shiftOf(layer.id, minus(minus(fixed, turn(unscaled, offset)), landing));
        targets.push({ layer: layer.id, property: "position", value: plus(position, by).map(round) });
      }
      return [editor.set(targets)];
    };
    return { edits };
  }

  scaleManyDrag(layers, handle) {
    const { editor } = this;
    const [, u, v] = HANDLES.find(([name]) => name === handle);
    const [l, t, r, b] = boxAround(layers.flatMap((layer) => editor.view[layer.id].corners));
    const hold = [u ? r : l, v ? b : t];
    const from = editor.withoutRiders(layers).map((layer) => ({ id: layer.id, position: editor.value(layer, "position"), pivot: editor.view[layer.id].pivot, scale: editor.value(layer, "scale") }));
    const edits = (at, event) => {
      const anchor = event.altKey ? [(l + r) / 2, (t + b) / 2] : [u ? l : r, v ? t : b];
      const reach = minus(hold, anchor);
      const now = minus(at, anchor);
      const factor = (now[0] * reach[0] + now[1] * reach[1]) / (reach[0] ** 2 + reach[1] ** 2 || 1);
      return [editor.set(from.flatMap(({ id, position, pivot, scale }) => [
        { layer: id, property: "position", value: plus(position, editor.shiftOf(id, minus(pivot, anchor).map((x) => x * (factor - 1)))).map(round) },
        { layer: id, property: "scale", value: scale.map((x) => round(x * factor)) },
      ]))];
    };
    return { edits };
  }

  rotateDrag(layers, at) {
    const { editor } = this;
    const corners = layers.flatMap((layer) => editor.view[layer.id].corners);
    const [l, t, r, b] = boxAround(corners);
    const centre = layers.length === 1 ? editor.view[layers[0].id].pivot : [(l + r) / 2, (t + b) / 2];
    const from = editor.withoutRiders(layers).map((layer) => ({ id: layer.id, position: editor.value(layer, "position"), pivot: editor.view[layer.id].pivot, rotation: editor.value(layer, "rotation") }));
    const angle = (point) => (Math.atan2(point[1] - centre[1], point[0] - centre[0]) * 180) / Math.PI;
    let last = angle(at);
    let total = 0;
    const edits = (point, event) => {
      const now = angle(point);
      total += ((now - last + 540) % 360) - 180;
      last = now;
      let by = total;
      if (event.shiftKey) by = layers.length === 1 ? Math.round((from[0].rotation + total) / 15) * 15 - from[0].rotation : Math.round(total / 15) * 15;
      const spin = [Math.cos((by * Math.PI) / 180), Math.sin((by * Math.PI) / 180)];
      return [editor.set(from.flatMap(({ id, position, pivot, rotation }) => {
        const away = minus(pivot, centre);
        const turned = plus(centre, [away[0] * spin[0] - away[1] * spin[1], away[0] * spin[1] + away[1] * spin[0]]);
        const [a, b, c, d] = editor.view[id].carried || [1, 0, 0, 1];
        const way = a * d - b * c < 0 ? -1 : 1; // in a mirrored space turns go the other way
        const targets = [{ layer: id, property: "rotation", value: round(rotation + by * way) }];
        if (layers.length > 1) targets.push({ layer: id, property: "position", value: plus(position, editor.shiftOf(id, minus(turned, pivot))).map(round) });
        return targets;
      }))];
    };
    return { edits };
  }

  pivotDrag(layer) {
    const { editor } = this;
    const view = editor.view[layer.id];
    const [l, t, r, b] = view.box;
    const nine = HANDLES.map(([, u, v]) => [l + (r - l) * u, t + (b - t) * v]).concat([[(l + r) / 2, (t + b) / 2]]);
    const edits = (at, event) => {
      let pivot = invert(view.matrix, at);
      if (!pivot) return [];
      if (editor.snapping && !event.altKey) {
        const near = nine.find((point) => Math.hypot(...minus(map(view.matrix, point), at)) < 8 / this.stage.scale);
        if (near) pivot = near;
      }
      return [{ kind: "move-pivot", scene: editor.sceneId, layer: layer.id, pivot: pivot.map(round), time_s: editor.time }];
    };
    return { edits };
  }

  gradientDrag(element) {
    const { editor } = this;
    const { layer, stops, start, end } = this.overlay.gradientLine();
    const view = editor.view[layer.id];
    const [l, t, r, b] = view.box;
    if (element.dataset.gradient === "stop") {
      const index = Number(element.dataset.index);
      const along = minus(end, start);
      const length = along[0] ** 2 + along[1] ** 2 || 1;
      const edits = (at) => {
        const away = minus(this.stage.toScreen(at), start);
        const offset = Math.min(1, Math.max(0, (away[0] * along[0] + away[1] * along[1]) / length));
        const value = stops.map((stop, i) => (i === index ? [Math.round(offset * 1e4) / 1e4, stop[1]] : stop));
        return [editor.set([{ layer: layer.id, property: "fill.stops", value }])];
      };
      return { edits, click: () => editor.tell("stop", index) };
    }
    const property = `fill.${element.dataset.gradient}`;
    const before = editor.value(layer, property);
    const edits = (at) => {
      const a = invert(view.matrix, this.start.at);
      const c = invert(view.matrix, at);
      if (!a || !c || r === l || b === t) return [];
      const value = [before[0] + ((c[0] - a[0]) / (r - l)) * 100, before[1] + ((c[1] - a[1]) / (b - t)) * 100];
      return [editor.set([{ layer: layer.id, property, value: value.map(round) }])];
    };
    return { edits };
  }
}
