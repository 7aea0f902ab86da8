// Draws a lane: the curve as the server sampled it, and its keys as comets. A tall lane has axes,
// a dot for every frame and the handles of the chosen keys.
import { trim } from "../formats.js";
import { circle, classes, el, grip, html, line, short, square } from "./markup.js";

const TAIL_PX = 26;
const EDGE = 8;
const TALL_EDGE = 20;

/** SVG of a lane of a given height; `timeline` gives x for a time. */
export function laneSvg(timeline, layer, lane, height) {
  const shift = timeline.spanOf(layer).start_s - layer.start_s;
  const x = (time) => timeline.x(time + shift);
  const tall = timeline.editor.tall.has(`${lane.layer}|${lane.property}`);
  const parts = [];
  if (tall && lane.curves) parts.push(axes(lane, height, timeline.width));
  if (lane.curves) {
    lane.curves.forEach((curve, index) => parts.push(curveSvg(timeline, lane, curve, index, x, height)));
    if (tall && lane.dots) parts.push(dotsSvg(timeline, lane, shift, height));
  } else if (lane.steps) {
    // Forms have no one value: from key to key a line. What a text says stands beside its keys.
    const ends = lane.keys.map((key) => short(x(key.time_s)));
    if (ends.length > 1) {
      parts.push(`<path class="curve second" d="M${ends[0]} ${height / 2}H${ends.at(-1)}"/>`);
    }
    lane.keys.forEach((key, index) => {
      if (key.text === undefined) return;
      const room = (ends[index + 1] ?? timeline.width) - ends[index] - 20;
      const letters = Math.min(key.text.length, Math.floor(room / 6.2));
      const words = letters < key.text.length ? `${key.text.slice(0, Math.max(0, letters - 1))}…` : key.text;
      if (letters > 1) {
        parts.push(
          `<text class="key-text" x="${ends[index] + 10}" y="${height / 2 - 4}">${plainText(words)}</text>`,
        );
      }
    });
  } else {
    parts.push(ribbonSvg(lane, x, height));
  }
  const { width } = timeline;
  for (const key of lane.keys) {
    const cx = x(key.time_s);
    if (cx < -60 || cx > width + 60) continue;
    parts.push(keySvg(timeline.editor, lane, key, x, height, tall));
  }
  return parts.join("");
}

function plainText(words) {
  return words.replace(/[&<>]/g, (letter) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;" })[letter]);
}

/** y of a value: the lane's lowest value lies near its foot. */
export function level(lane, value, height) {
  const { low, high } = extent(lane);
  const edge = height > 60 ? TALL_EDGE : EDGE;
  if (high - low < 1e-9) return height / 2;
  return height - edge - ((value - low) / (high - low)) * (height - 2 * edge);
}

/** The value at a y of a tall lane. */
export function valueAt(lane, y, height) {
  const { low, high } = extent(lane);
  const edge = height > 60 ? TALL_EDGE : EDGE;
  const range = Math.max(high - low, 1e-9);
  return low + ((height - edge - y) / (height - 2 * edge)) * range;
}

function extent(lane) {
  if (lane.high - lane.low > 1e-9) return lane;
  const air = Math.max(1, Math.abs(lane.low) * 0.1);
  return { low: lane.low - air, high: lane.high + air };
}

/** Levels at round values, labelled with their unit. */
function axes(lane, height, width) {
  const { low, high } = extent(lane);
  const rough = (high - low) / Math.max(2, Math.floor(height / 42));
  const power = 10 ** Math.floor(Math.log10(rough));
  const step = [1, 2, 5, 10].map((each) => each * power).find((each) => each >= rough);
  const out = [];
  for (let value = Math.ceil(low / step) * step; value <= high + step * 1e-6; value += step) {
    const y = short(level(lane, value, height));
    out.push(
      line([0, y], [width + 40, y], { class: "level" }),
      el("text", { class: "level-text", x: 3, y: y - 3 }, html(`${trim(value, 3)}${lane.unit}`)),
    );
  }
  return out.join("");
}

function curveSvg(timeline, lane, curve, index, x, height) {
  const points = [];
  const { width } = timeline;
  let last = null;
  for (let i = 0; i < curve.length; i += 1) {
    const px = x(lane.times[i]);
    const next = i + 1 < curve.length ? x(lane.times[i + 1]) : px;
    if (next < -20 || (last !== null && last > width + 60)) continue;
    points.push(`${short(px)},${short(level(lane, curve[i], height))}`);
    last = px;
  }
  const cls = lane.curves.length === 1 ? "curve number" : index ? "curve second" : "curve";
  return `<polyline class="${cls}" points="${points.join(" ")}"/>`;
}

function dotsSvg(timeline, lane, shift, height) {
  const { editor, width } = timeline;
  const out = [];
  const each = timeline.x(editor.timeOf(1)) - timeline.x(0);
  const step = Math.max(1, Math.ceil(3 / each));
  lane.dots.values.forEach((values, index) => {
    const cls = lane.curves.length === 1 ? "number" : index ? "second" : "";
    for (let i = 0; i < values.length; i += step) {
      const px = timeline.x(editor.timeOf(lane.dots.first + i) + shift);
      if (px > -4 && px < width + 30) {
        out.push(
          circle([short(px), short(level(lane, values[i], height))], 1.6, {
            class: classes("speed-dot", cls),
          }),
        );
      }
    }
  });
  return out.join("");
}

function ribbonSvg(lane, x, height) {
  const out = [];
  for (let i = 0; i + 1 < lane.times.length; i += 1) {
    const a = x(lane.times[i]);
    const b = x(lane.times[i + 1]);
    if (b > a) {
      const box = { x: short(a), y: height / 2 - 6, width: short(b - a + 0.6), height: 12 };
      out.push(el("rect", { ...box, fill: lane.colours[i] }));
    }
  }
  return out.join("");
}

// A key that is further than this from a frame, in frames, lies off the frames.
const OFF_FRAME = 0.02;

/** A key: a head on each of its curves in a tall lane, with tails as long as it is left and
 *  reached softly; a flat tail holds, a wavy one swings, a stepped one jumps. */
function keySvg(editor, lane, key, x, height, tall) {
  const cx = short(x(key.time_s));
  const chosen = editor.keys.has(`${lane.layer}|${lane.property}|${key.id}`);
  const next = lane.keys[lane.keys.indexOf(key) + 1];
  const heads = tall && lane.curves ? key.values : key.values.slice(0, 1);
  const levels = lane.curves ? heads.map((value) => short(level(lane, value, height))) : [height / 2];
  const handles = tall && chosen ? handlesSvg(lane, key, cx, x, height) : "";
  const parts = levels.map((cy, index) => {
    const ends = index === 0 ? tailsSvg(key, next, cx, cy, x) : "";
    const at = [cx, cy];
    const head = classes("key-head", key.join === "smooth" && "smooth");
    return el(
      "g",
      { "data-part": index },
      square(at, 16, { fill: "transparent" }),
      ends,
      circle(at, 7, { class: "ring" }),
      circle(at, index ? 3.2 : 4, { class: head }),
    );
  });
  const frame = key.time_s * (editor.rate.num / editor.rate.den);
  const off = Math.abs(frame - Math.round(frame)) > OFF_FRAME;
  const cls = classes("key", chosen && "chosen", off && "off-frame");
  return el("g", { class: cls, "data-key": key.id, tabindex: -1 }, handles, parts);
}

function tailsSvg(key, next, cx, cy, x) {
  const soft = (reach, side) => {
    if (reach < 0.02) return "";
    const tip = short(cx + side * (6 + reach * TAIL_PX));
    return `<path class="key-tail" d="M${tip} ${cy} L${cx} ${short(cy - 3.4)} L${cx} ${short(cy + 3.4)}Z"/>`;
  };
  let leaving = "";
  if (key.tail === "hold" && next) {
    leaving = `<line class="key-hold" x1="${cx}" x2="${short(x(next.time_s) - 6)}" y1="${cy}" y2="${cy}"/>`;
  } else if (key.tail === "wavy" && next) {
    leaving = `<path class="key-wave" d="M${cx + 5} ${cy} q3.5 -7 7 0 t7 0 t7 0"/>`;
  } else if (key.tail === "steps" && next) {
    leaving = `<path class="key-wave" d="M${cx + 5} ${cy + 3} h5 v-3 h5 v-3 h5"/>`;
  } else leaving = soft(key.leave, 1);
  return soft(key.tail_before === "soft" ? key.arrive : 0, -1) + leaving;
}

/** Handles of a chosen key, on the coordinate that moves most. */
function handlesSvg(lane, key, cx, x, height) {
  const out = [];
  for (const side of ["into", "out"]) {
    const handle = key[side];
    if (!handle) continue;
    const part = widest(lane, key, side);
    const from = short(level(lane, key.values[part], height));
    const hx = short(x(handle.time_s));
    const hy = short(Math.max(-20, Math.min(height + 20, level(lane, handle.values[part], height))));
    const at = [hx, hy];
    const which = { "data-handle": side === "out" ? "leave" : "arrive", "data-part": part };
    out.push(
      line([cx, from], at, { class: "lane-stem" }),
      el("g", { class: "lane-handle", ...which }, grip(at), circle(at, 4, { class: "knob" })),
    );
  }
  return out.join("");
}

function widest(lane, key, side) {
  const index = lane.keys.indexOf(key) + (side === "out" ? 1 : -1);
  const other = lane.keys[index];
  if (!other || key.values.length < 2) return 0;
  return Math.abs(other.values[1] - key.values[1]) > Math.abs(other.values[0] - key.values[0]) ? 1 : 0;
}

/** The speed nearest to a moment, as a text; "" where the lane does not tell. */
export function speedText(editor, lane, time) {
  if (!lane?.dots) return "";
  const index = Math.round(editor.frameAt(time)) - lane.dots.first;
  const speed = lane.dots.speeds[Math.max(0, Math.min(lane.dots.speeds.length - 1, index))];
  const values = lane.dots.values.map((row) => trim(row[Math.max(0, Math.min(row.length - 1, index))], 1));
  return `${values.join(", ")}${lane.unit} · ${trim(speed, 1)} ${lane.unit || "units"}/s`;
}
