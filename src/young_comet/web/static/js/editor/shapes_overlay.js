// What is drawn over the stage for paths that are edited: outlines of masks, points and handles,
// the box of a mask, half planes, places of effects.

import { circle, classes, el, grip, line, pointList, short, square } from "./markup.js";
import { placesOf } from "./modes/places.js";
import { map, turn } from "./points.js";

/** The one selected layer's paths, with what is being edited. */
export function editedShapes(editor) {
  if (editor.selected.size !== 1 || !editor.mode.selects) return [];
  const [layer] = editor.selectedLayers;
  return layer.locked ? [] : (editor.shapes[layer.id] || []).map((shape) => ({ ...shape, layer }));
}

/** SVG path data of a path on the screen. */
function screenPath(overlay, shape) {
  const put = (point) => overlay.point(map(shape.matrix, point)).map(short).join(" ");
  return shape.contours
    .map(({ closed, points }) => {
      const segments = closed ? points.length : points.length - 1;
      let out = `M${put(points[0])}`;
      for (let i = 0; i < segments; i += 1) {
        const [x0, y0, , , ox, oy] = points[i];
        const [x1, y1, ix, iy] = points[(i + 1) % points.length];
        out += `C${put([x0 + ox, y0 + oy])} ${put([x1 + ix, y1 + iy])} ${put([x1, y1])}`;
      }
      return out + (closed ? "Z" : "");
    })
    .join("");
}

const dashes = (on) => (on ? null : "5 4");

export function shapesSvg(overlay) {
  const { editor } = overlay;
  const out = [];
  for (const shape of editedShapes(editor)) {
    const chosen = shape.mask && editor.mode.mask === shape.mask;
    const stroke = shape.colour || "var(--ice)";
    const pointing = editor.mode.property === shape.property;
    if (shape.mask && !shape.contours.length) out.push(halfPlane(overlay, shape, chosen));
    else if (shape.mask || pointing) {
      const d = screenPath(overlay, shape);
      const look = { class: "shape-line", d, stroke, "stroke-dasharray": dashes(chosen || pointing) };
      out.push(el("path", look));
      if (pointing) out.push(pointsSvg(overlay, shape, d, stroke));
      else if (chosen) out.push(maskBox(overlay, shape, d, stroke));
      else out.push(el("path", { class: "shape-grip", "data-mask-line": shape.mask, d }));
    }
  }
  out.push(placeSvg(overlay));
  return out.join("");
}

function pointsSvg(overlay, shape, d, stroke) {
  const out = [el("path", { class: "shape-grip", "data-shape-line": "", d })];
  shape.contours.forEach(({ points }, c) => {
    points.forEach((point, p) => out.push(pointSvg(overlay, shape, point, `${c},${p}`, stroke)));
  });
  return out.join("");
}

/** A point: round where it is curved, with handles where it is chosen, ringed where it is the first. */
function pointSvg(overlay, shape, [x, y, ix, iy, ox, oy], name, stroke) {
  const chosen = overlay.editor.mode.points.has(name);
  const at = overlay.point(map(shape.matrix, [x, y])).map(short);
  const out = [];
  for (const [side, dx, dy] of [
    ["into", ix, iy],
    ["out", ox, oy],
  ]) {
    if (!chosen || (!dx && !dy)) continue;
    const end = overlay.point(map(shape.matrix, [x + dx, y + dy])).map(short);
    const which = { "data-shape-handle": side, "data-point": name };
    out.push(line(at, end, { class: "way-stem" }));
    out.push(el("g", which, grip(end), circle(end, 3.4, { class: "way-handle" })));
  }
  if (name.endsWith(",0")) out.push(circle(at, 8, { class: "shape-first", stroke }));
  const look = { class: classes("shape-point", chosen && "chosen"), stroke };
  const dot = ix || iy || ox || oy ? circle(at, 4, look) : square(at, 7, look);
  out.push(el("g", { "data-shape-point": name }, grip(at), dot));
  return out.join("");
}

/** The corners of a mask's box in its own space. */
export function maskCorners(shape) {
  const all = shape.contours.flatMap(({ points }) => points);
  const xs = all.map((p) => p[0]);
  const ys = all.map((p) => p[1]);
  const [l, t, r, b] = [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
  return [
    [l, t],
    [r, t],
    [r, b],
    [l, b],
  ];
}

function maskBox(overlay, shape, d, stroke) {
  const corners = maskCorners(shape).map((p) => overlay.point(map(shape.matrix, p)));
  const between = (a, b) => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];
  const top = between(corners[0], corners[1]);
  const middle = between(corners[0], corners[2]);
  const far = Math.hypot(top[0] - middle[0], top[1] - middle[1]) || 1;
  const knob = [0, 1].map((axis) => top[axis] + ((top[axis] - middle[axis]) / far) * 20);
  const look = { class: "shape-point", stroke };
  const squares = corners.map((at, i) => el("g", { "data-mask-handle": i }, grip(at), square(at, 7, look)));
  return [
    el("path", { class: "shape-grip area", "data-mask-handle": "move", d }),
    el("polygon", { class: "mask-box", points: pointList(corners), stroke }),
    line(top, knob, { stroke }),
    ...squares,
    el("g", { "data-mask-handle": "rotate" }, grip(knob, 10), circle(knob, 4.2, look)),
  ].join("");
}

/** A long line, a foot to take hold of, and a stalk towards the side that is kept. */
function halfPlane(overlay, shape, chosen) {
  const foot = overlay.point(map(shape.matrix, [0, 0]));
  const unit = (vector) => {
    const [x, y] = turn(shape.matrix, vector);
    const size = Math.hypot(x, y) || 1;
    return [x / size, y / size];
  };
  const along = unit([0, 1]);
  const kept = unit([1, 0]);
  const from = (way, far) => [foot[0] + way[0] * far, foot[1] + way[1] * far];
  const [a, b] = [from(along, -3000), from(along, 3000)];
  const knob = from(kept, 36);
  const stroke = shape.colour;
  const look = { class: "shape-point", stroke };
  const which = chosen ? { "data-mask-handle": "move" } : { "data-mask-line": shape.mask };
  const out = [
    line(a, b, { class: "shape-line", stroke, "stroke-dasharray": dashes(chosen) }),
    line(a, b, { class: "shape-grip", ...which }),
  ];
  if (!chosen) return out.join("");
  out.push(el("g", { "data-mask-handle": "move" }, grip(foot, 11), circle(foot, 5, look)));
  out.push(line(foot, knob, { stroke }));
  out.push(el("g", { "data-mask-handle": "rotate" }, grip(knob, 10), circle(knob, 4, look)));
  return out.join("");
}

/** A cross with a ring for an effect's place, a disc in its colour for a colour point. */
function placeSvg(overlay) {
  return placesOf(overlay.editor)
    .map(({ at, matrix, colour }, number) => {
      const [x, y] = overlay.point(map(matrix, at)).map(short);
      const cross = `M${x - 11} ${y}h7M${x + 4} ${y}h7M${x} ${y - 11}v7M${x} ${y + 4}v7`;
      const mark = colour
        ? circle([x, y], 8, { class: "gradient-stop", fill: colour.slice(0, 7) })
        : el("path", { class: "place-mark", d: cross }) + circle([x, y], 5, { class: "place-mark" });
      return el("g", { "data-place": number }, grip([x, y], 12), mark);
    })
    .join("");
}
