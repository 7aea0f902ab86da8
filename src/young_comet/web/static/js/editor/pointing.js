// What the pointer does on the stage: select, move, scale, turn, draw, edit text, pick colours.
import { api } from "../api.js";
import { complain, newId, note } from "../common.js";
import { HANDLES } from "./overlay.js";
import { PathPointing } from "./path_pointing.js";
import { ShapePointing } from "./shape_pointing.js";
import { invert, map, turn } from "./shapes_overlay.js";
import { boxAround, distances, otherBoxes, snapBox } from "./snapping.js";

const CLICK_PX = 3;
const round = (value) => Math.round(value * 100) / 100;
const whole = (value) => Math.round(value);
const both = (a, b, change) => [change(a[0], b[0]), change(a[1], b[1])];
const plus = (a, b) => both(a, b, (x, y) => x + y);
const minus = (a, b) => both(a, b, (x, y) => x - y);

export class Pointing {
  constructor(editor, stage, overlay) {
    this.editor = editor;
    this.stage = stage;
    this.overlay = overlay;
    this.paths = new PathPointing(editor, stage);
    this.shapes = new ShapePointing(editor, stage, overlay);
    this.drag = null;
    this.space = false;
    this.spaceUsed = false;
    const { element } = stage;
    element.addEventListener("pointerdown", (event) => this.down(event));
    element.addEventListener("pointermove", (event) => this.move(event));
    element.addEventListener("pointerup", (event) => this.up(event));
    element.addEventListener("pointercancel", () => this.cancel());
    element.addEventListener("dblclick", (event) => this.doubleClick(event));
    element.addEventListener("contextmenu", (event) => this.menu(event));
    element.addEventListener("dragover", (event) => this.dragOver(event));
    element.addEventListener("dragleave", () => element.classList.remove("drop-here"));
    element.addEventListener("drop", (event) => this.drop(event));
    editor.on("tool", () => this.cursor());
  }

  cursor() {
    const { tool } = this.editor;
    const drawing = !["select", "hand"].includes(tool);
    this.stage.element.style.cursor = this.stage.dropper || drawing ? "crosshair" : tool === "hand" || this.space ? "grab" : "default";
  }

  /** Space held: the pointer moves the view. Tells whether that was used when it is let go. */
  holdSpace(held) {
    const used = this.spaceUsed;
    this.space = held;
    this.spaceUsed = false;
    this.cursor();
    return used;
  }

  down(event) {
    if (event.target.closest(".tools, .editing-text, .compare-divider")) return;
    if (event.button === 2) return;
    this.stage.element.focus({ preventScroll: true });
    if (this.editor.isPlaying()) this.editor.player.pause();
    const at = this.stage.toScene(event);
    if (this.stage.dropper) {
      this.takeColour(at);
      return;
    }
    this.stage.element.setPointerCapture(event.pointerId);
    this.start = { at, x: event.clientX, y: event.clientY, moved: false };
    if (this.space) this.spaceUsed = true;
    if (event.button === 1 || this.space || this.editor.tool === "hand") this.drag = { panning: true, last: [event.clientX, event.clientY] };
    else if (this.editor.tool === "text") this.drag = { text: at };
    else if (this.editor.tool === "pen") this.drag = this.shapes.pen(at, event);
    else if (this.editor.drawsMask) this.drag = this.editor.tool === "pencil" ? this.shapes.freehand(at) : this.shapes.drawnMask(this.editor.tool, at);
    else if (this.editor.tool === "pencil") this.drag = this.paths.pencil(at, this.overlay);
    else if (this.editor.tool !== "select") this.drag = this.drawing(at);
    else this.drag = this.grip(event, at) || this.onLayer(event, at);
  }

  grip(event, at) {
    const onShape = this.shapes.grip(event, at);
    if (onShape) return onShape;
    const inside = this.editor.selectedLayers.some((layer) => this.editor.kinds[layer.kind].placed && this.contains(layer, at));
    const onPath = this.paths.grip(event, at, inside);
    if (onPath) return onPath;
    const gradient = event.target.closest?.("[data-gradient]");
    if (gradient) return this.gradientDrag(gradient);
    const handle = event.target.closest?.("[data-handle]")?.dataset.handle;
    if (!handle) return null;
    const layers = this.editor.selectedLayers;
    if (handle === "pivot") return this.pivotDrag(layers[0]);
    if (handle === "rotate") return this.rotateDrag(layers, at);
    return layers.length === 1 ? this.scaleDrag(layers[0], handle) : this.scaleManyDrag(layers, handle);
  }

  onLayer(event, at) {
    const inside = this.editor.selectedLayers.some((layer) => this.editor.kinds[layer.kind].placed && this.contains(layer, at));
    if (inside && !event.shiftKey) {
      return { ...this.moveDrag(event.ctrlKey || event.metaKey), click: () => this.choose(at, event, true) };
    }
    const waiting = { waiting: true, click: null };
    this.choose(at, event, false).then((found) => {
      if (this.drag !== waiting) return;
      if (found && !event.shiftKey) Object.assign(waiting, this.moveDrag(event.ctrlKey || event.metaKey), { waiting: false });
      else if (!found) Object.assign(waiting, { marquee: at, add: event.shiftKey, waiting: false });
    });
    return waiting;
  }

  contains(layer, [x, y]) {
    const corners = this.editor.view[layer.id]?.corners;
    if (!corners || !this.editor.view[layer.id].on) return false;
    let sign = 0;
    for (let i = 0; i < 4; i += 1) {
      const [a, b] = [corners[i], corners[(i + 1) % 4]];
      const cross = (b[0] - a[0]) * (y - a[1]) - (b[1] - a[1]) * (x - a[0]);
      if (cross !== 0) {
        if (sign && Math.sign(cross) !== sign) return false;
        sign = Math.sign(cross);
      }
    }
    return true;
  }

  /** Selects what is under the point; a click on a whole selected group goes into it. */
  async choose(at, event, again) {
    const { editor } = this;
    let found;
    try {
      ({ layers: found } = await api.pick(editor.projectId, editor.sceneId, editor.time, at[0], at[1], 5 / this.stage.scale));
    } catch (error) {
      complain(error);
      return false;
    }
    const layer = found.map((id) => editor.layer(id)).find((each) => each && (editor.kinds[each.kind].placed || found.length === 1));
    if (!layer || (!editor.kinds[layer.kind].placed && !again && !event.altKey && editor.selected.size && !editor.selected.has(layer.id))) {
      if (!event.shiftKey) editor.select([]);
      return false;
    }
    const members = layer.group ? editor.layers.filter((each) => each.group === layer.group).map((each) => each.id) : [layer.id];
    const whole = members.every((id) => editor.selected.has(id));
    const ids = layer.group && whole && members.length > 1 ? [layer.id] : members;
    if (event.shiftKey) editor.select(ids, { toggle: true });
    else if (again || !ids.every((id) => editor.selected.has(id))) editor.select(ids);
    return editor.kinds[layer.kind].placed;
  }

  // Drags: each has `edits(at, event)` that gives the edits for where the pointer is

  movable() {
    return this.editor.selectedLayers.filter((layer) => !layer.locked && this.editor.kinds[layer.kind].placed);
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
        value: plus(position, by).map(this.stage.scale > 1.5 ? round : whole),
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
    const unscaled = unscale(view.matrix, scale);
    if (!unscaled) return { edits: () => [] };
    const edits = (at, event) => {
      const anchor = event.altKey ? pivot : opposite;
      const fixed = event.altKey ? position : map(view.matrix, anchor);
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
        const landed = minus(fixed, turn(unscaled, offset)).map(round);
        targets.push({ layer: layer.id, property: "position", value: landed });
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
    const from = layers.map((layer) => ({ id: layer.id, position: editor.value(layer, "position"), scale: editor.value(layer, "scale") }));
    const edits = (at, event) => {
      const anchor = event.altKey ? [(l + r) / 2, (t + b) / 2] : [u ? l : r, v ? t : b];
      const reach = minus(hold, anchor);
      const now = minus(at, anchor);
      const factor = (now[0] * reach[0] + now[1] * reach[1]) / (reach[0] ** 2 + reach[1] ** 2 || 1);
      return [editor.set(from.flatMap(({ id, position, scale }) => [
        { layer: id, property: "position", value: plus(anchor, minus(position, anchor).map((x) => x * factor)).map(round) },
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
    const from = layers.map((layer) => ({ id: layer.id, position: editor.value(layer, "position"), rotation: editor.value(layer, "rotation") }));
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
      return [editor.set(from.flatMap(({ id, position, rotation }) => {
        const away = minus(position, centre);
        const turned = plus(centre, [away[0] * spin[0] - away[1] * spin[1], away[0] * spin[1] + away[1] * spin[0]]);
        const targets = [{ layer: id, property: "rotation", value: round(rotation + by) }];
        if (layers.length > 1) targets.push({ layer: id, property: "position", value: turned.map(round) });
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

  drawing(at) {
    const { editor } = this;
    const { tool } = editor;
    const names = { rectangle: "Rectangle", ellipse: "Ellipse", polygon: "Polygon", star: "Star", line: "Line" };
    const layer = editor.newLayer("shape", names[tool], {});
    const edits = (to, event) => {
      const properties = this.drawn(tool, at, to, event);
      layer.properties = Object.fromEntries(Object.entries(properties).map(([id, value]) => [id, { value }]));
      return [{ kind: "add-layers", scene: editor.sceneId, layers: [layer] }];
    };
    const short = Math.min(editor.scene.width, editor.scene.height);
    const plain = { shiftKey: true, altKey: true };
    const click = async () => {
      await editor.edit(edits(plus(at, [short * 0.16, tool === "line" ? 0 : short * 0.16]), plain)[0]);
      after();
    };
    const after = () => {
      editor.setTool("select");
      editor.select([layer.id]);
    };
    return { edits, after, click };
  }

  drawn(tool, from, to, event) {
    let size = minus(to, from);
    if (event.shiftKey && tool !== "line") {
      const side = Math.max(Math.abs(size[0]), Math.abs(size[1]));
      size = size.map((part) => (part < 0 ? -side : side));
    }
    if (event.shiftKey && tool === "line") {
      const angle = (Math.round(Math.atan2(size[1], size[0]) / (Math.PI / 12)) * Math.PI) / 12;
      const length = Math.hypot(...size);
      size = [Math.cos(angle) * length, Math.sin(angle) * length];
    }
    const half = size.map((part) => part / 2);
    const middle = (event.altKey ? from : plus(from, half)).map(round);
    if (tool === "line") {
      const reach = (event.altKey ? size : half).map(round);
      return {
        "shape.kind": "line",
        "shape.start": reach.map((part) => -part),
        "shape.end": reach,
        "fill.on": false,
        "stroke.width": 8,
        "stroke.cap": "round",
        position: middle,
      };
    }
    const full = size.map((part) => whole(Math.abs(part) * (event.altKey ? 2 : 1)));
    if (tool === "rectangle" || tool === "ellipse") return { "shape.kind": tool, "shape.size": full, position: middle };
    const more = tool === "polygon" ? { "shape.corners": 6 } : {};
    return { "shape.kind": tool, "shape.radius": round(Math.max(...full) / 2), position: middle, ...more };
  }

  // The course of a drag

  move(event) {
    const { drag } = this;
    if (!drag) return;
    if (drag.panning) {
      this.stage.pan(event.clientX - drag.last[0], event.clientY - drag.last[1]);
      drag.last = [event.clientX, event.clientY];
      return;
    }
    const far = Math.hypot(event.clientX - this.start.x, event.clientY - this.start.y) > CLICK_PX;
    if (far) this.start.moved = true;
    if (!this.start.moved || drag.waiting || drag.text) return;
    const at = this.stage.toScene(event);
    if (drag.marquee || drag.marqueePoints) {
      this.overlay.marquee = [drag.marquee || drag.marqueePoints, at];
      this.overlay.draw();
      return;
    }
    drag.now = drag.edits(at, event);
    if (!drag.end) this.editor.draft(drag.now);
  }

  async up(event) {
    const { drag } = this;
    this.drag = null;
    this.overlay.snaps = [];
    if (!drag || drag.panning) return;
    if (drag.text) {
      this.placeText(drag.text);
      return;
    }
    if (drag.marquee) {
      this.endMarquee(drag, event);
      return;
    }
    if (drag.marqueePoints && this.start.moved) {
      this.overlay.marquee = null;
      this.shapes.choosePoints(boxAround([drag.marqueePoints, this.stage.toScene(event)]), event.shiftKey);
      return;
    }
    if (!this.start.moved || drag.waiting) {
      this.overlay.draw();
      drag.click?.();
      return;
    }
    if (drag.end) {
      await drag.end();
      return;
    }
    if (drag.now?.length) {
      const edits = drag.now;
      const one = edits.length === 1 ? edits[0] : { kind: "together", title: drag.title, edits };
      this.editor.drafts = [];
      await this.editor.edit(one);
      drag.after?.();
    }
  }

  cancel() {
    this.drag = null;
    this.overlay.drawn = null;
    this.overlay.snaps = [];
    this.overlay.marquee = null;
    this.editor.draft([]);
  }

  /** Escape while dragging; true if there was something to give up. */
  giveUp() {
    if (this.stage.dropper) {
      this.stage.dropper = null;
      this.cursor();
      return true;
    }
    if (this.editor.drawnPath) {
      this.shapes.endPen(false);
      return true;
    }
    if (!this.drag && (this.editor.pointing || this.editor.mask || this.editor.drawsMask)) {
      if (this.editor.drawsMask) this.editor.setTool("select");
      else if (this.editor.pointing && this.editor.mask) this.editor.editPoints(null);
      else this.editor.leavePoints();
      this.overlay.draw();
      this.editor.tell("view");
      return true;
    }
    if (!this.drag) return false;
    this.cancel();
    return true;
  }

  endMarquee(drag, event) {
    this.overlay.marquee = null;
    const to = this.stage.toScene(event);
    const box = boxAround([drag.marquee, to]);
    const hit = this.editor.layers.filter((layer) => {
      const view = this.editor.view[layer.id];
      if (layer.hidden || layer.locked || !this.editor.kinds[layer.kind].placed || !view?.on || !view.corners) return false;
      const own = boxAround(view.corners);
      return own[0] < box[2] && own[2] > box[0] && own[1] < box[3] && own[3] > box[1];
    });
    this.editor.select(hit.map((layer) => layer.id), { add: drag.add });
    this.overlay.draw();
  }

  // Text

  async placeText(at) {
    const layer = this.editor.addText(at.map(round));
    this.editor.setTool("select");
    if (await this.editor.addLayer(layer)) this.editText(this.editor.layer(layer.id));
  }

  doubleClick(event) {
    if (this.editor.tool !== "select") return;
    const at = this.stage.toScene(event);
    const layer = this.editor.selectedLayers.find((each) => each.kind === "text" && this.contains(each, at));
    if (layer && !layer.locked) this.editText(layer);
  }

  editText(layer) {
    document.querySelector(".editing-text")?.remove();
    const area = document.createElement("textarea");
    area.className = "editing-text";
    area.setAttribute("aria-label", "Text");
    area.value = this.editor.value(layer, "text");
    area.rows = Math.max(2, area.value.split("\n").length);
    const corners = this.editor.view[layer.id]?.corners || [[0, 0], [0, 0], [0, 0], [0, 0]];
    const [x, y] = this.stage.toScreen([Math.min(...corners.map((p) => p[0])), Math.max(...corners.map((p) => p[1]))]);
    const box = this.stage.element.getBoundingClientRect();
    area.style.left = `${Math.max(60, Math.min(box.width - 240, x))}px`;
    area.style.top = `${Math.max(8, Math.min(box.height - 80, y + 8))}px`;
    const edit = () => this.editor.textEdit([layer], area.value);
    let ended = false;
    const end = (keep) => {
      if (ended) return;
      ended = true;
      this.editor.drafts = [];
      const changed = area.value !== this.editor.value(layer, "text");
      area.remove();
      if (keep && changed) this.editor.edit(edit());
      else this.editor.draft([]);
    };
    area.addEventListener("input", () => this.editor.draft([edit()]));
    area.addEventListener("blur", () => end(true));
    area.addEventListener("keydown", (event) => {
      event.stopPropagation();
      if (event.key === "Escape") end(false);
      if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) end(true);
    });
    this.stage.element.append(area);
    area.focus();
    area.select();
  }

  // Colours and files

  async takeColour(at) {
    const { dropper } = this.stage;
    this.stage.dropper = null;
    this.cursor();
    try {
      const { colour } = await api.colour(this.editor.projectId, this.editor.sceneId, this.editor.time, at[0], at[1]);
      dropper(colour);
    } catch (error) {
      complain(error);
    }
  }

  pickColour(then) {
    this.stage.dropper = then;
    this.cursor();
    note("Click the colour on the stage. Escape gives up.", { seconds: 3 });
  }

  menu(event) {
    if (event.target.closest(".tools, .editing-text")) return;
    event.preventDefault();
    this.choose(this.stage.toScene(event), { shiftKey: false, altKey: true }, false).then(() =>
      window.dispatchEvent(new CustomEvent("open-layer-menu", { detail: { x: event.clientX, y: event.clientY } })),
    );
  }

  dragOver(event) {
    if (![...event.dataTransfer.types].includes("Files")) return;
    event.preventDefault();
    this.stage.element.classList.add("drop-here");
  }

  drop(event) {
    event.preventDefault();
    this.stage.element.classList.remove("drop-here");
    const at = this.stage.toScene(event).map(round);
    this.editor.upload([...event.dataTransfer.files], { place: true, point: at });
  }
}

// Small matrices: [a, b, c, d, e, f] as in SVG's matrix()

function solve([a, b, c, d], [x, y]) {
  const det = a * d - b * c;
  return [(d * x - c * y) / det, (a * y - b * x) / det];
}

/** The matrix without its scale, null where it is folded flat. */
function unscale([a, b, c, d], [sx, sy]) {
  if (Math.abs(sx) < 1e-6 || Math.abs(sy) < 1e-6) return null;
  return [a / sx, b / sx, c / sy, d / sy, 0, 0];
}
