// Draws what lies over the picture: boxes, handles, pivots, paths, gradients, guides.
import { circle, el, grip, html, line, pointList, short, square } from "./markup.js";
import { shapesSvg } from "./shapes_overlay.js";
import { waysSvg } from "./ways_overlay.js";

const ring = (points, cls) => el("polygon", { class: cls, points: pointList(points) });

export const HANDLES = [
  ["nw", 0, 0],
  ["n", 0.5, 0],
  ["ne", 1, 0],
  ["e", 1, 0.5],
  ["se", 1, 1],
  ["s", 0.5, 1],
  ["sw", 0, 1],
  ["w", 0, 0.5],
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
    editor.on("view selection stage-moved document mode playing fill-open", () => this.draw());
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
      if (this.showPaths && editor.mode.ways) parts.push(waysSvg(this));
      const drawn = editor.modes.all.map((mode) => mode.svg());
      parts.push(this.boxes(), this.gradient(), shapesSvg(this), ...drawn, this.snapLines());
    }
    if (this.marquee) parts.push(this.marqueeBox());
    if (this.drawn) {
      parts.push(
        el("polyline", { class: "way drawn", points: pointList(this.drawn.map((p) => this.point(p))) }),
      );
    }
    this.svg.innerHTML = parts.join("");
  }

  guides() {
    const { width, height } = this.editor.scene;
    const corner = (x, y) => this.point([x * width, y * height]);
    const frame = (inset, cls) =>
      ring(
        [
          corner(inset, inset),
          corner(1 - inset, inset),
          corner(1 - inset, 1 - inset),
          corner(inset, 1 - inset),
        ],
        cls,
      );
    let out = frame(0, "frame-edge");
    if (this.safe) out += frame(0.05, "guide") + frame(0.1, "guide");
    if (this.grid) {
      for (let i = 1; i < 12; i += 1) {
        out +=
          line(corner(i / 12, 0), corner(i / 12, 1), { class: "gridline" }) +
          line(corner(0, i / 12), corner(1, i / 12), { class: "gridline" });
      }
      for (const third of [1 / 3, 2 / 3]) {
        out +=
          line(corner(third, 0), corner(third, 1), { class: "guide" }) +
          line(corner(0, third), corner(1, third), { class: "guide" });
      }
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
      if (editor.kinds[layer.kind].placed || chosen.length > 1) {
        out.push(
          ring(
            view.corners.map((p) => this.point(p)),
            cls + ghost,
          ),
        );
      }
    }
    const movable = chosen.filter((layer) => !layer.locked && editor.kinds[layer.kind].placed);
    if (editor.mode.handles && !editor.writing && movable.length && movable.length === chosen.length) {
      out.push(this.handles(movable));
    }
    return out.join("");
  }

  /** Screen corners of what has the handles: the turned box of one layer, the upright one of several. */
  handleCorners(layers) {
    const corners = layers.flatMap((layer) => this.editor.view[layer.id].corners);
    if (layers.length === 1) return corners.map((p) => this.point(p));
    const xs = corners.map((p) => p[0]);
    const ys = corners.map((p) => p[1]);
    const [l, t, r, b] = [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
    return [
      [l, t],
      [r, t],
      [r, b],
      [l, b],
    ].map((p) => this.point(p));
  }

  handles(layers) {
    const [nw, ne, se, sw] = this.handleCorners(layers);
    const at = (u, v) =>
      [0, 1].map((i) => (nw[i] * (1 - u) + ne[i] * u) * (1 - v) + (sw[i] * (1 - u) + se[i] * u) * v);
    const out = [];
    if (layers.length > 1) out.push(ring([nw, ne, se, sw], "box"));
    const top = at(0.5, 0);
    const centre = at(0.5, 0.5);
    const up = [top[0] - centre[0], top[1] - centre[1]];
    const size = Math.hypot(...up) || 1;
    const knob = [top[0] + (up[0] / size) * 22, top[1] + (up[1] / size) * 22];
    out.push(line(top, knob, { class: "stem" }));
    const wide = Math.hypot(ne[0] - nw[0], ne[1] - nw[1]) > 44;
    const tall = Math.hypot(sw[0] - nw[0], sw[1] - nw[1]) > 44;
    for (const [name, u, v] of HANDLES) {
      if (layers.length > 1 && name.length === 1) continue;
      if ((name === "n" || name === "s") && !wide) continue;
      if ((name === "e" || name === "w") && !tall) continue;
      const [x, y] = at(u, v);
      const box = square([x, y], 7, { class: "handle", rx: 1.5 });
      out.push(el("g", { "data-handle": name }, grip([x, y]), box));
    }
    out.push(el("g", { "data-handle": "rotate" }, grip(knob, 10), circle(knob, 4.5, { class: "handle" })));
    if (layers.length === 1) out.push(this.pivot(this.editor.view[layers[0].id].pivot));
    return out.join("");
  }

  pivot(scenePoint) {
    const [x, y] = this.point(scenePoint).map(short);
    const kite = el("path", { d: `M${x} ${y - 9} l5.5 7.5 l-5.5 10.5 l-5.5 -10.5Z` });
    const held = this.editor.mode.movesPivot;
    return el("g", { class: held ? "pivot held" : "pivot" }, kite, circle([x, y - 1.2], 1.7, {}));
  }

  /** Where a selected layer's gradient runs on the screen, null if it has none. */
  gradientLine() {
    const { editor } = this;
    if (editor.selected.size !== 1 || !editor.mode.handles || editor.writing) return null;
    if (editor.fillOpen === false) return null; // it would lie over what is looked at
    const layer = editor.selectedLayers[0];
    const view = layer && editor.view[layer.id];
    if (!view?.corners || layer.locked || editor.spec(layer, "fill.kind") === undefined) return null;
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
    const out = [
      line(start, end, { class: "gradient-line under" }),
      line(start, end, { class: "gradient-line" }),
    ];
    const radius = Math.hypot(end[0] - start[0], end[1] - start[1]);
    if (kind !== "linear") {
      out.push(circle(start, radius, { class: "guide" }));
    }
    if (kind !== "conic") {
      stops.forEach(([offset, colour], index) => {
        const at = [0, 1].map((axis) => start[axis] + (end[axis] - start[axis]) * offset);
        const which = { class: "gradient-stop", "data-gradient": "stop", "data-index": index };
        out.push(circle(at, 5.5, { ...which, fill: this.editor.colourOf(colour).slice(0, 7) }));
      });
    }
    for (const [at, name] of [
      [start, "start"],
      [end, "end"],
    ]) {
      const which = { class: "gradient-end", "data-gradient": name };
      out.push(square(at, 10, { ...which, rx: 5, transform: "translate(0 -13)" }));
    }
    return out.join("");
  }

  snapLines() {
    return this.snaps
      .map((snap) => {
        const a = this.point(snap.from);
        const b = this.point(snap.to);
        const label = snap.text
          ? el(
              "text",
              { class: "snap-text", x: (a[0] + b[0]) / 2 + 5, y: (a[1] + b[1]) / 2 - 5 },
              html(snap.text),
            )
          : "";
        return line(a, b, { class: "snap" }) + label;
      })
      .join("");
  }

  marqueeBox() {
    const [a, b] = this.marquee.map((p) => this.point(p));
    const box = {
      x: Math.min(a[0], b[0]),
      y: Math.min(a[1], b[1]),
      width: Math.abs(a[0] - b[0]),
      height: Math.abs(a[1] - b[1]),
    };
    return el("rect", { class: "marquee", ...box });
  }
}
