// The timeline: rows of layers with their bars, and lanes with curves and keys. Only rows in or
// near the window are in the page, and only those that look different are drawn again.
import { awayMarks } from "./arrangement_row.js";
import { jointMark, watchJoints } from "./joints.js";
import { seconds } from "../formats.js";
import { laneSvg } from "./lanes.js";
import { circle, classes, el, html } from "./markup.js";
import { RelationThreads } from "./relation_threads.js";
import { clipNote, signsOf } from "./row_notes.js";
import { RowFilter } from "./row_filter.js";
import { Ruler } from "./ruler.js";
import { Threads } from "./threads.js";
import { TimelineKeys } from "./timeline_keys.js";
import { TimelinePointing } from "./timeline_pointing.js";
import { Waves } from "./waves.js";

const icon = (name, cls = "") =>
  `<svg class="icon ${cls}" aria-hidden="true"><use href="/static/vendor/icons.svg#${name}"></use></svg>`;
const BAR = { top: 4, height: 17 };
const SOUND_BAR = { top: 4, height: 33 };
const ROW_HEIGHT = 26;
const SOUND_ROW = 42;
const OVERSCAN_PX = 500;
export const LANE_HEIGHT = 38;
const TALL_HEIGHT = 168;
const PAD = 8;

const track = (inside) => el("div", { class: "row-track" }, el("svg", {}, inside));

function foldButton(open, label, name, which) {
  const state = {
    class: classes("fold", open && "open"),
    "aria-expanded": String(open),
    tabindex: -1,
    "aria-label": label,
    title: label,
  };
  return el("button", { ...state, ...which }, icon(name));
}

/** A switch of a layer: "hidden" or "locked". */
function switchButton(layer, what, label, name, title = label) {
  const state = { class: classes("toggle", layer[what] && "on"), "aria-pressed": String(layer[what]) };
  const said = { "aria-label": `${label} ${layer.name}`, title, tabindex: -1 };
  return el("button", { ...state, "data-toggle": what, ...said }, icon(name));
}

export class Timeline {
  constructor(editor) {
    this.editor = editor;
    this.lower = document.getElementById("lower");
    this.rows = document.getElementById("rows");
    this.sheet = document.createElement("div");
    this.sheet.className = "rows-sheet";
    this.rows.append(this.sheet);
    this.playhead = document.getElementById("playhead");
    this.facts = document.getElementById("scene-facts");
    this.folded = new Set();
    this.start = 0;
    this.span = null;
    this.spans = new Map();
    this.phases = new Map(); // as dragged
    this.joints = new Map(); // as dragged
    watchJoints(this);
    this.drawn = new Map();
    this.ruler = document.getElementById("ruler");
    this.rulerView = new Ruler(editor, this);
    this.pointing = new TimelinePointing(editor, this);
    this.filter = new RowFilter(editor);
    this.threads = new Threads(editor, this);
    this.relations = new RelationThreads(editor, this);
    this.waves = new Waves(editor, this);
    this.keys = new TimelineKeys(editor, this);
    editor.on("document lanes arrangements selection beats seeing", () => this.schedule());
    editor.on("view", () => editor.previewsTimes && this.schedule());
    editor.on("time", () => this.movePlayhead());
    this.rows.addEventListener("scroll", () => this.schedule(), { passive: true });
    const resized = new ResizeObserver(() => this.draw());
    for (const element of [this.rows, this.ruler]) resized.observe(element);
    const toggle = (id, name) => {
      const button = document.getElementById(id);
      button.addEventListener("click", () => {
        editor[name] = !editor[name];
        button.classList.toggle("on", editor[name]);
        button.setAttribute("aria-pressed", String(editor[name]));
      });
    };
    toggle("snap-toggle", "snapping");
    toggle("ripple-toggle", "ripple");
    toggle("slip-toggle", "slip");
    document.getElementById("zoom-time").addEventListener("click", () => this.fit());
  }

  schedule() {
    if (this.waiting) return;
    this.waiting = true;
    requestAnimationFrame(() => {
      this.waiting = false;
      this.draw();
    });
  }

  fit() {
    this.start = 0;
    this.span = null;
    this.draw();
  }

  /** Shows a stretch of time, with some air around it. */
  fitTimes(from, to) {
    const length = this.editor.scene.length_s;
    const least = 8 * this.editor.timeOf(1);
    const air = Math.max((to - from) * 0.06, least / 8);
    const span = Math.min(length, Math.max(least, to - from + 2 * air));
    this.start = Math.max(0, Math.min(length - span, from - air));
    this.span = span >= length - 1e-9 ? null : span;
    this.draw();
  }

  get width() {
    if (!this.measured) {
      this.measured = this.ruler.getBoundingClientRect().width - PAD - 26;
      requestAnimationFrame(() => (this.measured = 0));
    }
    return this.measured;
  }

  /** How wide the column of the names is, px. */
  get namesWidth() {
    return this.ruler.offsetLeft;
  }

  get shownSpan() {
    return this.span ?? this.editor.scene.length_s;
  }

  x(time) {
    return PAD + ((time - this.start) / this.shownSpan) * this.width;
  }

  timeAt(x) {
    return this.start + ((x - PAD) / this.width) * this.shownSpan;
  }

  zoomAbout(x, factor) {
    const length = this.editor.scene.length_s;
    const at = this.timeAt(x);
    const span = Math.min(length, Math.max(8 * this.editor.timeOf(1), this.shownSpan * factor));
    this.start = Math.max(0, Math.min(length - span, at - ((x - PAD) / this.width) * span));
    this.span = span >= length - 1e-9 ? null : span;
    this.schedule();
  }

  scrollBy(px) {
    if (this.span === null) return;
    const by = (px / this.width) * this.span;
    this.start = Math.max(0, Math.min(this.editor.scene.length_s - this.span, this.start + by));
    this.schedule();
  }

  /** A layer's start and end, as dragged or previewed where that is under way. */
  spanOf(layer) {
    const dragged = this.spans.get(layer.id);
    if (dragged) return dragged;
    const drafted = this.editor.isPreviewing && this.editor.view[layer.id]?.span;
    const [start_s, end_s] = drafted || [layer.start_s, layer.end_s];
    return { start_s, end_s };
  }

  laneHeight(lane) {
    return this.editor.tall.get(`${lane.layer}|${lane.property}`) ?? LANE_HEIGHT;
  }

  draw() {
    const { editor } = this;
    if (!editor.project || !editor.scene || this.pointing.renaming) return;
    const { scene } = editor;
    const some = (count, one) => `${count} ${count === 1 ? one : `${one}s`}`;
    const facts = [some(scene.layers.length, "layer"), seconds(scene.length_s)];
    if (scene.marks.length) facts.push(some(scene.marks.length, "mark"));
    const name = el("strong", {}, html(scene.name));
    this.facts.innerHTML = name + el("span", { class: "dim" }, html(facts.join(" \u00b7 ")));
    this.rulerView.draw();
    this.lay(this.lines());
    this.keys.mark();
    this.movePlayhead();
  }

  /** Puts the rows in view into the page, keeping those that look the same. */
  lay(lines) {
    if (!lines.length) {
      this.drawn.clear();
      this.sheet.style.height = "auto";
      this.threads.draw(new Map(), 0);
      const none = this.filter.on
        ? "No layer is like that."
        : "No layers yet: add one with the tools on the stage or with + layer above.";
      this.sheet.innerHTML = el("p", { class: "dim p-3 mb-0" }, none);
      return;
    }
    if (!this.drawn.size) this.sheet.replaceChildren();
    const from = this.rows.scrollTop - OVERSCAN_PX;
    const to = this.rows.scrollTop + this.rows.clientHeight + OVERSCAN_PX;
    const next = new Map();
    const tops = new Map();
    let top = 0;
    let before = null;
    for (const line of lines) {
      for (const id of line.stands || [line.id]) tops.set(id, top);
      if (top + line.height >= from && top <= to) {
        const text = line.html();
        let entry = this.drawn.get(line.id);
        if (!entry || entry.text !== text) {
          const holder = document.createElement("template");
          holder.innerHTML = text;
          const element = holder.content.firstElementChild;
          if (entry) entry.element.replaceWith(element);
          entry = { text, element, top: null };
        }
        if (entry.height !== line.height) entry.element.style.height = `${line.height}px`;
        entry.height = line.height;
        if (entry.top !== top) entry.element.style.transform = `translateY(${top}px)`;
        entry.top = top;
        const wanted = before ? before.nextSibling : this.sheet.firstChild;
        if (entry.element !== wanted) this.sheet.insertBefore(entry.element, wanted);
        before = entry.element;
        next.set(line.id, entry);
      }
      top += line.height;
    }
    for (const [id, entry] of this.drawn) if (!next.has(id)) entry.element.remove();
    this.drawn = next;
    this.sheet.style.height = `${top}px`;
    this.threads.draw(tops, top);
    this.relations.draw(tops, top);
  }

  /** Rows from the top down: { id, height, html() }. */
  lines() {
    const { editor } = this;
    const out = [];
    const groups = new Map(editor.scene.groups.map((group) => [group.id, group]));
    const lanes = new Map();
    for (const lane of editor.lanes) {
      if (!lanes.has(lane.layer)) lanes.set(lane.layer, []);
      lanes.get(lane.layer).push(lane);
    }
    let group = null;
    for (const layer of [...editor.layers].reverse()) {
      if (layer.group !== group) {
        group = layer.group;
        if (group && editor.layers.some((each) => each.group === group && this.filter.shows(each))) {
          const shown = groups.get(group);
          // The row of a folded group stands for its layers' own.
          const stands = this.folded.has(group)
            ? editor.layers.filter((each) => each.group === group).map((each) => each.id)
            : [];
          out.push({ id: `group ${group}`, height: ROW_HEIGHT, stands, html: () => this.groupLine(shown) });
        }
      }
      if ((group && this.folded.has(group)) || !this.filter.shows(layer)) continue;
      const height = layer.kind === "sound" ? SOUND_ROW : ROW_HEIGHT;
      out.push({ id: layer.id, height, html: () => this.layerLine(layer) });
      if (!editor.openLayers.has(layer.id)) continue;
      for (const lane of lanes.get(layer.id) || []) {
        if (!layer.properties[lane.property] && !lane.arranged) continue;
        out.push({
          id: `${layer.id}|${lane.property}`,
          height: this.laneHeight(lane),
          html: () => this.laneLine(layer, lane),
        });
      }
    }
    return out;
  }

  groupLine(group) {
    const members = this.editor.layers.filter((layer) => layer.group === group.id);
    const chosen = members.every((layer) => this.editor.selected.has(layer.id));
    const open = !this.folded.has(group.id);
    const start = Math.min(...members.map((layer) => this.spanOf(layer).start_s));
    const end = Math.max(...members.map((layer) => this.spanOf(layer).end_s));
    const fold = foldButton(open, `Fold ${group.name}`, "right", { "data-fold-group": group.id });
    const name = el("span", { class: "row-name" }, html(group.name));
    const count = el("span", { class: "dim" }, members.length);
    const head = el("div", { class: "row-head" }, fold, icon("group", "kind-icon"), name, count);
    const row = { class: classes("row-line", chosen && "chosen"), role: "treeitem", "data-group": group.id };
    return el("div", row, head, track(this.bar(start, end, "", "group")));
  }

  layerLine(layer) {
    const { editor } = this;
    const chosen = editor.selected.has(layer.id);
    const open = editor.openLayers.has(layer.id);
    const keyed =
      editor.arranging.of(layer.id)?.said.length > 0 ||
      Object.values(layer.properties).some((property) => property.keys.length || property.expression);
    const { start_s, end_s } = this.spanOf(layer);
    const lanes = { "data-fold": layer.id };
    const fold = keyed
      ? foldButton(open, `Lanes of ${layer.name}`, "right", lanes)
      : el("span", { class: "fold" });
    const dots = keyed && !open ? this.keyDots(layer, start_s) : "";
    const name = el("span", { class: "row-name", title: "Double-click to rename" }, html(layer.name));
    const head = el(
      "div",
      { class: classes("row-head", layer.group && "inside") },
      [fold, icon(layer.kind, "kind-icon"), name, ...signsOf(editor, layer, this.relations.mattes, icon)],
      layer.kind === "sound"
        ? switchButton(layer, "hidden", "Silence", layer.hidden ? "speaker-off" : "speaker")
        : switchButton(
            layer,
            "hidden",
            "Hide",
            layer.hidden ? "eye-off" : "eye",
            "Hide (Alt+click: see only this)",
          ),
      switchButton(layer, "locked", "Lock", layer.locked ? "lock" : "unlock"),
    );
    const away = layer.hidden || editor.seeing.hides(layer.id);
    const box = this.barOf(layer);
    const slopes = this.slopes(layer, start_s, end_s);
    const wave = this.waves.draw(layer, start_s, end_s, box);
    const over = {
      shapes: wave.shapes + slopes.shapes + awayMarks(this, layer, box),
      grips: slopes.grips + wave.grips,
    };
    const look = away ? "hidden-layer" : "";
    const bar = this.bar(start_s, end_s, look, "layer", clipNote(layer), over, box);
    const cls = classes("row-line", chosen && "chosen", away && "dimmed");
    const tree = { role: "treeitem", "aria-selected": String(chosen), "aria-level": layer.group ? 2 : 1 };
    const expands = keyed ? { "aria-expanded": String(open) } : {};
    const row = { class: cls, ...tree, ...expands, "data-layer": layer.id };
    return el("div", row, head, track(bar + dots + jointMark(this, layer, box)));
  }

  /** Where the bar of a layer lies in its row: what is heard has a higher one. */
  barOf(layer) {
    return layer.kind === "sound" ? SOUND_BAR : BAR;
  }

  /** Rising where a layer arrives, falling where it leaves. */
  slopes(layer, start, end) {
    const phases = this.phases.get(layer.id) || layer;
    const top = BAR.top;
    const low = BAR.top + BAR.height;
    const [a, b] = [this.x(start), this.x(end)];
    const shapes = [];
    const grips = [];
    const slopeGrip = (x, which, said) => {
      const title = el("title", {}, `${said}: drag to change how long it takes`);
      const hold = { class: "slope-grip", "data-bar": which, cx: x, cy: top + 3, r: 6 };
      return el("circle", hold, title) + circle([x, top + 3], 2.2, { class: "slope-dot" });
    };
    if (phases.arrive_s > 0) {
      const x = this.x(Math.min(end, start + phases.arrive_s));
      shapes.push(`<path class="slope arrive" d="M${a.toFixed(1)} ${low}L${x.toFixed(1)} ${top}V${low}Z"/>`);
      shapes.push(this.slopeName(layer, "arrive", a, x));
      grips.push(slopeGrip(x, "arrive", "Arrives"));
    }
    if (phases.leave_s > 0) {
      const x = this.x(Math.max(start, end - phases.leave_s));
      shapes.push(
        `<path class="slope leave" d="M${x.toFixed(1)} ${top}L${b.toFixed(1)} ${low}H${x.toFixed(1)}Z"/>`,
      );
      shapes.push(this.slopeName(layer, "leave", x, b));
      grips.push(slopeGrip(x, "leave", "Leaves"));
    }
    return { shapes: shapes.join(""), grips: grips.join("") };
  }

  /** The move of a phase, and how long it takes, where there is room to say so. */
  slopeName(layer, phase, from, to) {
    const names = layer.moves
      .filter((move) => move.phase === phase && move.on)
      .map((move) => (this.editor.moves ? this.editor.moveName(move.kind, phase) : ""));
    const said = [
      ...names,
      `${Math.round((phase === "arrive" ? layer.arrive_s : layer.leave_s) * 100) / 100} s`,
    ].join(" ");
    if (to - from < said.length * 6 + 10) return "";
    const x = phase === "arrive" ? to - 7 : from + 7;
    const look = { class: "slope-text", "text-anchor": phase === "arrive" ? "end" : "start" };
    return el("text", { ...look, x, y: BAR.top + 13 }, html(said));
  }

  bar(start, end, look, what, said = "", over = { shapes: "", grips: "" }, place = BAR) {
    const a = this.x(start);
    const b = this.x(end);
    const width = Math.max(2, b - a);
    const y = place.top;
    const end_px = Math.min(8, width / 3);
    const box = (x, w, cls, part) =>
      el("rect", { class: cls, x, y, width: w, height: place.height, rx: 4.5, "data-bar": part });
    const holds = [box(a, width, "bar-hold", "slide")];
    if (what === "layer") {
      holds.push(box(a, end_px, "bar-end", "start"), box(b - end_px, end_px, "bar-end", "end"));
    }
    const at = { class: "bar-text", x: Math.max(a, 0) + 9, y: y + 12.5 };
    const label = said && width > 60 ? el("text", at, html(said)) : "";
    return box(a, width, classes("bar", look)) + over.shapes + label + holds.join("") + over.grips;
  }

  /** On a closed layer its keys show as dots on the bar, one where several would meet. */
  keyDots(layer, start) {
    const places = new Set();
    for (const property of Object.values(layer.properties)) {
      for (const key of property.keys) places.add(Math.round(this.x(start + key.time_s) / 2) * 2);
    }
    const { width } = this;
    const out = [];
    for (const x of places) {
      if (x > -5 && x < width + 30) {
        out.push(circle([x, BAR.top + BAR.height / 2], 1.9, { class: "key-dot" }));
      }
    }
    return out.join("");
  }

  laneLine(layer, lane) {
    const height = this.laneHeight(lane);
    const tall = this.editor.tall.has(`${layer.id}|${lane.property}`);
    const sign = (name, title) => el("span", { class: "lane-note", title }, icon(name));
    const signs = [
      lane.repeat ? sign("repeat", `Repeats: ${lane.repeat}`) : "",
      lane.arranged ? sign("arrangements", "As the arrangements say") : "",
      lane.pace === "even" ? sign("route", "Travelled at one speed") : "",
    ];
    const title = tall ? "Make the lane low" : "Pull the lane tall: axes, handles, speed";
    const pull = { "data-tall": lane.property, title };
    const button = lane.curves ? foldButton(tall, `Tall lane of ${lane.label}`, "curve", pull) : "";
    const name = el("span", { class: "row-name" }, html(lane.label));
    const drawn = el("svg", { height }, laneSvg(this, layer, lane, height));
    const hold = tall ? el("div", { class: "lane-grip", "data-lane-grip": "" }) : "";
    const which = { "data-lane-layer": layer.id, "data-lane": lane.property };
    const cls = classes("row-line lane-line", tall && "tall-lane");
    return el(
      "div",
      { class: cls, role: "treeitem", ...which },
      el("div", { class: "row-head" }, name, signs, button),
      el("div", { class: "row-track", "data-height": height }, drawn, hold),
    );
  }

  /** Makes a lane tall, or low again. */
  toggleTall(layerId, property) {
    const { tall } = this.editor;
    const name = `${layerId}|${property}`;
    if (!tall.delete(name)) tall.set(name, TALL_HEIGHT);
    this.draw();
    this.editor.requestStage();
  }

  movePlayhead() {
    if (!this.editor.project || !this.editor.scene) return;
    this.playhead.style.transform = `translateX(${this.x(this.editor.time)}px)`;
  }
}
