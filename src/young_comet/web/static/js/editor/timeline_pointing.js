// What the pointer does in the timeline's rows: select, slide, trim, slip, order layers.
import { jointDrag } from "./joints.js";
import { nameInput } from "../common.js";
import { note } from "../notes.js";
import { boxDrag, handleDrag, keyDrag } from "./key_drags.js";
import { fadeDrag, gainDrag } from "./sound_drags.js";
import { speedText } from "./lanes.js";
import { momentName, saidTime } from "./status_line.js";
import { shiftOnto, timesToSnap } from "./time_snapping.js";

const CLICK_PX = 3;
const REACH_PX = 7;
const IN_TIME = [
  ["Alt", "without snapping"],
  ["Esc", "gives it up"],
];

export class TimelinePointing {
  constructor(editor, timeline) {
    this.editor = editor;
    this.timeline = timeline;
    this.drag = null;
    this.renaming = false;
    const { rows, ruler } = timeline;
    this.speed = document.getElementById("lane-speed");
    rows.addEventListener("pointerleave", () => (this.speed.hidden = true));
    rows.addEventListener("pointerdown", (event) => this.down(event));
    rows.addEventListener("pointermove", (event) => this.move(event));
    rows.addEventListener("pointerup", (event) => this.up(event));
    rows.addEventListener("pointercancel", () => this.cancel());
    rows.addEventListener("contextmenu", (event) => this.menu(event));
    for (const element of [rows, ruler]) {
      element.addEventListener("wheel", (event) => this.wheel(event), { passive: false });
    }
  }

  // Time

  xOf(event) {
    return event.clientX - this.timeline.ruler.getBoundingClientRect().left;
  }

  wheel(event) {
    if (event.ctrlKey || event.metaKey || this.timeline.ruler.contains(event.target)) {
      event.preventDefault();
      this.timeline.zoomAbout(this.xOf(event), Math.exp(event.deltaY * 0.0025));
    } else if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)) {
      event.preventDefault();
      this.timeline.scrollBy(event.deltaX || event.deltaY);
    }
  }

  // Rows

  down(event) {
    if (event.button !== 0 || event.target.closest("input")) return;
    const line = event.target.closest(".row-line");
    if (!line) {
      this.timeline.rows.setPointerCapture(event.pointerId);
      this.drag = boxDrag(this, event, () => this.editor.select([]));
      Object.assign(this.drag, { x: event.clientX, y: event.clientY, moved: false });
      return;
    }
    if (this.button(event, line)) return;
    if (this.twice(event, line)) return;
    this.timeline.rows.setPointerCapture(event.pointerId);
    const key = event.target.closest("[data-key]");
    const handle = event.target.closest("[data-handle]");
    if (event.target.closest("[data-lane-grip]")) this.drag = this.heightDrag(event, line);
    else if (key && handle) this.drag = handleDrag(this, event, line, key.dataset.key, handle);
    else if (key) this.drag = keyDrag(this, event, line, key.dataset.key);
    else if (line.dataset.lane && event.target.closest(".row-head")) {
      this.drag = { click: () => this.editor.select([line.dataset.laneLayer]) };
    } else if (line.dataset.lane) {
      this.drag = boxDrag(this, event, () => this.editor.select([line.dataset.laneLayer]));
    } else if (event.target.closest(".row-track")) this.drag = this.barDrag(event, line);
    else this.drag = this.orderDrag(event, line);
    if (this.drag) {
      Object.assign(this.drag, { x: event.clientX, y: event.clientY, moved: false });
      this.drag.keys = IN_TIME;
    }
  }

  /** The second of two quick presses on the same row: names and lanes open. */
  twice(event, line) {
    const row =
      line.dataset.layer ||
      line.dataset.group ||
      (line.dataset.lane ? `${line.dataset.laneLayer}|${line.dataset.lane}` : "");
    const now = event.timeStamp; // when it was pressed: the page may have been busy since
    const again = row && this.pressed?.row === row && now - this.pressed.time < 500;
    this.pressed = again ? null : { row, time: now };
    if (!again) return false;
    event.preventDefault();
    if (line.dataset.lane) {
      if (event.target.closest("[data-key]")) return false;
      if (event.target.closest(".row-head")) {
        this.timeline.toggleTall(line.dataset.laneLayer, line.dataset.lane);
      } else this.keyHere(event, line);
    } else if (event.target.closest(".row-head")) this.rename(line);
    else if (line.dataset.layer && event.target.closest(".row-track")) this.open(line.dataset.layer);
    return true;
  }

  button(event, line) {
    const { editor, timeline } = this;
    const fold = event.target.closest("[data-fold]");
    const group = event.target.closest("[data-fold-group]");
    const toggle = event.target.closest("[data-toggle]");
    const tall = event.target.closest("[data-tall]");
    if (tall) timeline.toggleTall(line.dataset.laneLayer, tall.dataset.tall);
    else if (fold) this.open(fold.dataset.fold);
    else if (group) {
      const id = group.dataset.foldGroup;
      if (!timeline.folded.delete(id)) timeline.folded.add(id);
      timeline.draw();
    } else if (toggle) {
      const what = toggle.dataset.toggle;
      if (event.altKey && what === "hidden") {
        editor.seeing.toggle([line.dataset.layer], false);
        return true;
      }
      const layer = editor.layer(line.dataset.layer);
      const ids = editor.selected.has(layer.id) ? [...editor.selected] : [layer.id];
      editor.edit({ kind: "change-layers", scene: editor.sceneId, layers: ids, [what]: !layer[what] });
    } else return false;
    return true;
  }

  open(layerId) {
    const { openLayers } = this.editor;
    if (!openLayers.delete(layerId)) openLayers.add(layerId);
    this.timeline.draw();
    this.editor.requestStage();
  }

  membersOf(line) {
    const { editor } = this;
    if (line.dataset.layer) return [line.dataset.layer];
    return editor.layers.filter((layer) => layer.group === line.dataset.group).map((layer) => layer.id);
  }

  /** Chooses rows as lists do: Ctrl toggles, Shift takes all between. */
  choose(event, line) {
    const { editor } = this;
    const ids = this.membersOf(line);
    if (event.ctrlKey || event.metaKey) editor.select(ids, { toggle: true });
    else if (event.shiftKey && editor.selected.size) {
      const order = editor.layers.map((layer) => layer.id);
      const known = [...editor.selected, ...ids].map((id) => order.indexOf(id));
      editor.select(order.slice(Math.min(...known), Math.max(...known) + 1));
    } else if (!ids.every((id) => editor.selected.has(id))) editor.select(ids);
    else return () => editor.select(ids);
    return null;
  }

  // Drags

  barDrag(event, line) {
    const { editor, timeline } = this;
    const part = event.target.closest("[data-bar]")?.dataset.bar;
    if (!part) return boxDrag(this, event, () => (this.choose(event, line) || (() => {}))());
    const click = this.choose(event, line);
    const layers = editor.selectedLayers.filter((layer) => !layer.locked);
    if (!layers.length) {
      note("This layer is locked.");
      return null;
    }
    if (part === "arrive" || part === "leave") {
      return this.slopeDrag(part, editor.layer(line.dataset.layer), click);
    }
    if (part.startsWith("joint-")) return jointDrag(this, part, editor.layer(line.dataset.layer), click);
    if (part === "gain") {
      return gainDrag(this, layers, click, editor.layer(line.dataset.layer), this.xOf(event));
    }
    if (part.startsWith("fade-")) return fadeDrag(this, part, editor.layer(line.dataset.layer), click);
    const from = layers.map((layer) => ({ id: layer.id, start_s: layer.start_s, end_s: layer.end_s }));
    const points = this.snapTimes(new Set(layers.map((layer) => layer.id)), new Set());
    const slipping = part === "slide" && editor.slip;
    const edits = (by, free) => {
      if (slipping) {
        const frame = editor.timeOf(1);
        return [
          {
            kind: "slip-layers",
            scene: editor.sceneId,
            layers: from.map((span) => span.id),
            by_s: Math.round(by / frame) * frame,
          },
        ];
      }
      const borders = from.flatMap((span) =>
        part === "slide" ? [span.start_s, span.end_s] : [part === "start" ? span.start_s : span.end_s],
      );
      const shift = this.snapShift(by, borders, points, free);
      const spans = from.map((span) => this.shifted(span, part, shift));
      timeline.spans = new Map(spans.map((span) => [span.layer, span]));
      timeline.draw();
      return [
        {
          kind: "set-spans",
          scene: editor.sceneId,
          mode: part === "slide" ? "slide" : "trim",
          spans,
          ripple: editor.ripple,
        },
      ];
    };
    return { edits, click };
  }

  /** The slope of a bar: how long the layer takes to arrive or to leave. */
  slopeDrag(part, layer, click) {
    const { editor, timeline } = this;
    const layers = editor.selectedLayers
      .filter((each) => !each.locked && each[`${part}_s`] > 0)
      .map((each) => each.id);
    const points = this.snapTimes(new Set([layer.id]), new Set());
    const sign = part === "arrive" ? 1 : -1;
    const from = part === "arrive" ? layer.start_s + layer.arrive_s : layer.end_s - layer.leave_s;
    const edits = (by, free) => {
      const moved = this.snapShift(by, [from], points, free);
      const length = Math.max(0, Math.min(layer.end_s - layer.start_s, layer[`${part}_s`] + sign * moved));
      for (const id of layers) timeline.phases.set(id, { ...editor.layer(id), [`${part}_s`]: length });
      timeline.draw();
      return [
        { kind: "set-phases", scene: editor.sceneId, layers, [`${part}_s`]: Math.round(length * 1e6) / 1e6 },
      ];
    };
    return { edits, click };
  }

  shifted(span, part, shift) {
    const frame = this.editor.timeOf(1);
    const start_s =
      part === "end"
        ? span.start_s
        : part === "start"
          ? Math.min(span.end_s - frame, span.start_s + shift)
          : span.start_s + shift;
    const end_s =
      part === "start"
        ? span.end_s
        : part === "end"
          ? Math.max(span.start_s + frame, span.end_s + shift)
          : span.end_s + shift;
    return { layer: span.id, start_s, end_s };
  }

  /** Pulls a tall lane taller or lower. */
  heightDrag(event, line) {
    const name = `${line.dataset.laneLayer}|${line.dataset.lane}`;
    const { tall } = this.editor;
    const from = [event.clientY, tall.get(name)];
    const over = (now) => {
      tall.set(name, Math.max(90, Math.min(520, Math.round(from[1] + now.clientY - from[0]))));
      this.timeline.draw();
    };
    return { over, done: () => {}, click: () => {} };
  }

  /** A key put into a lane where it was double-clicked; the curve stays as it is. */
  keyHere(event, line) {
    const { editor } = this;
    const time_s = editor.timeOf(editor.frameAt(this.timeline.timeAt(this.xOf(event))));
    const targets = [{ layer: line.dataset.laneLayer, property: line.dataset.lane }];
    editor.edit({ kind: "set-keys", scene: editor.sceneId, targets, time_s });
  }

  orderDrag(event, line) {
    const { editor, timeline } = this;
    const click = this.choose(event, line);
    let target = null;
    const over = (now) => {
      timeline.rows.querySelectorAll(".drop-before").forEach((each) => each.classList.remove("drop-before"));
      target = document
        .elementFromPoint(now.clientX, now.clientY)
        ?.closest(".row-line[data-layer], .row-line[data-group]");
      target?.classList.add("drop-before");
    };
    const done = () => {
      if (!target) return;
      target.classList.remove("drop-before");
      // Rows run from the top down, the stack from below up: drop above the target's layer.
      const ids = [...editor.selected];
      const anchor = this.membersOf(target).at(-1);
      if (ids.includes(anchor)) return;
      const rest = editor.layers.map((layer) => layer.id).filter((id) => !ids.includes(id));
      editor.edit({
        kind: "order-layers",
        scene: editor.sceneId,
        layers: ids,
        index: rest.indexOf(anchor) + 1,
      });
    };
    return { over, done, click };
  }

  // Snapping in time

  snapTimes(moved, movedKeys) {
    return timesToSnap(this.editor, moved, movedKeys);
  }

  /** The shift on whole frames, drawn to near moments; Alt leaves it free. */
  snapShift(by, borders, points, free) {
    const reach = (REACH_PX / this.timeline.width) * this.timeline.shownSpan;
    const found = shiftOnto(this.editor, by, borders, points, free, reach);
    if (this.drag) this.drag.time = found;
    return found.shift;
  }

  // The course of a drag

  move(event) {
    const { drag } = this;
    if (!drag) {
      this.tellSpeed(event);
      return;
    }
    if (Math.hypot(event.clientX - drag.x, event.clientY - drag.y) > CLICK_PX) drag.moved = true;
    if (!drag.moved) return;
    this.pressed = null; // a drag is no first half of a double click
    if (drag.over) drag.over(event);
    if (drag.edits) {
      const by = ((event.clientX - drag.x) / this.timeline.width) * this.timeline.shownSpan;
      drag.now = drag.edits(by, event.altKey, event, event.clientY - drag.y);
      this.editor.preview(drag.now);
      if (drag.time) drag.says = () => this.saidDrag(drag.time);
    }
    if (drag.says) this.editor.tell("dragging", drag);
  }

  /** How far something was dragged in time, and onto what. */
  saidDrag(time) {
    const onto = time.onto === null ? "" : momentName(this.editor, time.onto);
    return saidTime(this.editor, time.shift) + (onto ? ` · snapped to ${onto}` : "");
  }

  /** Value and speed under the pointer, beside it. */
  tellSpeed(event) {
    const line = event.target.closest?.(".tall-lane");
    const lane =
      line &&
      event.target.closest(".row-track") &&
      this.editor.lane(line.dataset.laneLayer, line.dataset.lane);
    const text = lane ? speedText(this.editor, lane, this.timeline.timeAt(this.xOf(event))) : "";
    this.speed.hidden = !text;
    if (!text) return;
    this.speed.textContent = text;
    const box = this.timeline.lower.getBoundingClientRect();
    const room = box.width - this.speed.offsetWidth - 8;
    const x = Math.min(room, event.clientX - box.left + 12);
    this.speed.style.transform = `translate(${x}px, ${event.clientY - box.top - 24}px)`;
  }

  async up() {
    const { drag } = this;
    this.drag = null;
    this.editor.tell("dragging", null);
    if (!drag) return;
    if (!drag.moved) drag.click?.();
    else if (drag.done) drag.done();
    else if (drag.now) {
      await this.editor.commit(drag.now[0]);
      this.timeline.spans.clear();
      this.timeline.phases.clear();
      this.timeline.joints.clear();
      this.timeline.waves.dragged.clear();
    }
    this.timeline.draw();
  }

  cancel() {
    this.drag?.gone?.();
    this.drag = null;
    this.editor.tell("dragging", null);
    this.timeline.spans.clear();
    this.timeline.phases.clear();
    this.timeline.joints.clear();
    this.timeline.waves.dragged.clear();
    this.editor.withdraw();
    this.timeline.draw();
  }

  giveUp() {
    if (!this.drag) return false;
    this.cancel();
    return true;
  }

  // Names, menus, keys

  /** The name of a layer, where its row is in view; false where it is not. `named` hears of a new one
      instead of the document. */
  renameLayer(id, named) {
    const line = this.timeline.rows.querySelector(`.row-line[data-layer="${id}"]`);
    if (line) this.rename(line, named);
    return Boolean(line);
  }

  rename(line, named) {
    const name = line.querySelector(".row-name");
    const { editor } = this;
    const { layer, group } = line.dataset;
    const edit = group
      ? { kind: "rename-group", scene: editor.sceneId, group }
      : { kind: "change-layers", scene: editor.sceneId, layers: [layer] };
    const rename = (value) => editor.edit({ ...edit, name: value });
    const input = nameInput("Name", name.textContent, (value) => {
      this.renaming = false;
      if (value) (named || rename)(value);
      this.timeline.drawn.delete(layer || `group ${group}`); // the row lost its name to the input
      line.remove();
      this.timeline.draw();
    });
    name.replaceWith(input);
    this.renaming = true;
    input.focus();
    input.select();
  }

  menu(event) {
    const line = event.target.closest(".row-line");
    if (!line || line.dataset.lane) return;
    event.preventDefault();
    const ids = this.membersOf(line);
    if (!ids.every((id) => this.editor.selected.has(id))) this.editor.select(ids);
    window.dispatchEvent(
      new CustomEvent("open-layer-menu", { detail: { x: event.clientX, y: event.clientY } }),
    );
  }
}
