// What the pointer does on the stage: select, move, scale, turn, draw, edit text, pick colours.
import { api } from "../api.js";
import { complain, note } from "../common.js";
import { openInner } from "./nesting_panel.js";
import { PathPointing } from "./path_pointing.js";
import { minus, plus, round } from "./points.js";
import { ShapePointing } from "./shape_pointing.js";
import { boxAround } from "./snapping.js";
import { TransformDrags } from "./transform_drags.js";

const CLICK_PX = 3;

export class Pointing extends TransformDrags {
  constructor(editor, stage, overlay) {
    super();
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
    this.stage.element.style.cursor = this.stage.dropper || this.editor.asking || drawing ? "crosshair" : tool === "hand" || this.space ? "grab" : "default";
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
    if (event.target.closest(".tools, .faults, .editing-text, .compare-divider")) return;
    if (event.button === 2) return;
    this.stage.element.focus({ preventScroll: true });
    if (this.editor.isPlaying()) this.editor.player.pause();
    const at = this.stage.toScene(event);
    if (this.stage.dropper) {
      this.takeColour(at);
      return;
    }
    if (this.editor.asking) {
      this.answerWith(at);
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
    const layers = this.editor.selectedLayers.filter((layer) => !layer.locked && this.editor.kinds[layer.kind].placed);
    if (handle === "pivot") return this.pivotDrag(layers[0]);
    if (handle === "rotate") return this.rotateDrag(layers, at);
    return this.scaleDrag(layers, handle);
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

  /** Something asked for a layer: the highest one here with a place. */
  async answerWith(at) {
    const { editor } = this;
    try {
      const { layers } = await api.pick(editor.projectId, editor.sceneId, editor.time, at[0], at[1], 5 / this.stage.scale);
      const other = layers.filter((id) => editor.kinds[editor.layer(id)?.kind]?.placed && !editor.selected.has(id));
      if (other.length) editor.answer(other[0]);
      else note("There is no other layer here.");
    } catch (error) {
      complain(error);
    }
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
    const full = size.map((part) => Math.round(Math.abs(part) * (event.altKey ? 2 : 1)));
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
    if (!drag.end) this.editor.preview(drag.now);
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
      await this.editor.commit(one);
      drag.after?.();
    }
  }

  cancel() {
    this.drag = null;
    this.overlay.drawn = null;
    this.overlay.snaps = [];
    this.overlay.marquee = null;
    this.editor.withdraw();
  }

  /** Escape while dragging; true if there was something to give up. */
  giveUp() {
    if (this.editor.asking) {
      this.editor.asking = null;
      this.cursor();
      return true;
    }
    if (this.stage.dropper) {
      this.endDropper();
      return true;
    }
    if (this.editor.drawnPath) {
      this.shapes.endPen(false);
      return true;
    }
    const draws = this.editor.drawsMask || this.editor.drawsInto;
    if (!this.drag && (this.editor.pointing || this.editor.mask || draws)) {
      if (draws) this.editor.setTool("select");
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
    const scene = this.editor.selectedLayers.find((each) => each.kind === "scene" && this.contains(each, at));
    if (scene) {
      openInner(this.editor, scene);
      return;
    }
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
      this.editor.commit();
      const changed = area.value !== this.editor.value(layer, "text");
      area.remove();
      if (keep && changed) this.editor.edit(edit());
      else this.editor.withdraw();
    };
    area.addEventListener("input", () => this.editor.preview([edit()]));
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
    this.endDropper();
    try {
      const asked = api.colour(this.editor.projectId, this.editor.sceneId, this.editor.time, at[0], at[1], dropper.before);
      const { colour } = await this.editor.working(asked);
      if (dropper.before && colour.length > 7 && colour.endsWith("00")) return note("There is nothing of the layer there.");
      dropper.then(dropper.before ? colour.slice(0, 7) : colour);
    } catch (error) {
      complain(error);
    }
  }

  /** Waits for a click on the stage; `before` names a layer and an effect: then the colour is taken
   * from what the effect is given, which the stage shows meanwhile. */
  pickColour(then, before = null) {
    this.stage.dropper = { then, before };
    this.editor.before = before ? `${before.layer}|${before.effect}` : "";
    this.editor.requestStage();
    this.cursor();
    const what = before ? "The stage shows the layer before the effect. " : "";
    note(`${what}Click the colour on the stage. Escape gives up.`, { seconds: 3 });
  }

  endDropper() {
    this.stage.dropper = null;
    if (this.editor.before) {
      this.editor.before = "";
      this.editor.requestStage();
    }
    this.cursor();
  }

  menu(event) {
    if (event.target.closest(".tools, .faults, .editing-text")) return;
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
