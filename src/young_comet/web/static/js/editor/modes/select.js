// Layers chosen on the stage, taken hold of by their bodies and handles, and opened.
import { api } from "../../api.js";
import { complain } from "../../notes.js";
import { openInner } from "../actions/nesting.js";
import { insideCorners } from "../points.js";
import { boxAround } from "../snapping.js";
import { LayerDrags } from "./layer_drags.js";
import { placeDrag, placesOf } from "./places.js";
import { WayDrags } from "./ways.js";

export class SelectMode extends LayerDrags {
  constructor(...made) {
    super(...made);
    this.wayDrags = new WayDrags(this.editor, this.stage);
  }

  get handles() {
    return true;
  }

  get selects() {
    return true;
  }

  press(at, event) {
    return this.grip(event, at) || this.onLayer(event, at);
  }

  /** A drag for a handle under the pointer, null where there is none. */
  grip(event, at) {
    const inner = this.inner(event, at);
    if (inner) return inner;
    const onWay = this.wayDrags.grip(event, at, this.insideSelected(at));
    if (onWay) return onWay;
    const gradient = event.target.closest?.("[data-gradient]");
    if (gradient) return this.gradientDrag(gradient, at);
    const handle = event.target.closest?.("[data-handle]")?.dataset.handle;
    if (!handle) return null;
    const layers = this.selectedPlaced().filter((layer) => !layer.locked);
    if (handle === "rotate") return this.rotateDrag(layers, at);
    return this.scaleDrag(layers, handle);
  }

  /** What is inside a layer: places of its effects, outlines of its masks. */
  inner(event, at) {
    const { editor } = this;
    const place = event.target.closest?.("[data-place]");
    if (place) return placeDrag(editor, placesOf(editor)[Number(place.dataset.place)], at);
    const mask = event.target.closest?.("[data-mask-line]")?.dataset.maskLine;
    const choose = () => {
      editor.enter("mask", { mask });
      editor.tell("show-tab", "looks");
    };
    return mask ? { click: choose } : null;
  }

  selectedPlaced() {
    return this.editor.selectedLayers.filter((layer) => this.editor.kinds[layer.kind].placed);
  }

  insideSelected(at) {
    return this.selectedPlaced().some((layer) => contains(this.editor, layer, at));
  }

  onLayer(event, at) {
    const copying = event.ctrlKey || event.metaKey;
    if (this.insideSelected(at) && !event.shiftKey) {
      const choose = () => chooseAt(this.hands, at, event, true);
      return { ...this.moveDrag(at, copying), click: choose };
    }
    // What is there is asked first; meanwhile the pointer may move on.
    const drag = {};
    drag.waiting = chooseAt(this.hands, at, event, false).then((found) => {
      drag.waiting = null;
      if (found && !event.shiftKey) Object.assign(drag, this.moveDrag(at, copying));
      else if (!found) {
        Object.assign(
          drag,
          this.marquee(at, (box) => this.chooseWithin(box, event.shiftKey)),
        );
      }
    });
    return drag;
  }

  /** A frame drawn about what shall be chosen. */
  marquee(from, choose) {
    const { overlay } = this;
    let to = from;
    const moved = (_event, at) => {
      to = at;
      overlay.marquee = [from, to];
      overlay.draw();
    };
    const end = () => {
      overlay.marquee = null;
      choose(boxAround([from, to]));
      overlay.draw();
    };
    return { moved, end };
  }

  chooseWithin(box, add) {
    const { editor } = this;
    const hit = editor.layers.filter((layer) => {
      const view = editor.view[layer.id];
      if (layer.hidden || layer.locked || !editor.kinds[layer.kind].placed || !view?.on || !view.corners) {
        return false;
      }
      const own = boxAround(view.corners);
      return own[0] < box[2] && own[2] > box[0] && own[1] < box[3] && own[3] > box[1];
    });
    editor.select(
      hit.map((layer) => layer.id),
      { add },
    );
  }

  /** Opens what lies there; true where there is something to open. */
  async doubleClick(at) {
    // What the first press has chosen may not be known yet.
    if (!this.insideSelected(at)) await chooseAt(this.hands, at, { shiftKey: false, altKey: true }, false);
    const { editor } = this;
    const here = editor.selectedLayers.filter((layer) => contains(editor, layer, at));
    const scene = here.find((layer) => layer.kind === "scene");
    const text = here.find((layer) => layer.kind === "text" && !layer.locked);
    if (scene) openInner(editor, scene);
    else if (text) editor.enter("write", { layer: text.id, at });
    return Boolean(scene || text);
  }
}

/** Whether a point of the scene lies within a layer's corners. */
function contains(editor, layer, at) {
  const view = editor.view[layer.id];
  return Boolean(view?.on && view.corners) && insideCorners(view.corners, at);
}

/** Selects what is under a point; `again` goes into a whole selected group. Resolves to whether
 *  something with a place is there. */
export async function chooseAt({ editor, stage }, at, { shiftKey, altKey }, again) {
  const isPlaced = (layer) => editor.kinds[layer.kind].placed;
  let found;
  try {
    found = (await api.pick(editor.projectId, editor.sceneId, editor.time, at[0], at[1], 5 / stage.scale))
      .layers;
  } catch (error) {
    complain(error);
    return false;
  }
  const beside = at[0] < 0 || at[1] < 0 || at[0] > editor.scene.width || at[1] > editor.scene.height;
  const layer = found
    .map((id) => editor.layer(id))
    .find((each) => each && (isPlaced(each) || (found.length === 1 && !beside)));
  // What fills the frame is chosen only where nothing else was: a click beside things lets them go.
  const behind = layer && !isPlaced(layer) && !again && !altKey;
  if (!layer || (behind && editor.selected.size && !editor.selected.has(layer.id))) {
    if (!shiftKey) editor.select([]);
    return false;
  }
  const members = layer.group ? editor.layers.filter((each) => each.group === layer.group) : [layer];
  const ids = members.map((each) => each.id);
  const whole = ids.length > 1 && ids.every((id) => editor.selected.has(id));
  const chosen = whole ? [layer.id] : ids;
  if (shiftKey) editor.select(chosen, { toggle: true });
  else if (again || !chosen.every((id) => editor.selected.has(id))) editor.select(chosen);
  return isPlaced(layer);
}
