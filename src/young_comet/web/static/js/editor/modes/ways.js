// Motion paths on the stage: keys and handles dragged, points put in and taken out.
import { note } from "../../notes.js";
import { along, minus } from "../points.js";

export class WayDrags {
  constructor(editor, stage) {
    this.editor = editor;
    this.stage = stage;
  }

  /** A drag for what lies under the pointer: a handle, a key, the path; else null. Inside the
   *  chosen layer's own box the layer comes first. */
  grip(event, at, inside) {
    const again = this.second(event);
    if (again) return { edits: () => [], click: again, twice: true };
    const handle = event.target.closest?.("[data-way-handle]");
    if (handle) return this.handleDrag(handle.dataset, at);
    const taken = event.altKey && this.nearest(at);
    if (taken) return this.takeOut(taken);
    const key = event.target.closest?.("[data-way-key]");
    if (key && !(inside && this.isHere(key.dataset, at))) return this.keyDrag(event, key.dataset, at);
    const way = event.target.closest?.("[data-way]")?.dataset.way;
    if (!way) return null;
    if (event.ctrlKey || event.metaKey) return this.wholeDrag(way, at);
    return inside ? null : { edits: () => [], click: () => this.onWay(way, at, event) };
  }

  /** What the second of two quick clicks at one place does. What is drawn is drawn anew in
   *  between, so the browser's own double click does not come. */
  second(event) {
    const { clicked } = this;
    this.clicked = null;
    if (!clicked || event.timeStamp - clicked.time > 450) return null;
    return Math.hypot(event.clientX - clicked.x, event.clientY - clicked.y) < 6 ? clicked.again : null;
  }

  await(event, again) {
    this.clicked = { x: event.clientX, y: event.clientY, time: event.timeStamp, again };
  }

  /** Whether a key is that of this moment, or lies where the layer is now: its body is meant then. */
  isHere({ wayLayer, wayKey }, at) {
    const { editor } = this;
    const now = editor.view[wayLayer]?.pivot;
    if (now && Math.hypot(now[0] - at[0], now[1] - at[1]) * this.stage.scale < 10) return true;
    const time = editor.keyTime({ layer: wayLayer, property: "position", key: wayKey });
    return Math.abs(time - editor.time) < editor.timeOf(1) / 2;
  }

  /** A click on the path goes to that moment; a second one puts a point there. */
  onWay(layerId, at, event) {
    const { editor } = this;
    const way = editor.ways[layerId];
    let best = 0;
    let nearest = Infinity;
    way.points.forEach((point, index) => {
      const distance = Math.hypot(point[0] - at[0], point[1] - at[1]);
      if (distance < nearest) [best, nearest] = [index, distance];
    });
    const frame = way.first_frame + best;
    editor.goTo(frame);
    this.await(event, () => {
      if (editor.isSplit(editor.layer(layerId), "position")) {
        note("x and y of this path have keys of their own: join them to put points on it.");
      } else {
        editor.edit({
          kind: "set-keys",
          scene: editor.sceneId,
          targets: [{ layer: layerId, property: "position" }],
          time_s: editor.timeOf(frame),
        });
      }
    });
  }

  /** A click on a key goes to its moment; a second one rounds it, or makes it a corner. */
  onKey(entry, event) {
    const { editor } = this;
    editor.goTo(editor.frameAt(editor.keyTime(entry)));
    const found = editor.ways[entry.layer].keys.find((each) => each.id === entry.key);
    const edit = {
      kind: "round-path",
      scene: editor.sceneId,
      keys: [entry],
      round: !(found.into || found.out),
    };
    this.await(event, () => editor.edit(edit));
  }

  keyDrag(event, { wayLayer, wayKey }, at) {
    const { editor } = this;
    const entry = { layer: wayLayer, property: "position", key: wayKey };
    if (event.shiftKey) editor.selectKeys([entry], { toggle: true });
    else if (!editor.keys.has(`${wayLayer}|position|${wayKey}`)) editor.selectKeys([entry]);
    const keys = editor.chosenKeys.filter((each) => each.property === "position");
    const held = { kind: "move-way-keys", scene: editor.sceneId, keys, time_s: editor.time };
    return {
      edits: (to, now) => [{ ...held, by: along(at, to, now.shiftKey) }],
      click: () => this.onKey(entry, event),
    };
  }

  handleDrag({ wayHandle, wayLayer, wayKey }, at) {
    const { editor } = this;
    const side = wayHandle === "out" ? "out" : "in";
    const held = { kind: "bend-way", scene: editor.sceneId, layer: wayLayer, key: wayKey, side };
    return {
      edits: (to, now) => [{ ...held, by: minus(to, at), mirrored: !now.altKey, time_s: editor.time }],
    };
  }

  wholeDrag(layerId, at) {
    const { editor } = this;
    const held = { kind: "move-way", scene: editor.sceneId, layer: layerId, time_s: editor.time };
    return { edits: (to) => [{ ...held, by: minus(to, at) }] };
  }

  /** The key of a path within reach of a point, also under other handles. */
  nearest(at) {
    for (const [layer, way] of Object.entries(this.editor.ways)) {
      if (!this.editor.selected.has(layer)) continue;
      const key = way.keys.find(
        (each) => Math.hypot(each.point[0] - at[0], each.point[1] - at[1]) * this.stage.scale < 8,
      );
      if (key) return { layer, property: "position", key: key.id };
    }
    return null;
  }

  takeOut(entry) {
    const { editor } = this;
    const keys = [entry];
    return { edits: () => [], click: () => editor.edit({ kind: "take-keys", scene: editor.sceneId, keys }) };
  }
}
