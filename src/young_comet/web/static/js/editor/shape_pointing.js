// The pointer on paths: masks and shapes edited by their points or as a whole, the pen, drawing
// masks, places of effects. Every drag gives edits; the server works out what becomes of a path.
import { api } from "../api.js";
import { complain, newId, note } from "../common.js";
import { addMembers } from "./member_edits.js";
import { invert, map, minus, plus, round } from "./points.js";
import { editedShapes, maskCorners, placesOf } from "./shapes_overlay.js";

const QUARTER = 0.5522847498;

export class ShapePointing {
  constructor(editor, stage, overlay) {
    this.editor = editor;
    this.stage = stage;
    this.overlay = overlay;
    editor.on("tool selection", () => this.dropPen());
    editor.on("path-deed", (deed) => (deed === "all" ? this.chooseAllPoints() : this.deed(deed)));
    stage.element.addEventListener("pointermove", (event) => this.hover(event));
  }

  /** A drag for what lies under the pointer, null where it is none of ours. */
  grip(event, at) {
    const again = this.second(event);
    const place = event.target.closest?.("[data-place]");
    if (place) return this.placeDrag(placesOf(this.editor)[Number(place.dataset.place)], at);
    const maskHandle = event.target.closest?.("[data-mask-handle]")?.dataset.maskHandle;
    if (maskHandle) return this.maskDrag(maskHandle, at, event);
    const line = event.target.closest?.("[data-mask-line]")?.dataset.maskLine;
    if (line) return { edits: () => [], click: () => this.chooseMask(line) };
    const shape = this.pointed();
    if (!shape) return null;
    const handle = event.target.closest?.("[data-shape-handle]");
    if (handle) return this.handleDrag(shape, handle.dataset, at);
    const point = event.target.closest?.("[data-shape-point]")?.dataset.shapePoint;
    if (point) return this.pointDrag(shape, point, at, event, again);
    if (event.target.closest?.("[data-shape-line]")) return this.lineDrag(shape, at, event, again);
    return { marqueePoints: at, edits: () => [], click: () => this.clearPoints(event) };
  }

  pointed() {
    return editedShapes(this.editor).find((shape) => shape.property === this.editor.pointing) || null;
  }

  chooseMask(id) {
    this.editor.mask = id;
    this.editor.tell("show-tab", "looks");
    this.editor.tell("view");
  }

  edit(shape, deed, more = {}) {
    const { editor } = this;
    return { kind: "edit-path", scene: editor.sceneId, layer: shape.layer.id, property: shape.property, deed, time_s: editor.time, ...more };
  }

  /** A way on the stage as one in the path's own space. */
  way(shape, from, to) {
    const [a, b] = [invert(shape.matrix, from), invert(shape.matrix, to)];
    return a && b ? minus(b, a).map((v) => Math.round(v * 1e3) / 1e3) : [0, 0];
  }

  chosen() {
    return [...this.editor.points].map((name) => name.split(",").map(Number));
  }

  // Quick second presses: the redraw swallows the browser's double click
  second(event) {
    const last = this.pressed;
    this.pressed = { x: event.clientX, y: event.clientY, time: performance.now() };
    if (!last || performance.now() - last.time > 420 || Math.hypot(event.clientX - last.x, event.clientY - last.y) > 6) return false;
    this.pressed = null;
    return true;
  }

  pointDrag(shape, name, at, event, again) {
    const { editor } = this;
    const spot = name.split(",").map(Number);
    if (event.altKey) return { edits: () => [], click: () => editor.edit(this.edit(shape, "remove", { points: [spot] })) };
    if (again) {
      const [, , ix, iy, ox, oy] = shape.contours[spot[0]].points[spot[1]];
      return { edits: () => [], click: () => editor.edit(this.edit(shape, ix || iy || ox || oy ? "corner" : "smooth", { points: [spot] })) };
    }
    const was = editor.points.has(name);
    if (event.shiftKey && was) editor.points.delete(name);
    else if (!was) {
      if (!event.shiftKey) editor.points.clear();
      editor.points.add(name);
    }
    this.overlay.draw();
    const edits = (to, now) => {
      let by = minus(to, at);
      if (now.shiftKey) by = Math.abs(by[0]) > Math.abs(by[1]) ? [by[0], 0] : [0, by[1]];
      const points = this.chosen();
      return points.length ? [this.edit(shape, "move", { points, by: this.way(shape, at, plus(at, by)) })] : [];
    };
    const click = () => {
      if (was && !event.shiftKey) {
        editor.points = new Set([name]);
        this.overlay.draw();
      }
    };
    return { edits, click };
  }

  handleDrag(shape, { shapeHandle, point }, at) {
    const points = [point.split(",").map(Number)];
    const edits = (to, now) => [this.edit(shape, "handle", { points, side: shapeHandle, by: this.way(shape, at, to), alone: now.altKey })];
    return { edits, click: () => {} };
  }

  /** The line of a path: dragging bends a segment, a second press puts a point there. */
  lineDrag(shape, at, event, again) {
    const found = this.nearest(shape, at);
    if (!found) return { edits: () => [], click: () => {} };
    const { spot, parameter } = found;
    if (again) return { edits: () => [], click: () => this.editor.edit(this.edit(shape, "add", { points: [spot], at: parameter })) };
    const edits = (to) => [this.edit(shape, "bend", { points: [spot], at: parameter, by: this.way(shape, at, to) })];
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
    this.editor.points.clear();
    this.overlay.draw();
  }

  /** Points within a frame that was drawn about them. */
  choosePoints(box, add) {
    const shape = this.pointed();
    if (!shape) return;
    if (!add) this.editor.points.clear();
    shape.contours.forEach(({ points }, c) => {
      points.forEach(([x, y], p) => {
        const [sx, sy] = map(shape.matrix, [x, y]);
        if (sx >= box[0] && sx <= box[2] && sy >= box[1] && sy <= box[3]) this.editor.points.add(`${c},${p}`);
      });
    });
    this.overlay.draw();
  }

  /** Deeds on the chosen points (or all of them) from the keyboard and the menus. */
  deed(deed) {
    const shape = this.pointed();
    if (!shape) return false;
    const points = this.chosen();
    if (deed === "ends") return this.deed(shape.contours.every((each) => each.closed) ? "open" : "close");
    if (deed === "first" && points.length !== 1) note("Choose the one point that shall be the first.");
    else if (deed === "remove" && !points.length) return false;
    else {
      this.editor.edit(this.edit(shape, deed, { points }));
      if (deed === "remove") this.editor.points.clear();
    }
    return true;
  }

  chooseAllPoints() {
    const shape = this.pointed();
    if (!shape) return false;
    shape.contours.forEach(({ points }, c) => points.forEach((_, p) => this.editor.points.add(`${c},${p}`)));
    this.overlay.draw();
    return true;
  }

  // Masks as a whole: their own position, rotation and scale

  maskDrag(handle, at, event) {
    const { editor } = this;
    const shape = editedShapes(editor).find((each) => each.mask === editor.mask);
    const again = this.second(event);
    if (handle === "move" && again && shape.contours.length) return { edits: () => [], click: () => editor.editPoints(shape.property) };
    const name = (property) => `mask.${shape.mask}.${property}`;
    const { layer } = shape;
    const space = this.spaceOf(shape);
    const set = (targets) => [editor.set(targets.map(([property, value]) => ({ layer: layer.id, property: name(property), value })))];
    const position = editor.value(layer, name("position"));
    const rotation = editor.value(layer, name("rotation"));
    if (handle === "move") {
      const edits = (to, now) => {
        let by = minus(to, at);
        if (now.shiftKey) by = Math.abs(by[0]) > Math.abs(by[1]) ? [by[0], 0] : [0, by[1]];
        const [a, b] = [invert(space, at), invert(space, plus(at, by))];
        return a && b ? set([["position", plus(position, minus(b, a)).map(round)]]) : [];
      };
      return { edits, click: () => {} };
    }
    const corners = shape.contours.length ? maskCorners(shape) : [[0, 0], [0, 0], [0, 0]];
    const middle = map(shape.matrix, [(corners[0][0] + corners[2][0]) / 2, (corners[0][1] + corners[2][1]) / 2]);
    if (handle === "rotate") {
      const angle = (p) => (Math.atan2(p[1] - middle[1], p[0] - middle[0]) * 180) / Math.PI;
      let last = angle(at);
      let total = rotation;
      const edits = (to, now) => {
        total += ((angle(to) - last + 540) % 360) - 180;
        last = angle(to);
        return set([["rotation", now.shiftKey ? Math.round(total / 15) * 15 : round(total)]]);
      };
      return { edits, click: () => {} };
    }
    const scale = editor.value(layer, name("scale"));
    const from = invert(shape.matrix, at);
    const centre = invert(shape.matrix, middle);
    const edits = (to, now) => {
      const here = invert(shape.matrix, to);
      if (!here || !from) return [];
      const reach = minus(from, centre);
      const away = minus(here, centre);
      const factor = now.altKey ? [0, 1].map((i) => (Math.abs(reach[i]) > 1e-6 ? away[i] / reach[i] : 1)) : Array(2).fill((away[0] * reach[0] + away[1] * reach[1]) / (reach[0] ** 2 + reach[1] ** 2 || 1));
      return set([["scale", scale.map((part, i) => round(part * factor[i]))]]);
    };
    return { edits, click: () => {} };
  }

  /** From the space that a mask's position counts in to the scene. */
  spaceOf(shape) {
    const { editor } = this;
    const mask = shape.layer.masks.find((each) => each.id === shape.mask);
    if (mask.space === "scene") return [1, 0, 0, 1, 0, 0];
    const owner = mask.space === "follow" ? mask.follows : shape.layer.id;
    return editor.view[owner]?.matrix || [1, 0, 0, 1, 0, 0];
  }

  // Places of effects and colour points

  placeDrag(place, at) {
    const { editor } = this;
    const { layer, spec, index, matrix, box } = place;
    const from = place.at;
    const edits = (to) => {
      const [a, b] = [invert(matrix, at), invert(matrix, to)];
      if (!a || !b) return [];
      const now = plus(from, minus(b, a));
      if (index === undefined) return [editor.set([{ layer: layer.id, property: spec.id, value: now.map(round) }])];
      const value = editor.value(layer, spec.id).map((spot) => [...spot]);
      const [l, t, r, b2] = box;
      value[index][0] = round(((now[0] - l) / (r - l)) * 100);
      value[index][1] = round(((now[1] - t) / (b2 - t)) * 100);
      return [editor.set([{ layer: layer.id, property: spec.id, value }])];
    };
    return { edits, click: () => {} };
  }

  // The pen: presses are points, drags are their handles; scene pixels

  pen(at, event) {
    const drawn = this.editor.drawnPath || (this.editor.drawnPath = { points: [], hover: null });
    const [first] = drawn.points;
    const near = first && drawn.points.length > 1 && Math.hypot(...minus(this.stage.toScreen(first.at), this.stage.toScreen(at))) < 10;
    if (near) return { edits: () => [], click: () => this.endPen(true), end: () => this.endPen(true) };
    const spot = event.shiftKey && drawn.points.length ? straight(drawn.points.at(-1).at, at) : at;
    const point = { at: spot.map(round), into: [0, 0], out: [0, 0] };
    drawn.points.push(point);
    drawn.hover = null;
    this.overlay.draw();
    const edits = (to) => {
      point.out = minus(to, point.at).map(round);
      point.into = point.out.map((part) => -part);
      this.overlay.draw();
      return [];
    };
    return { edits, end: () => {}, click: () => {} };
  }

  hover(event) {
    const { drawnPath, tool } = this.editor;
    if (!drawnPath?.points.length || tool !== "pen" || event.buttons) return;
    drawnPath.hover = this.stage.toScene(event);
    this.overlay.draw();
  }

  dropPen() {
    if (this.editor.tool !== "pen" && this.editor.drawnPath) this.editor.drawnPath = null;
  }

  /** Enter, Escape or a press on the first point end the pen; true if there was something. */
  async endPen(closed) {
    const { editor } = this;
    const drawn = editor.drawnPath;
    if (!drawn) return false;
    editor.drawnPath = null;
    const { drawsMask: mask, drawsInto: into } = editor;
    if (drawn.points.length < 2) {
      editor.setTool("select");
      this.overlay.draw();
      return true;
    }
    if (into) await this.drawInto(into, drawn.points, closed);
    else if (mask) await this.addMask(drawn.points, closed, "Pen mask");
    else await this.addShape(drawn.points, closed);
    return true;
  }

  async addShape(points, closed) {
    const { editor } = this;
    const xs = points.map((p) => p.at[0]);
    const ys = points.map((p) => p.at[1]);
    const middle = [(Math.min(...xs) + Math.max(...xs)) / 2, (Math.min(...ys) + Math.max(...ys)) / 2].map(round);
    const path = pathText(points.map((p) => ({ ...p, at: minus(p.at, middle) })), closed);
    const open = closed ? {} : { "fill.on": false, "stroke.width": 8, "stroke.cap": "round", "stroke.join": "round" };
    editor.setTool("select");
    await editor.addLayer(editor.newLayer("shape", "Path", { "shape.kind": "path", "shape.path": path, position: middle, ...open }));
  }

  // Masks drawn on the stage

  target() {
    const [layer] = this.editor.selectedLayers;
    if (this.editor.selected.size === 1) return layer;
    note("Select the one layer that is to be masked first.");
    this.editor.setTool("select");
    return null;
  }

  async addMask(points, closed, name) {
    const { editor } = this;
    const layer = this.target();
    const matrix = layer && editor.view[layer.id]?.matrix;
    if (!matrix) return;
    const inside = points.map(({ at, into, out }) => {
      const spot = invert(matrix, at);
      const handle = (by) => minus(invert(matrix, plus(at, by)), spot).map(round);
      return { at: spot.map(round), into: handle(into), out: handle(out) };
    });
    await this.addMaskPath(layer, pathText(inside, closed || true), name);
  }

  /** What the pen has drawn becomes the path of a property, or a stroke more of it. */
  async drawInto({ layer, property, adds }, points, closed) {
    const { editor } = this;
    editor.setTool("select");
    const path = pathText(points, closed && !adds);
    const edit = { kind: "draw-path", scene: editor.sceneId, layer, property, path, adds, time_s: editor.time };
    if (editor.layer(layer) && (await editor.edit(edit))) editor.editPoints(property);
  }

  async addMaskPath(layer, path, name) {
    const { editor } = this;
    const id = newId();
    editor.setTool("select");
    const members = [{ member: { id, name }, properties: { path: { value: path } } }];
    if (await editor.edit(addMembers(editor, "mask", [layer.id], members))) editor.tell("mask-added", id);
  }

  /** Rectangles and ellipses that become masks. */
  drawnMask(tool, at) {
    const layer = this.target();
    if (!layer) return { edits: () => [], click: () => {} };
    const { editor } = this;
    const id = newId();
    const name = tool === "rectangle" ? "Rectangle" : "Ellipse";
    const matrix = editor.view[layer.id]?.matrix;
    const edits = (to, event) => {
      let size = minus(to, at);
      if (event.shiftKey) {
        const side = Math.max(Math.abs(size[0]), Math.abs(size[1]));
        size = size.map((part) => (part < 0 ? -side : side));
      }
      const corner = plus(at, size);
      const [l, r] = [Math.min(at[0], corner[0]), Math.max(at[0], corner[0])];
      const [t, b] = [Math.min(at[1], corner[1]), Math.max(at[1], corner[1])];
      const points = (tool === "rectangle" ? box(l, t, r, b) : oval(l, t, r, b)).map(({ at: p, into, out }) => {
        const spot = invert(matrix, p);
        return { at: spot, into: minus(invert(matrix, plus(p, into)), spot), out: minus(invert(matrix, plus(p, out)), spot) };
      });
      const members = [{ member: { id, name }, properties: { path: { value: pathText(points, true) } } }];
      return [addMembers(editor, "mask", [layer.id], members)];
    };
    const after = () => {
      editor.setTool("select");
      editor.tell("mask-added", id);
    };
    return { edits, after, click: () => editor.setTool("select") };
  }

  /** A line drawn by hand, closed and smoothed by the server, becomes a mask. */
  freehand(at) {
    const layer = this.target();
    const matrix = layer && this.editor.view[layer.id]?.matrix;
    if (!matrix) return { edits: () => [], click: () => {} };
    const points = [at];
    const edits = (to) => {
      const last = points.at(-1);
      if (Math.hypot(to[0] - last[0], to[1] - last[1]) * this.stage.scale > 2) points.push(to);
      this.overlay.drawn = points;
      this.overlay.draw();
      return [];
    };
    const end = async () => {
      this.overlay.drawn = null;
      this.editor.setTool("select");
      if (points.length < 6) return;
      try {
        const inside = points.map((p) => invert(matrix, p).map(round));
        const { path } = await this.editor.working(api.fitPath(inside, 4 / this.stage.scale, true));
        await this.addMaskPath(layer, path, "Freehand");
      } catch (error) {
        complain(error);
      }
    };
    return { edits, end, click: end };
  }
}

function straight(from, to) {
  const [dx, dy] = minus(to, from);
  const angle = (Math.round(Math.atan2(dy, dx) / (Math.PI / 12)) * Math.PI) / 12;
  const length = Math.hypot(dx, dy);
  return [from[0] + Math.cos(angle) * length, from[1] + Math.sin(angle) * length];
}

/** SVG path data of points with handles. */
export function pathText(points, closed) {
  const put = (p) => p.map((v) => Math.round(v * 1e3) / 1e3).join(" ");
  const segments = closed ? points.length : points.length - 1;
  let out = `M${put(points[0].at)}`;
  for (let i = 0; i < segments; i += 1) {
    const [a, b] = [points[i], points[(i + 1) % points.length]];
    const curved = a.out[0] || a.out[1] || b.into[0] || b.into[1];
    if (curved) out += ` C${put(plus(a.at, a.out))} ${put(plus(b.at, b.into))} ${put(b.at)}`;
    else if (!closed || i < points.length - 1) out += ` L${put(b.at)}`;
  }
  return closed ? `${out} Z` : out;
}

const none = [0, 0];
const box = (l, t, r, b) => [[l, t], [r, t], [r, b], [l, b]].map((at) => ({ at, into: none, out: none }));

function oval(l, t, r, b) {
  const [cx, cy, rx, ry] = [(l + r) / 2, (t + b) / 2, (r - l) / 2, (b - t) / 2];
  const [kx, ky] = [rx * QUARTER, ry * QUARTER];
  return [
    { at: [cx, t], into: [-kx, 0], out: [kx, 0] },
    { at: [r, cy], into: [0, -ky], out: [0, ky] },
    { at: [cx, b], into: [kx, 0], out: [-kx, 0] },
    { at: [l, cy], into: [0, ky], out: [0, -ky] },
  ];
}
