// What is inside a layer taken hold of: its masks as a whole, the points of its paths, the places of
// its effects. Every drag gives edits; the server works out what becomes of a path.
import { note } from "../../notes.js";
import { along, map, minus, turning } from "../points.js";
import { editedShapes, maskCorners } from "../shapes_overlay.js";
import { SelectMode } from "./select.js";

/** A mode that goes when another layer is selected, or what it is about is gone. */
class InsideMode extends SelectMode {
  enter() {
    this.layer = this.editor.selectedLayers[0]?.id;
  }

  /** The layer that it was entered for, while that is the only one selected. */
  own() {
    const { editor } = this;
    const [layer] = editor.selectedLayers;
    return editor.selected.size === 1 && layer?.id === this.layer ? layer : null;
  }

  holds() {
    return Boolean(this.own());
  }

  /** Whether what it is about is there: undone it may be gone for a while, and the layer itself is
   *  taken hold of. */
  there() {
    return false;
  }

  get ways() {
    return !this.there();
  }

  get handles() {
    return !this.there();
  }

  /** Quick second presses: what is drawn anew in between swallows the browser's double click. */
  second(event) {
    const last = this.pressed;
    this.pressed = { x: event.clientX, y: event.clientY, time: event.timeStamp };
    if (!last || event.timeStamp - last.time > 420) return false;
    if (Math.hypot(event.clientX - last.x, event.clientY - last.y) > 6) return false;
    this.pressed = null;
    return true;
  }

  escape() {
    this.editor.enter("select");
    return true;
  }
}

/** The place of an effect has a handle. Options: `property`. */
export class PlaceMode extends InsideMode {
  get place() {
    return this.options.property;
  }
}

/** A mask has handles: it is moved, turned, scaled as a whole. Options: `mask`, as an id. */
export class MaskMode extends InsideMode {
  get mask() {
    return this.options.mask;
  }

  there() {
    return Boolean(this.own()?.masks.some((mask) => mask.id === this.mask));
  }

  grip(event, at) {
    const again = this.second(event);
    const handle = event.target.closest?.("[data-mask-handle]")?.dataset.maskHandle;
    if (handle) return this.maskDrag(handle, at, again);
    return super.grip(event, at);
  }

  maskDrag(handle, at, again) {
    const { editor } = this;
    const shape = editedShapes(editor).find((each) => each.mask === this.mask);
    if (!shape) return null;
    const points = () => editor.enter("points", { property: shape.property });
    if (handle === "move" && again && shape.contours.length) return { click: points };
    const held = { scene: editor.sceneId, layer: shape.layer.id, mask: this.mask };
    const done = (kind, more) => [{ kind, ...held, time_s: editor.time, ...more }];
    if (handle === "move") {
      return { edits: (to, now) => done("move-mask", { by: along(at, to, now.shiftKey) }) };
    }
    if (handle === "rotate") {
      const turned = turning(maskMiddle(shape), at);
      return {
        edits: (to, now) => done("turn-mask", { by_deg: turned(to), steps_deg: now.shiftKey ? 15 : null }),
      };
    }
    return { edits: (to, now) => done("scale-mask", { start: at, to, apart: now.altKey }) };
  }
}

/** Where the middle of a mask's box lies in the scene; a half plane turns about its foot. */
function maskMiddle(shape) {
  const corners = shape.contours.length
    ? maskCorners(shape)
    : [
        [0, 0],
        [0, 0],
        [0, 0],
      ];
  return map(shape.matrix, [(corners[0][0] + corners[2][0]) / 2, (corners[0][1] + corners[2][1]) / 2]);
}

/** The points of a path. Options: `property`, the path. */
export class PointsMode extends InsideMode {
  chosenPoints = new Set();

  get property() {
    return this.options.property;
  }

  get points() {
    return this.chosenPoints;
  }

  get mask() {
    return this.property.startsWith("mask.") ? this.property.split(".")[1] : null;
  }

  there() {
    return Boolean(this.shape());
  }

  get hint() {
    return "Drag points and lines. Double-click a line for a point, Alt+click takes one out.";
  }

  escape() {
    const { editor, mask } = this;
    if (mask) editor.enter("mask", { mask });
    else editor.enter("select");
    return true;
  }

  /** The path where it lies now, null while it is not there. */
  shape() {
    return editedShapes(this.editor).find((shape) => shape.property === this.property) || null;
  }

  grip(event, at) {
    const again = this.second(event);
    const shape = this.shape();
    if (!shape) return super.grip(event, at);
    const other = this.inner(event, at);
    if (other) return other;
    const handle = event.target.closest?.("[data-shape-handle]");
    if (handle) return this.handleDrag(shape, handle.dataset, at);
    const point = event.target.closest?.("[data-shape-point]")?.dataset.shapePoint;
    if (point) return this.pointDrag(shape, point, at, event, again);
    if (event.target.closest?.("[data-shape-line]")) return this.lineDrag(shape, at, event, again);
    const choose = (box) => this.choosePoints(shape, box, event.shiftKey);
    return { ...this.marquee(at, choose), click: () => this.clearPoints(event) };
  }

  edit(shape, deed, more = {}) {
    const { editor } = this;
    return {
      kind: "edit-path",
      scene: editor.sceneId,
      layer: shape.layer.id,
      property: shape.property,
      deed,
      in_scene: true,
      time_s: editor.time,
      ...more,
    };
  }

  chosen() {
    return [...this.points].map((name) => name.split(",").map(Number));
  }

  pointDrag(shape, name, at, event, again) {
    const { editor } = this;
    const spot = name.split(",").map(Number);
    if (event.altKey) {
      return { edits: () => [], click: () => editor.edit(this.edit(shape, "remove", { points: [spot] })) };
    }
    if (again) {
      const [, , ix, iy, ox, oy] = shape.contours[spot[0]].points[spot[1]];
      return {
        edits: () => [],
        click: () =>
          editor.edit(this.edit(shape, ix || iy || ox || oy ? "corner" : "smooth", { points: [spot] })),
      };
    }
    const was = this.points.has(name);
    if (event.shiftKey && was) this.points.delete(name);
    else if (!was) {
      if (!event.shiftKey) this.points.clear();
      this.points.add(name);
    }
    this.overlay.draw();
    const edits = (to, now) => {
      const by = along(at, to, now.shiftKey);
      const moved = this.chosen();
      return moved.length ? [this.edit(shape, "move", { points: moved, by })] : [];
    };
    const click = () => {
      if (was && !event.shiftKey) {
        this.points.clear();
        this.points.add(name);
        this.overlay.draw();
      }
    };
    return { edits, click };
  }

  handleDrag(shape, { shapeHandle, point }, at) {
    const points = [point.split(",").map(Number)];
    const edits = (to, now) => [
      this.edit(shape, "handle", {
        points,
        side: shapeHandle,
        by: minus(to, at),
        alone: now.altKey,
      }),
    ];
    return { edits, click: () => {} };
  }

  /** The line of a path: dragging bends a segment, a second press puts a point there. */
  lineDrag(shape, at, event, again) {
    const found = this.nearest(shape, at);
    if (!found) return { edits: () => [], click: () => {} };
    const { spot, parameter } = found;
    if (again) {
      return {
        edits: () => [],
        click: () => this.editor.edit(this.edit(shape, "add", { points: [spot], at: parameter })),
      };
    }
    const edits = (to) => [this.edit(shape, "bend", { points: [spot], at: parameter, by: minus(to, at) })];
    return { edits, click: () => this.clearPoints(event) };
  }

  /** Where on a path the pointer is: only to say which segment is meant. */
  nearest(shape, at) {
    let best = null;
    shape.contours.forEach(({ closed, points }, c) => {
      const segments = closed ? points.length : points.length - 1;
      for (let i = 0; i < segments; i += 1) {
        const [x0, y0, , , ox, oy] = points[i];
        const [x3, y3, ix, iy] = points[(i + 1) % points.length];
        for (let k = 1; k < 40; k += 1) {
          const s = k / 40;
          const r = 1 - s;
          const weights = [r * r * r, 3 * r * r * s, 3 * r * s * s, s * s * s];
          const mix = (a, b, e, f) => a * weights[0] + b * weights[1] + e * weights[2] + f * weights[3];
          const p = map(shape.matrix, [mix(x0, x0 + ox, x3 + ix, x3), mix(y0, y0 + oy, y3 + iy, y3)]);
          const far = Math.hypot(p[0] - at[0], p[1] - at[1]);
          if (!best || far < best.far) best = { far, spot: [c, i], parameter: s };
        }
      }
    });
    return best;
  }

  clearPoints(event) {
    if (event.shiftKey) return;
    this.points.clear();
    this.overlay.draw();
  }

  /** Points within a frame that was drawn about them. */
  choosePoints(shape, box, add) {
    if (!add) this.points.clear();
    shape.contours.forEach(({ points }, c) => {
      points.forEach(([x, y], p) => {
        const [sx, sy] = map(shape.matrix, [x, y]);
        if (sx >= box[0] && sx <= box[2] && sy >= box[1] && sy <= box[3]) this.points.add(`${c},${p}`);
      });
    });
  }

  /** Chosen points; without any, chosen keys may be meant, but never the layer. */
  remove() {
    if (this.deed("remove")) return true;
    if (this.editor.keys.size || !this.shape()) return false;
    note("Choose the points to take out first.");
    return true;
  }

  /** Deeds on the chosen points (or all of them) from the keyboard and the menus. */
  deed(deed) {
    const shape = this.shape();
    if (!shape) return false;
    const points = this.chosen();
    if (deed === "ends") return this.deed(shape.contours.every((each) => each.closed) ? "open" : "close");
    if (deed === "first" && points.length !== 1) note("Choose the one point that shall be the first.");
    else if (deed === "remove" && !points.length) return false;
    else {
      this.editor.edit(this.edit(shape, deed, { points }));
      if (deed === "remove") this.points.clear();
    }
    return true;
  }

  chooseAll() {
    const shape = this.shape();
    if (!shape) return false;
    shape.contours.forEach(({ points }, c) => points.forEach((_, p) => this.points.add(`${c},${p}`)));
    this.overlay.draw();
    return true;
  }
}
