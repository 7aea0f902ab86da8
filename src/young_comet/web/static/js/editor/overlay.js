// Draws what lies over the picture: boxes, handles, pivots, paths, gradients, guides.
import { shapesSvg } from "./shapes_overlay.js";
import { waysSvg } from "./path_pointing.js";

const esc = (number) => Number(number.toFixed(2));
const line = (a, b, cls) => `<line class="${cls}" x1="${esc(a[0])}" y1="${esc(a[1])}" x2="${esc(b[0])}" y2="${esc(b[1])}"/>`;
const ring = (points, cls) => `<polygon class="${cls}" points="${points.map((p) => p.map(esc).join(",")).join(" ")}"/>`;

export const HANDLES = [
  ["nw", 0, 0], ["n", 0.5, 0], ["ne", 1, 0], ["e", 1, 0.5],
  ["se", 1, 1], ["s", 0.5, 1], ["sw", 0, 1], ["w", 0, 0.5],
];

export class Overlay {
  constructor(editor, stage) {
    this.editor = editor;
    this.stage = stage;
    this.svg = document.getElementById("overlay");
    this.note = document.getElementById("stage-note");
    this.grid = false;
    this.safe = false;
    this.showPaths = true;
    this.snaps = [];
    this.marquee = null;
    editor.on("view selection stage-moved document tool playing", () => this.draw());
  }

  point(scenePoint) {
    return this.stage.toScreen(scenePoint);
  }

  draw() {
    const { editor } = this;
    if (!editor.project) return;
    this.note.hidden = editor.layers.length > 0 || editor.isPlaying?.() || editor.isPreviewing;
    const parts = [this.guides()];
    if (!editor.isPlaying?.()) {
      if (this.showPaths && !editor.pointing && !editor.mask) parts.push(waysSvg(this));
      parts.push(this.boxes(), this.gradient(), shapesSvg(this), this.snapLines());
    }
    if (this.marquee) parts.push(this.marqueeBox());
    if (this.drawn) parts.push(`<polyline class="way drawn" points="${this.drawn.map((p) => this.point(p).map(esc).join(",")).join(" ")}"/>`);
    this.svg.innerHTML = parts.join("");
  }

  guides() {
    const { width, height } = this.editor.scene;
    const corner = (x, y) => this.point([x * width, y * height]);
    const frame = (inset, cls) =>
      ring([corner(inset, inset), corner(1 - inset, inset), corner(1 - inset, 1 - inset), corner(inset, 1 - inset)], cls);
    let out = frame(0, "frame-edge");
    if (this.safe) out += frame(0.05, "guide") + frame(0.1, "guide");
    if (this.grid) {
      for (let i = 1; i < 12; i += 1) out += line(corner(i / 12, 0), corner(i / 12, 1), "gridline") + line(corner(0, i / 12), corner(1, i / 12), "gridline");
      for (const third of [1 / 3, 2 / 3]) out += line(corner(third, 0), corner(third, 1), "guide") + line(corner(0, third), corner(1, third), "guide");
    }
    return out;
  }

  boxes() {
    const { editor } = this;
    const chosen = editor.selectedLayers.filter((layer) => editor.view[layer.id]?.corners);
    const out = [];
    for (const layer of chosen) {
      const view = editor.view[layer.id];
      const ghost = !view.on || layer.hidden ? " ghost" : "";
      const cls = chosen.length > 1 ? "box many" : "box";
      if (editor.kinds[layer.kind].placed || chosen.length > 1) out.push(ring(view.corners.map((p) => this.point(p)), cls + ghost));
    }
    const movable = chosen.filter((layer) => !layer.locked && editor.kinds[layer.kind].placed);
    const shaping = editor.pointing || editor.mask;
    if (editor.tool === "select" && !shaping && movable.length && movable.length === chosen.length) out.push(this.handles(movable));
    return out.join("");
  }

  /** Screen corners of what the handles are on: the turned box of one layer, or the upright box of several. */
  handleCorners(layers) {
    const corners = layers.flatMap((layer) => this.editor.view[layer.id].corners);
    if (layers.length === 1) return corners.map((p) => this.point(p));
    const xs = corners.map((p) => p[0]);
    const ys = corners.map((p) => p[1]);
    const [l, t, r, b] = [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
    return [[l, t], [r, t], [r, b], [l, b]].map((p) => this.point(p));
  }

  handles(layers) {
    const [nw, ne, se, sw] = this.handleCorners(layers);
    const at = (u, v) => [0, 1].map((i) => (nw[i] * (1 - u) + ne[i] * u) * (1 - v) + (sw[i] * (1 - u) + se[i] * u) * v);
    const out = [];
    if (layers.length > 1) out.push(ring([nw, ne, se, sw], "box"));
    const top = at(0.5, 0);
    const centre = at(0.5, 0.5);
    const up = [top[0] - centre[0], top[1] - centre[1]];
    const size = Math.hypot(...up) || 1;
    const knob = [top[0] + (up[0] / size) * 22, top[1] + (up[1] / size) * 22];
    out.push(line(top, knob, "stem"));
    const wide = Math.hypot(ne[0] - nw[0], ne[1] - nw[1]) > 44;
    const tall = Math.hypot(sw[0] - nw[0], sw[1] - nw[1]) > 44;
    for (const [name, u, v] of HANDLES) {
      if (layers.length > 1 && name.length === 1) continue;
      if ((name === "n" || name === "s") && !wide) continue;
      if ((name === "e" || name === "w") && !tall) continue;
      const [x, y] = at(u, v);
      out.push(`<g data-handle="${name}"><circle class="grip" cx="${esc(x)}" cy="${esc(y)}" r="9"/><rect class="handle" x="${esc(x - 3.5)}" y="${esc(y - 3.5)}" width="7" height="7" rx="1.5"/></g>`);
    }
    out.push(`<g data-handle="rotate"><circle class="grip" cx="${esc(knob[0])}" cy="${esc(knob[1])}" r="10"/><circle class="handle" cx="${esc(knob[0])}" cy="${esc(knob[1])}" r="4.5"/></g>`);
    if (layers.length === 1) out.push(this.pivot(this.editor.view[layers[0].id].pivot));
    return out.join("");
  }

  pivot(scenePoint) {
    const [x, y] = this.point(scenePoint).map(esc);
    return `<g class="pivot" data-handle="pivot"><circle class="grip" cx="${x}" cy="${y}" r="10"/><path d="M${x} ${y - 9} L${x + 5.5} ${y - 1.5} L${x} ${y + 9} L${x - 5.5} ${y - 1.5}Z"/><circle cx="${x}" cy="${y - 1.2}" r="1.7"/></g>`;
  }

  /** Where a selected layer's gradient runs on the screen, null if it has none. */
  gradientLine() {
    const { editor } = this;
    if (editor.selected.size !== 1 || editor.tool !== "select") return null;
    const layer = editor.selectedLayers[0];
    const view = layer && editor.view[layer.id];
    if (!view?.corners || layer.locked || editor.pointing || editor.mask || editor.spec(layer, "fill.kind") === undefined) return null;
    if (!["linear", "radial", "conic"].includes(editor.value(layer, "fill.kind"))) return null;
    if (editor.spec(layer, "fill.on") && !editor.value(layer, "fill.on")) return null;
    const [left, top, right, bottom] = view.box;
    const [a, b, c, d, e, f] = view.matrix;
    const place = ([u, v]) => {
      const x = left + ((right - left) * u) / 100;
      const y = top + ((bottom - top) * v) / 100;
      return this.point([a * x + c * y + e, b * x + d * y + f]);
    };
    return {
      layer,
      start: place(editor.value(layer, "fill.start")),
      end: place(editor.value(layer, "fill.end")),
      stops: editor.value(layer, "fill.stops"),
      kind: editor.value(layer, "fill.kind"),
    };
  }

  gradient() {
    const found = this.gradientLine();
    if (!found) return "";
    const { start, end, stops, kind } = found;
    const out = [line(start, end, "gradient-line under"), line(start, end, "gradient-line")];
    const radius = Math.hypot(end[0] - start[0], end[1] - start[1]);
    if (kind !== "linear") out.push(`<circle class="guide" cx="${esc(start[0])}" cy="${esc(start[1])}" r="${esc(radius)}"/>`);
    if (kind !== "conic") {
      stops.forEach(([offset, colour], index) => {
        const x = start[0] + (end[0] - start[0]) * offset;
        const y = start[1] + (end[1] - start[1]) * offset;
        out.push(`<circle class="gradient-stop" data-gradient="stop" data-index="${index}" cx="${esc(x)}" cy="${esc(y)}" r="5.5" fill="${this.editor.colourOf(colour).slice(0, 7)}"/>`);
      });
    }
    const square = (p, name) => `<rect class="gradient-end" data-gradient="${name}" x="${esc(p[0] - 5)}" y="${esc(p[1] - 5)}" width="10" height="10" rx="5" transform="translate(0 -13)"/>`;
    out.push(square(start, "start"), square(end, "end"));
    return out.join("");
  }

  snapLines() {
    return this.snaps
      .map((snap) => {
        const a = this.point(snap.from);
        const b = this.point(snap.to);
        const label = snap.text ? `<text class="snap-text" x="${esc((a[0] + b[0]) / 2 + 5)}" y="${esc((a[1] + b[1]) / 2 - 5)}">${snap.text}</text>` : "";
        return line(a, b, "snap") + label;
      })
      .join("");
  }

  marqueeBox() {
    const [a, b] = this.marquee.map((p) => this.point(p));
    return `<rect class="marquee" x="${Math.min(a[0], b[0])}" y="${Math.min(a[1], b[1])}" width="${Math.abs(a[0] - b[0])}" height="${Math.abs(a[1] - b[1])}"/>`;
  }
}
