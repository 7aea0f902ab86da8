// Waveforms on the bars of what is heard, the line of its gain over them, and the corners of its fades.
import { api } from "../api.js";
import { circle, el, short } from "./markup.js";

// A column of the drawing is so many pixels wide; the line is drawn more coarsely.
const COLUMN_PX = 1;
const LINE_PX = 3;
const MOST_COLUMNS = 3000;
// Decibels at the lower and upper edge of a bar.
const LOW_DB = -42;
const HIGH_DB = 12;

export class Waves {
  constructor(editor, timeline) {
    this.editor = editor;
    this.timeline = timeline;
    this.kept = new Map();
    this.asked = new Map();
    this.dragged = new Map(); // what is being dragged of a layer, until it is saved
    this.timers = new Map();
    editor.on("document", () => this.dragged.clear());
  }

  /** Shows something as it is dragged. */
  drag(id, what) {
    this.dragged.set(id, what);
    this.timeline.schedule();
  }

  /** Whether a layer has a wave to be drawn. */
  has(layer) {
    return layer.kind === "sound" || (layer.kind === "clip" && this.editor.value(layer, "sound.on"));
  }

  /** The wave of a layer on its bar: { shapes, grips }. */
  draw(layer, start, end, bar) {
    if (!this.has(layer)) return { shapes: "", grips: "" };
    this.want(layer, start, end);
    const data = this.kept.get(layer.id);
    const shapes = data ? this.shapes(layer, data, start, bar) : "";
    return { shapes, grips: layer.kind === "sound" ? this.grips(layer, start, end, bar) : "" };
  }

  /** Asks for what is in view, in as many columns as it has pixels. */
  want(layer, start, end) {
    const { timeline, editor } = this;
    if (timeline.spans.has(layer.id)) return; // it is being dragged
    const air = timeline.shownSpan * 0.04; // bars go on beyond the ruler
    const from = Math.max(start, timeline.start - air);
    const to = Math.min(end, timeline.start + timeline.shownSpan + air);
    if (to <= from) return;
    const wide = timeline.x(to) - timeline.x(from);
    const columns = Math.max(1, Math.min(MOST_COLUMNS, Math.round(wide / COLUMN_PX)));
    const name = [editor.revision, from.toFixed(4), to.toFixed(4), columns].join("|");
    if (this.asked.get(layer.id) === name) return;
    this.asked.set(layer.id, name);
    clearTimeout(this.timers.get(layer.id));
    const later = async () => {
      if (this.asked.get(layer.id) !== name) return;
      try {
        const found = await api.wave(editor.projectId, editor.sceneId, layer.id, from, to, columns);
        this.kept.set(layer.id, { ...found, from, to, start: layer.start_s });
      } catch {
        this.kept.delete(layer.id); // nothing is heard of it
      }
      timeline.schedule();
    };
    this.timers.set(layer.id, setTimeout(later, 40));
  }

  shapes(layer, data, start, bar) {
    const { timeline } = this;
    const by = timeline.spans.has(layer.id) ? start - data.start : 0;
    const count = data.low.length;
    const x0 = timeline.x(data.from + by);
    const step = (timeline.x(data.to + by) - x0) / count;
    const middle = bar.top + bar.height / 2;
    const half = (bar.height / 2 - 2) / 1000;
    const upper = [];
    const lower = [];
    for (let n = 0; n < count; n += 1) {
      const x = short(x0 + (n + 0.5) * step);
      upper.push(`${x} ${short(middle - Math.max(40 / bar.height, data.high[n] * half))}`);
      lower.push(`${x} ${short(middle - Math.min(-40 / bar.height, data.low[n] * half))}`);
    }
    const wave = el("path", { class: "wave", d: `M${upper.join("L")}L${lower.reverse().join("L")}Z` });
    if (layer.kind !== "sound") return wave;
    return wave + el("path", { class: "gain-line", d: this.line(layer, data, x0, step, bar, LINE_PX) });
  }

  /** The line of the gain. */
  line(layer, data, x0, step, bar, px) {
    const lift = this.dragged.get(layer.id)?.lift ?? (() => 1);
    const count = data.gain.length;
    const gain = (n) => (data.gain[n] / 1000) * lift(data.from + ((n + 0.5) / count) * (data.to - data.from));
    const points = [];
    const every = Math.max(1, Math.round(px / Math.max(step, 0.1)));
    for (let n = 0; n < count; n += every) {
      points.push(`${short(x0 + (n + 0.5) * step)} ${short(this.heightOf(gain(n), bar))}`);
    }
    points.push(`${short(x0 + count * step)} ${short(this.heightOf(gain(count - 1), bar))}`);
    return `M${points.join("L")}`;
  }

  heightOf(gain, bar) {
    const db = Math.max(LOW_DB, Math.min(HIGH_DB, 20 * Math.log10(Math.max(gain, 1e-6))));
    return bar.top + 1.5 + ((HIGH_DB - db) / (HIGH_DB - LOW_DB)) * (bar.height - 3);
  }

  /** Decibels of a way up or down on a bar. */
  decibelsOf(dy, bar) {
    return (-dy / (bar.height - 3)) * (HIGH_DB - LOW_DB);
  }

  /** What can be taken hold of: the line, and the corners of the fades. */
  grips(layer, start, end, bar) {
    const { editor, timeline } = this;
    const value = (name) => this.dragged.get(layer.id)?.[name] ?? editor.value(layer, name);
    const gain = el(
      "path",
      {
        class: "gain-grip",
        "data-bar": "gain",
        d: this.lineAcross(layer, start, end, bar),
      },
      el("title", {}, "Gain: drag up and down"),
    );
    const corner = (time, which, said) => {
      const at = [timeline.x(time), bar.top + 3.5];
      const hold = el(
        "circle",
        { class: "fade-grip", "data-bar": which, cx: at[0], cy: at[1], r: 7 },
        el("title", {}, `${said}: drag to change how long it takes`),
      );
      return hold + circle(at, 2.6, { class: "fade-dot" });
    };
    return (
      gain +
      corner(Math.min(end, start + value("sound.fade-in")), "fade-in", "Fades in") +
      corner(Math.max(start, end - value("sound.fade-out")), "fade-out", "Fades out")
    );
  }

  /** The line as it was last drawn, or across the bar. */
  lineAcross(layer, start, end, bar) {
    const { timeline } = this;
    const data = this.kept.get(layer.id);
    if (!data) {
      const y = this.heightOf(1, bar);
      return `M${short(timeline.x(start) + 12)} ${short(y)}H${short(timeline.x(end) - 12)}`;
    }
    const x0 = timeline.x(data.from);
    return this.line(layer, data, x0, (timeline.x(data.to) - x0) / data.gain.length, bar, 8);
  }
}
