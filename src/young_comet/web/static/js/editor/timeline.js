// The timeline: rows of layers with their bars, lanes with curves and keys, the ruler.
import { fps, seconds, timecode } from "../common.js";
import { laneSvg } from "./lanes.js";
import { TimelinePointing } from "./timeline_pointing.js";

const icon = (name, cls = "") => `<svg class="icon ${cls}" aria-hidden="true"><use href="/static/vendor/icons.svg#${name}"></use></svg>`;
const html = (text) => text.replace(/[&<>"']/g, (c) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;", "'": "&#39;" })[c]);
const KIND_ICONS = { backdrop: "backdrop", shape: "shape", text: "text", picture: "picture" };
const BAR = { top: 4, height: 17 };
export const LANE_HEIGHT = 38;
export const PAD = 8;

export class Timeline {
  constructor(editor) {
    this.editor = editor;
    this.lower = document.getElementById("lower");
    this.rows = document.getElementById("rows");
    this.ruler = document.getElementById("ruler");
    this.playhead = document.getElementById("playhead");
    this.facts = document.getElementById("scene-facts");
    this.folded = new Set();
    this.start = 0;
    this.span = null;
    this.spans = new Map();
    this.pointing = new TimelinePointing(editor, this);
    editor.on("document lanes selection", () => this.schedule());
    editor.on("time", () => this.movePlayhead());
    new ResizeObserver(() => this.draw()).observe(this.rows);
    document.getElementById("zoom-time").addEventListener("click", () => this.fit());
    const snap = document.getElementById("snap-toggle");
    snap.addEventListener("click", () => {
      editor.snapping = !editor.snapping;
      snap.classList.toggle("on", editor.snapping);
      snap.setAttribute("aria-pressed", String(editor.snapping));
    });
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

  get width() {
    return this.ruler.getBoundingClientRect().width - PAD - 14;
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
    this.draw();
  }

  scrollBy(px) {
    if (this.span === null) return;
    const by = (px / this.width) * this.span;
    this.start = Math.max(0, Math.min(this.editor.scene.length_s - this.span, this.start + by));
    this.draw();
  }

  /** A layer's start and end, as dragged where that is under way. */
  spanOf(layer) {
    return this.spans.get(layer.id) || { start_s: layer.start_s, end_s: layer.end_s };
  }

  draw() {
    const { editor } = this;
    if (!editor.project || this.pointing.renaming) return;
    const { scene } = editor;
    const count = scene.layers.length;
    this.facts.innerHTML = `<strong>${html(scene.name)}</strong><span class="dim">${count} ${count === 1 ? "layer" : "layers"} · ${seconds(scene.length_s)}</span>`;
    this.drawRuler();
    const lines = this.lines();
    this.rows.innerHTML = lines.length ? lines.join("") : `<p class="dim p-3 mb-0">No layers yet: add one with the tools on the stage or with + layer above.</p>`;
    this.movePlayhead();
  }

  lines() {
    const { editor } = this;
    const out = [];
    const groups = new Map(editor.scene.groups.map((group) => [group.id, group]));
    let group = null;
    for (const layer of [...editor.layers].reverse()) {
      if (layer.group !== group) {
        group = layer.group;
        if (group) out.push(this.groupLine(groups.get(group)));
      }
      if (group && this.folded.has(group)) continue;
      out.push(this.layerLine(layer));
      if (editor.openLayers.has(layer.id)) for (const lane of editor.lanes) if (lane.layer === layer.id) out.push(this.laneLine(layer, lane));
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
    const keyed = Object.values(layer.properties).some((property) => property.keys.length);
    const { start_s, end_s } = this.spanOf(layer);
    const fold = keyed
      ? `<button class="fold ${open ? "open" : ""}" data-fold="${layer.id}" aria-expanded="${open}" aria-label="Lanes of ${html(layer.name)}">${icon("right")}</button>`
      : `<span class="fold"></span>`;
    const dots = keyed && !open ? this.keyDots(layer, start_s) : "";
    return `<div class="row-line ${chosen ? "chosen" : ""} ${layer.hidden ? "dimmed" : ""}" role="treeitem" aria-selected="${chosen}" data-layer="${layer.id}">
      <div class="row-head ${layer.group ? "inside" : ""}">${fold}${icon(KIND_ICONS[layer.kind] || "shape", "kind-icon")}<span class="row-name" title="Double-click to rename">${html(layer.name)}</span>
      <button class="toggle ${layer.hidden ? "on" : ""}" data-toggle="hidden" aria-pressed="${layer.hidden}" aria-label="Hide ${html(layer.name)}" title="Hide">${icon(layer.hidden ? "eye-off" : "eye")}</button>
      <button class="toggle ${layer.locked ? "on" : ""}" data-toggle="locked" aria-pressed="${layer.locked}" aria-label="Lock ${html(layer.name)}" title="Lock">${icon(layer.locked ? "lock" : "unlock")}</button></div>
      <div class="row-track"><svg>${this.bar(start_s, end_s, layer.hidden ? "hidden-layer" : "", "layer")}${dots}</svg></div></div>`;
  }

  bar(start, end, cls, what) {
    const a = this.x(start);
    const b = this.x(end);
    const width = Math.max(2, b - a);
    const y = BAR.top;
    const grip = Math.min(8, width / 3);
    const box = (x, w, c, part) => `<rect class="${c}" x="${x.toFixed(1)}" y="${y}" width="${w.toFixed(1)}" height="${BAR.height}" rx="4.5" ${part ? `data-bar="${part}"` : ""}/>`;
    const holds = what === "layer" ? box(a, width, "bar-hold", "slide") + box(a, grip, "bar-end", "start") + box(b - grip, grip, "bar-end", "end") : box(a, width, "bar-hold", "slide");
    return box(a, width, `bar ${cls}`) + holds;
  }

  /** On a closed layer its keys show as dots on the bar. */
  keyDots(layer, start) {
    const times = new Set();
    for (const property of Object.values(layer.properties)) for (const key of property.keys) times.add(key.time_s.toFixed(4));
    return [...times].map((t) => `<circle cx="${this.x(start + Number(t)).toFixed(1)}" cy="${BAR.top + BAR.height / 2}" r="1.9" class="key-head" opacity=".75" pointer-events="none"/>`).join("");
  }

  laneLine(layer, lane) {
    return `<div class="row-line lane-line" role="treeitem" data-lane-layer="${layer.id}" data-lane="${lane.property}">
      <div class="row-head"><span class="row-name">${html(lane.label)}</span></div>
      <div class="row-track" data-height="${LANE_HEIGHT}"><svg height="${LANE_HEIGHT}">${laneSvg(this, layer, lane, LANE_HEIGHT)}</svg></div></div>`;
  }

  drawRuler() {
    const { editor } = this;
    const wanted = (this.shownSpan / Math.max(1, this.width)) * 86;
    const frame = editor.timeOf(1);
    const steps = [frame, frame * 2, frame * 5, 0.5, 1, 2, 5, 10, 15, 30, 60, 120, 300, 600];
    const step = steps.find((each) => each >= wanted) || 1200;
    const minor = step > frame * 5 ? step / 5 : step;
    const out = [];
    const first = Math.floor(this.start / minor);
    const last = Math.ceil((this.start + this.shownSpan) / minor);
    const label = (time) => (step >= 1 ? `${Math.round(time * 100) / 100}s` : step >= 0.5 ? `${Math.round(time * 10) / 10}s` : timecode(editor.frameAt(time), editor.rate));
    for (let i = first; i <= last; i += 1) {
      const time = i * minor;
      if (time > editor.scene.length_s + 1e-6) break;
      const x = this.x(time).toFixed(1);
      const major = Math.abs(time / step - Math.round(time / step)) < 1e-6;
      out.push(`<line x1="${x}" x2="${x}" y1="${major ? 13 : 20}" y2="27"/>`);
      if (major) out.push(`<text x="${Number(x) + 4}" y="15">${label(time)}</text>`);
    }
    const svg = this.ruler.querySelector("svg");
    svg.innerHTML = out.join("");
    svg.dataset.fps = fps(editor.rate);
  }

  movePlayhead() {
    if (!this.editor.project) return;
    this.playhead.style.transform = `translateX(${this.x(this.editor.time)}px)`;
  }
}
