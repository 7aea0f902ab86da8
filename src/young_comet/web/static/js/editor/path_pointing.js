// Motion paths on the stage: keys and handles dragged, points put in and taken out, paths drawn.
import { note } from "../common.js";
import { minus, plus, round } from "./points.js";

/** SVG of the paths of the chosen layers: dots a frame, keys, and handles of chosen keys. */
export function waysSvg(overlay) {
  const { editor } = overlay;
  const esc = (number) => Math.round(number * 10) / 10;
  const out = [];
  for (const [id, way] of Object.entries(editor.ways)) {
    const layer = editor.layer(id);
    if (!layer || !editor.selected.has(id)) continue;
    const points = way.points.map((p) => overlay.point(p));
    const line = points.map((p) => p.map(esc).join(",")).join(" ");
    out.push(`<polyline class="way" points="${line}"/><polyline class="way-grip" data-way="${id}" points="${line}"/>`);
    for (const p of points) out.push(`<circle class="way-dot" cx="${esc(p[0])}" cy="${esc(p[1])}" r="1.7"/>`);
    for (const key of way.keys) {
      const [x, y] = overlay.point(key.point);
      const chosen = editor.keys.has(`${id}|position|${key.id}`);
      if (chosen) {
        for (const side of ["into", "out"]) {
          if (!key[side]) continue;
          const [hx, hy] = overlay.point(key[side]);
          out.push(`<line class="way-stem" x1="${esc(x)}" y1="${esc(y)}" x2="${esc(hx)}" y2="${esc(hy)}"/><g data-way-handle="${side}" data-way-layer="${id}" data-way-key="${key.id}"><circle class="grip" cx="${esc(hx)}" cy="${esc(hy)}" r="9"/><circle class="way-handle" cx="${esc(hx)}" cy="${esc(hy)}" r="3.6"/></g>`);
        }
      }
      const curved = key.into || key.out;
      const shape = curved ? `<circle class="way-key ${chosen ? "chosen" : ""}" cx="${esc(x)}" cy="${esc(y)}" r="4.2"/>` : `<rect class="way-key ${chosen ? "chosen" : ""}" x="${esc(x - 3.6)}" y="${esc(y - 3.6)}" width="7.2" height="7.2" rx="1.5"/>`;
      out.push(`<g data-way-key="${key.id}" data-way-layer="${id}"><circle class="grip" cx="${esc(x)}" cy="${esc(y)}" r="9"/>${shape}</g>`);
    }
  }
  return out.join("");
}

export class PathPointing {
  constructor(editor, stage) {
    this.editor = editor;
    this.stage = stage;
  }

  /** A drag for what lies under the pointer: a handle, a key, the path; else null. Inside the
   *  chosen layer's own box the layer comes first. */
  grip(event, at, inside) {
    const again = this.second(event);
    if (again) return { edits: () => [], click: again };
    const handle = event.target.closest?.("[data-way-handle]");
    if (handle) return this.handleDrag(handle.dataset, at);
    const taken = event.altKey && this.nearest(at);
    if (taken) return this.takeOut(taken);
    const key = event.target.closest?.("[data-way-key]");
    if (key && !(inside && this.isHere(key.dataset))) return this.keyDrag(event, key.dataset, at);
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

  isHere({ wayLayer, wayKey }) {
    const { editor } = this;
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
      if (editor.isSplit(editor.layer(layerId), "position")) note("x and y of this path have keys of their own: join them to put points on it.");
      else editor.edit({ kind: "set-keys", scene: editor.sceneId, targets: [{ layer: layerId, property: "position" }], time_s: editor.timeOf(frame) });
    });
  }

  /** A click on a key goes to its moment; a second one rounds it, or makes it a corner. */
  onKey(entry, event) {
    const { editor } = this;
    editor.goTo(editor.frameAt(editor.keyTime(entry)));
    const found = editor.ways[entry.layer].keys.find((each) => each.id === entry.key);
    const round = !(found.into || found.out);
    this.await(event, () => editor.edit({ kind: "round-path", scene: editor.sceneId, keys: [entry], round }));
  }

  keyDrag(event, { wayLayer, wayKey }, at) {
    const { editor } = this;
    const entry = { layer: wayLayer, property: "position", key: wayKey };
    if (event.shiftKey) editor.selectKeys([entry], { toggle: true });
    else if (!editor.keys.has(`${wayLayer}|position|${wayKey}`)) editor.selectKeys([entry]);
    const chosen = editor.chosenKeys.filter((each) => each.property === "position");
    const from = chosen.map((each) => editor.keyOf(each).value);
    const edits = (to, now) => {
      let by = minus(to, at);
      if (now.shiftKey) by = Math.abs(by[0]) > Math.abs(by[1]) ? [by[0], 0] : [0, by[1]];
      const moves = chosen.map((each, i) => ({ ...each, time_s: editor.keyTime(each), value: plus(from[i], editor.shiftOf(each.layer, by)).map(round) }));
      return [{ kind: "move-keys", scene: editor.sceneId, moves, free: true }];
    };
    return { edits, click: () => this.onKey(entry, event) };
  }

  handleDrag({ wayHandle, wayLayer, wayKey }, at) {
    const { editor } = this;
    const key = editor.ways[wayLayer].keys.find((each) => each.id === wayKey);
    const from = minus(key[wayHandle], key.point);
    const edits = (to, now) => {
      const handle = editor.shiftOf(wayLayer, plus(from, minus(to, at))).map(round);
      const side = wayHandle === "out" ? { handle_out: handle } : { handle_in: handle };
      return [{ kind: "bend-path", scene: editor.sceneId, layer: wayLayer, key: wayKey, mirrored: !now.altKey, ...side }];
    };
    return { edits, click: () => {} };
  }

  wholeDrag(layerId, at) {
    const { editor } = this;
    return { edits: (to) => [{ kind: "move-path", scene: editor.sceneId, layer: layerId, by: editor.shiftOf(layerId, minus(to, at)).map(round) }], click: () => {} };
  }

  /** The key of a path within reach of a point, also under other handles. */
  nearest(at) {
    for (const [layer, way] of Object.entries(this.editor.ways)) {
      if (!this.editor.selected.has(layer)) continue;
      const key = way.keys.find((each) => Math.hypot(each.point[0] - at[0], each.point[1] - at[1]) * this.stage.scale < 8);
      if (key) return { layer, property: "position", key: key.id };
    }
    return null;
  }

  takeOut(entry) {
    const { editor } = this;
    const keys = [entry];
    return { edits: () => [], click: () => editor.edit({ kind: "take-keys", scene: editor.sceneId, keys }) };
  }

  /** The pencil: a drawn line becomes the way of the chosen layer. */
  pencil(at, overlay) {
    const { editor } = this;
    const [layer] = editor.selectedLayers;
    if (editor.selected.size !== 1 || !editor.kinds[layer.kind].placed) {
      note("Choose one layer first: what you draw becomes its path.");
      editor.setTool("select");
      return { edits: () => [] };
    }
    const points = [at];
    const duration_s = this.duration ?? Math.min(2, layer.end_s - Math.max(layer.start_s, editor.time));
    const start_s = Math.max(layer.start_s, editor.time);
    const edits = (to) => {
      const last = points.at(-1);
      if (Math.hypot(to[0] - last[0], to[1] - last[1]) * this.stage.scale > 1.5) points.push(to.map(round));
      overlay.drawn = points;
      overlay.draw();
      return [];
    };
    const end = async () => {
      overlay.drawn = null;
      editor.setTool("select");
      if (points.length < 4) return;
      await editor.edit({ kind: "take-path", scene: editor.sceneId, layer: layer.id, points, start_s, duration_s: Math.max(0.1, duration_s) });
    };
    return { edits, end, click: end };
  }
}
