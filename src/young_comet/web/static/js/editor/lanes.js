// Draws a lane: the curve as the server sampled it, and its keys as comets.

const esc = (number) => Number(number.toFixed(1));
const TAIL_PX = 26;
const EDGE = 8;

/** SVG of a lane of a given height; `timeline` gives x for a time. */
export function laneSvg(timeline, layer, lane, height) {
  const shift = timeline.spanOf(layer).start_s - layer.start_s;
  const x = (time) => timeline.x(time + shift);
  const parts = [];
  if (lane.curves) {
    lane.curves.forEach((curve, index) => parts.push(curveSvg(lane, curve, index, x, height)));
  } else {
    parts.push(ribbonSvg(lane, x, height));
  }
  for (const key of lane.keys) parts.push(keySvg(timeline.editor, lane, key, x, height));
  return parts.join("");
}

/** y of a value: the lane's lowest value lies near its foot. */
function level(lane, value, height) {
  const range = lane.high - lane.low;
  if (range < 1e-9) return height / 2;
  return height - EDGE - ((value - lane.low) / range) * (height - 2 * EDGE);
}

function curveSvg(lane, curve, index, x, height) {
  const points = curve.map((value, i) => `${esc(x(lane.times[i]))},${esc(level(lane, value, height))}`).join(" ");
  const cls = lane.curves.length === 1 ? "curve number" : index ? "curve second" : "curve";
  return `<polyline class="${cls}" points="${points}"/>`;
}

function ribbonSvg(lane, x, height) {
  const out = [];
  for (let i = 0; i + 1 < lane.times.length; i += 1) {
    const a = x(lane.times[i]);
    const b = x(lane.times[i + 1]);
    if (b > a) out.push(`<rect x="${esc(a)}" y="${height / 2 - 6}" width="${esc(b - a + 0.6)}" height="12" fill="${lane.colours[i]}"/>`);
  }
  return out.join("");
}

/** A key: a head, and tails as long as it is left and reached softly; a flat tail holds. */
function keySvg(editor, lane, key, x, height) {
  const cx = esc(x(key.time_s));
  const cy = esc(lane.curves ? level(lane, key.values[0], height) : height / 2);
  const chosen = editor.keys.has(`${lane.layer}|${lane.property}|${key.id}`);
  const tail = (reach, side) => {
    if (reach < 0.02) return "";
    const tip = esc(cx + side * (6 + reach * TAIL_PX));
    return `<path class="key-tail" d="M${tip} ${cy} L${cx} ${esc(cy - 3.4)} L${cx} ${esc(cy + 3.4)}Z"/>`;
  };
  const next = lane.keys[lane.keys.indexOf(key) + 1];
  const hold = key.hold && next ? `<line class="key-hold" x1="${cx}" x2="${esc(x(next.time_s) - 6)}" y1="${cy}" y2="${cy}"/>` : "";
  return `<g class="key ${chosen ? "chosen" : ""}" data-key="${key.id}" tabindex="-1"><rect x="${cx - 8}" y="${cy - 8}" width="16" height="16" fill="transparent"/>${hold}${tail(key.arrive, -1)}${tail(key.leave, 1)}<circle class="ring" cx="${cx}" cy="${cy}" r="7"/><circle class="key-head" cx="${cx}" cy="${cy}" r="4"/></g>`;
}
