// The timeline: rows of layers with their bars, and lanes with curves and keys. Only rows in or
// near the window are in the page, and only those that look different are drawn again.
import { seconds } from "../common.js";
import { laneSvg } from "./lanes.js";
import { Ruler } from "./ruler.js";
import { Threads } from "./threads.js";
import { TimelinePointing } from "./timeline_pointing.js";

const icon = (name, cls = "") => `<svg class="icon ${cls}" aria-hidden="true"><use href="/static/vendor/icons.svg#${name}"></use></svg>`;
const html = (text) => text.replace(/[&<>"']/g, (c) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;", "'": "&#39;" })[c]);
const BAR = { top: 4, height: 17 };
const ROW_HEIGHT = 26;
const OVERSCAN_PX = 500;
export const LANE_HEIGHT = 38;
export const TALL_HEIGHT = 168;
export const PAD = 8;
export const HEAD_WIDTH = 224;

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
    this.drawn = new Map();
    this.ruler = document.getElementById("ruler");
    this.rulerView = new Ruler(editor, this);
    this.pointing = new TimelinePointing(editor, this);
    this.threads = new Threads(editor, this);
    editor.on("document lanes selection", () => this.schedule());
    editor.on("view", () => editor.previewing && this.schedule());
    editor.on("time", () => this.movePlayhead());
    this.rows.addEventListener("scroll", () => this.schedule(), { passive: true });
    new ResizeObserver(() => this.draw()).observe(this.rows);
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
    const count = scene.layers.length;
    const marks = scene.marks.length ? ` · ${scene.marks.length} ${scene.marks.length === 1 ? "mark" : "marks"}` : "";
    this.facts.innerHTML = `<strong>${html(scene.name)}</strong><span class="dim">${count} ${count === 1 ? "layer" : "layers"} · ${seconds(scene.length_s)}${marks}</span>`;
    this.rulerView.draw();
    this.lay(this.lines());
    this.movePlayhead();
  }

  /** Puts the rows in view into the page, keeping those that look the same. */
  lay(lines) {
    if (!lines.length) {
      this.drawn.clear();
      this.sheet.style.height = "auto";
      this.threads.draw(new Map(), 0);
      this.sheet.innerHTML = `<p class="dim p-3 mb-0">No layers yet: add one with the tools on the stage or with + layer above.</p>`;
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
        if (group) {
          const shown = groups.get(group);
          // The row of a folded group stands for its layers' own.
          const stands = this.folded.has(group) ? editor.layers.filter((each) => each.group === group).map((each) => each.id) : [];
          out.push({ id: `group ${group}`, height: ROW_HEIGHT, stands, html: () => this.groupLine(shown) });
        }
      }
      if (group && this.folded.has(group)) continue;
      out.push({ id: layer.id, height: ROW_HEIGHT, html: () => this.layerLine(layer) });
      if (!editor.openLayers.has(layer.id)) continue;
      for (const lane of lanes.get(layer.id) || []) {
        if (!layer.properties[lane.property]) continue;
        out.push({ id: `${layer.id}|${lane.property}`, height: this.laneHeight(lane), html: () => this.laneLine(layer, lane) });
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
    return `<div class="row-line ${chosen ? "chosen" : ""}" role="treeitem" data-group="${group.id}"><div class="row-head">
      <button class="fold ${open ? "open" : ""}" data-fold-group="${group.id}" aria-expanded="${open}" aria-label="Fold ${html(group.name)}">${icon("right")}</button>${icon("group", "kind-icon")}<span class="row-name">${html(group.name)}</span><span class="dim">${members.length}</span></div>
      <div class="row-track"><svg>${this.bar(start, end, "", "group")}</svg></div></div>`;
  }

  layerLine(layer) {
    const { editor } = this;
    const chosen = editor.selected.has(layer.id);
    const open = editor.openLayers.has(layer.id);
    const keyed = Object.values(layer.properties).some((property) => property.keys.length || property.expression);
    const { start_s, end_s } = this.spanOf(layer);
    const fold = keyed
      ? `<button class="fold ${open ? "open" : ""}" data-fold="${layer.id}" aria-expanded="${open}" aria-label="Lanes of ${html(layer.name)}">${icon("right")}</button>`
      : `<span class="fold"></span>`;
    const dots = keyed && !open ? this.keyDots(layer, start_s) : "";
    return `<div class="row-line ${chosen ? "chosen" : ""} ${layer.hidden ? "dimmed" : ""}" role="treeitem" aria-selected="${chosen}" data-layer="${layer.id}">
      <div class="row-head ${layer.group ? "inside" : ""}">${fold}${icon(layer.kind, "kind-icon")}<span class="row-name" title="Double-click to rename">${html(layer.name)}</span>${this.rideNote(layer)}
      <button class="toggle ${layer.hidden ? "on" : ""}" data-toggle="hidden" aria-pressed="${layer.hidden}" aria-label="Hide ${html(layer.name)}" title="Hide">${icon(layer.hidden ? "eye-off" : "eye")}</button>
      <button class="toggle ${layer.locked ? "on" : ""}" data-toggle="locked" aria-pressed="${layer.locked}" aria-label="Lock ${html(layer.name)}" title="Lock">${icon(layer.locked ? "lock" : "unlock")}</button></div>
      <div class="row-track"><svg>${this.bar(start_s, end_s, layer.hidden ? "hidden-layer" : "", "layer", this.clipNote(layer), this.slopes(layer, start_s, end_s))}${dots}</svg></div></div>`;
  }

  /** What the bar of a clip or placed scene says of its speed and way. */
  clipNote(layer) {
    if (!["clip", "scene"].includes(layer.kind)) return "";
    const value = (id, fallback) => layer.properties[id]?.value ?? fallback;
    if (value("time.curve", false)) return "time curve";
    if (value("time.frozen", false)) return "frozen";
    const parts = [];
    const speed = value("time.speed", 100);
    if (speed !== 100) parts.push(`${Math.round(speed * 10) / 10} %`);
    if (value("time.reversed", false)) parts.push("backwards");
    const after = value("time.after", "stay");
    if (after === "loop") parts.push("looped");
    if (after === "there-and-back") parts.push("there and back");
    return parts.join(", ");
  }

  /** What a layer rides on, as a small sign beside its name. */
  rideNote(layer) {
    const on = layer.rides && this.editor.layer(layer.rides);
    return on ? `<span class="ride-note" title="Rides on ${html(on.name)}">${icon("ride")}</span>` : "";
  }

  /** Rising where a layer arrives, falling where it leaves. */
  slopes(layer, start, end) {
    const phases = this.phases.get(layer.id) || layer;
    const top = BAR.top;
    const low = BAR.top + BAR.height;
    const [a, b] = [this.x(start), this.x(end)];
    const shapes = [];
    const grips = [];
    const grip = (x, which, said) => `<circle class="slope-grip" data-bar="${which}" cx="${x.toFixed(1)}" cy="${top + 3}" r="6"><title>${said}: drag to change how long it takes</title></circle><circle class="slope-dot" cx="${x.toFixed(1)}" cy="${top + 3}" r="2.2"/>`;
    if (phases.arrive_s > 0) {
      const x = this.x(Math.min(end, start + phases.arrive_s));
      shapes.push(`<path class="slope arrive" d="M${a.toFixed(1)} ${low}L${x.toFixed(1)} ${top}V${low}Z"/>`);
      shapes.push(this.slopeName(layer, "arrive", a, x));
      grips.push(grip(x, "arrive", "Arrives"));
    }
    if (phases.leave_s > 0) {
      const x = this.x(Math.max(start, end - phases.leave_s));
      shapes.push(`<path class="slope leave" d="M${x.toFixed(1)} ${top}L${b.toFixed(1)} ${low}H${x.toFixed(1)}Z"/>`);
      shapes.push(this.slopeName(layer, "leave", x, b));
      grips.push(grip(x, "leave", "Leaves"));
    }
    return { shapes: shapes.join(""), grips: grips.join("") };
  }

  /** The move of a phase, and how long it takes, where there is room to say so. */
  slopeName(layer, phase, from, to) {
    const names = layer.moves.filter((move) => move.phase === phase && move.on).map((move) => (this.editor.moves ? this.editor.moveName(move.kind, phase) : ""));
    const said = [...names, `${Math.round((phase === "arrive" ? layer.arrive_s : layer.leave_s) * 100) / 100} s`].join(" ");
    if (to - from < said.length * 6 + 10) return "";
    const x = phase === "arrive" ? to - 7 : from + 7;
    return `<text class="slope-text" text-anchor="${phase === "arrive" ? "end" : "start"}" x="${x.toFixed(1)}" y="${BAR.top + 13}">${html(said)}</text>`;
  }

  bar(start, end, cls, what, said = "", over = { shapes: "", grips: "" }) {
    const a = this.x(start);
    const b = this.x(end);
    const width = Math.max(2, b - a);
    const y = BAR.top;
    const grip = Math.min(8, width / 3);
    const box = (x, w, c, part) => `<rect class="${c}" x="${x.toFixed(1)}" y="${y}" width="${w.toFixed(1)}" height="${BAR.height}" rx="4.5" ${part ? `data-bar="${part}"` : ""}/>`;
    const holds = what === "layer" ? box(a, width, "bar-hold", "slide") + box(a, grip, "bar-end", "start") + box(b - grip, grip, "bar-end", "end") : box(a, width, "bar-hold", "slide");
    const label = said && width > 60 ? `<text class="bar-text" x="${(Math.max(a, 0) + 9).toFixed(1)}" y="${y + 12.5}">${html(said)}</text>` : "";
    return box(a, width, `bar ${cls}`) + over.shapes + label + holds + over.grips;
  }

  /** On a closed layer its keys show as dots on the bar, one where several would meet. */
  keyDots(layer, start) {
    const places = new Set();
    for (const property of Object.values(layer.properties)) for (const key of property.keys) places.add(Math.round(this.x(start + key.time_s) / 2) * 2);
    const { width } = this;
    const out = [];
    for (const x of places) if (x > -5 && x < width + 30) out.push(`<circle cx="${x}" cy="${BAR.top + BAR.height / 2}" r="1.9" class="key-dot"/>`);
    return out.join("");
  }

  laneLine(layer, lane) {
    const height = this.laneHeight(lane);
    const tall = this.editor.tall.has(`${layer.id}|${lane.property}`);
    const repeat = lane.repeat ? `<span class="lane-note" title="Repeats: ${lane.repeat}">${icon("repeat")}</span>` : "";
    const even = lane.pace === "even" ? `<span class="lane-note" title="Travelled at one speed">${icon("route")}</span>` : "";
    const button = lane.curves ? `<button class="fold ${tall ? "open" : ""}" data-tall="${lane.property}" aria-expanded="${tall}" aria-label="Tall lane of ${html(lane.label)}" title="${tall ? "Make the lane low" : "Pull the lane tall: axes, handles, speed"}">${icon("curve")}</button>` : "";
    return `<div class="row-line lane-line ${tall ? "tall-lane" : ""}" role="treeitem" data-lane-layer="${layer.id}" data-lane="${lane.property}">
      <div class="row-head"><span class="row-name">${html(lane.label)}</span>${repeat}${even}${button}</div>
      <div class="row-track" data-height="${height}"><svg height="${height}">${laneSvg(this, layer, lane, height)}</svg>${tall ? '<div class="lane-grip" data-lane-grip></div>' : ""}</div></div>`;
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
