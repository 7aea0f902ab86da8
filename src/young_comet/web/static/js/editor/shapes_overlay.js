// What is drawn over the stage for paths that are edited: outlines of masks, points and handles,
// the box of a mask, half planes, places of effects.

import { map, turn } from "./points.js";

const esc = (number) => Math.round(number * 10) / 10;

/** The one selected layer's paths, with what is being edited. */
export function editedShapes(editor) {
  if (editor.selected.size !== 1 || editor.tool !== "select") return [];
  const [layer] = editor.selectedLayers;
  return layer.locked ? [] : (editor.shapes[layer.id] || []).map((shape) => ({ ...shape, layer }));
}

/** SVG path data of a path on the screen. */
function screenPath(overlay, shape) {
  const put = (point) => overlay.point(map(shape.matrix, point)).map(esc).join(" ");
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

export function shapesSvg(overlay) {
  const { editor } = overlay;
  const out = [];
  for (const shape of editedShapes(editor)) {
    const chosen = editor.mask && editor.mask === shape.mask;
    const colour = shape.colour || "var(--ice)";
    const pointing = editor.pointing === shape.property;
    if (shape.mask && !shape.contours.length) out.push(halfPlane(overlay, shape, chosen));
    else if (shape.mask || pointing) {
      const d = screenPath(overlay, shape);
      out.push(`<path class="shape-line" d="${d}" stroke="${colour}" ${chosen || pointing ? "" : 'stroke-dasharray="5 4"'}/>`);
      if (pointing) out.push(pointsSvg(overlay, shape, d, colour));
      else if (chosen) out.push(maskBox(overlay, shape, d, colour));
      else out.push(`<path class="shape-grip" data-mask-line="${shape.mask}" d="${d}"/>`);
    }
  }
  if (editor.drawnPath) out.push(penSvg(overlay, editor.drawnPath));
  out.push(placeSvg(overlay));
  return out.join("");
}

function pointsSvg(overlay, shape, d, colour) {
  const { editor } = overlay;
  const out = [`<path class="shape-grip" data-shape-line d="${d}"/>`];
  shape.contours.forEach(({ points }, c) => {
    points.forEach(([x, y, ix, iy, ox, oy], p) => {
      const name = `${c},${p}`;
      const chosen = editor.points.has(name);
      const [sx, sy] = overlay.point(map(shape.matrix, [x, y])).map(esc);
      if (chosen) {
        for (const [side, dx, dy] of [["into", ix, iy], ["out", ox, oy]]) {
          if (!dx && !dy) continue;
          const [hx, hy] = overlay.point(map(shape.matrix, [x + dx, y + dy])).map(esc);
          out.push(`<line class="way-stem" x1="${sx}" y1="${sy}" x2="${hx}" y2="${hy}"/><g data-shape-handle="${side}" data-point="${name}"><circle class="grip" cx="${hx}" cy="${hy}" r="9"/><circle class="way-handle" cx="${hx}" cy="${hy}" r="3.4"/></g>`);
        }
      }
      const first = p === 0 ? `<circle class="shape-first" cx="${sx}" cy="${sy}" r="8" stroke="${colour}"/>` : "";
      const curved = ix || iy || ox || oy;
      const dot = curved ? `<circle class="shape-point ${chosen ? "chosen" : ""}" cx="${sx}" cy="${sy}" r="4" stroke="${colour}"/>` : `<rect class="shape-point ${chosen ? "chosen" : ""}" x="${sx - 3.5}" y="${sy - 3.5}" width="7" height="7" stroke="${colour}"/>`;
      out.push(`${first}<g data-shape-point="${name}"><circle class="grip" cx="${sx}" cy="${sy}" r="9"/>${dot}</g>`);
    });
  });
  return out.join("");
}

/** The corners of a mask's box in its own space. */
export function maskCorners(shape) {
  const all = shape.contours.flatMap(({ points }) => points);
  const xs = all.map((p) => p[0]);
  const ys = all.map((p) => p[1]);
  const [l, t, r, b] = [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
  return [[l, t], [r, t], [r, b], [l, b]];
}

function maskBox(overlay, shape, d, colour) {
  const corners = maskCorners(shape).map((p) => overlay.point(map(shape.matrix, p)));
  const ring = corners.map((p) => p.map(esc).join(",")).join(" ");
  const top = [(corners[0][0] + corners[1][0]) / 2, (corners[0][1] + corners[1][1]) / 2];
  const middle = [(corners[0][0] + corners[2][0]) / 2, (corners[0][1] + corners[2][1]) / 2];
  const far = Math.hypot(top[0] - middle[0], top[1] - middle[1]) || 1;
  const knob = [top[0] + ((top[0] - middle[0]) / far) * 20, top[1] + ((top[1] - middle[1]) / far) * 20];
  const square = ([x, y], i) => `<g data-mask-handle="${i}"><circle class="grip" cx="${esc(x)}" cy="${esc(y)}" r="9"/><rect class="shape-point" x="${esc(x - 3.5)}" y="${esc(y - 3.5)}" width="7" height="7" stroke="${colour}"/></g>`;
  return `<path class="shape-grip area" data-mask-handle="move" d="${d}"/><polygon class="mask-box" points="${ring}" stroke="${colour}"/><line x1="${esc(top[0])}" y1="${esc(top[1])}" x2="${esc(knob[0])}" y2="${esc(knob[1])}" stroke="${colour}"/>${corners.map(square).join("")}<g data-mask-handle="rotate"><circle class="grip" cx="${esc(knob[0])}" cy="${esc(knob[1])}" r="10"/><circle class="shape-point" cx="${esc(knob[0])}" cy="${esc(knob[1])}" r="4.2" stroke="${colour}"/></g>`;
}

/** A long line, a foot to take hold of, and a stalk towards the side that is kept. */
function halfPlane(overlay, shape, chosen) {
  const foot = overlay.point(map(shape.matrix, [0, 0]));
  const along = turn(shape.matrix, [0, 1]);
  const size = Math.hypot(...along) || 1;
  const dir = [along[0] / size, along[1] / size];
  const far = 3000;
  const [a, b] = [-far, far].map((k) => [foot[0] + dir[0] * k, foot[1] + dir[1] * k].map(esc));
  const to = turn(shape.matrix, [1, 0]);
  const length = Math.hypot(...to) || 1;
  const knob = [foot[0] + (to[0] / length) * 36, foot[1] + (to[1] / length) * 36].map(esc);
  const line = `x1="${a[0]}" y1="${a[1]}" x2="${b[0]}" y2="${b[1]}"`;
  const [x, y] = foot.map(esc);
  const grips = chosen
    ? `<g data-mask-handle="move"><circle class="grip" cx="${x}" cy="${y}" r="11"/><circle class="shape-point" cx="${x}" cy="${y}" r="5" stroke="${shape.colour}"/></g><line x1="${x}" y1="${y}" x2="${knob[0]}" y2="${knob[1]}" stroke="${shape.colour}"/><g data-mask-handle="rotate"><circle class="grip" cx="${knob[0]}" cy="${knob[1]}" r="10"/><path class="shape-point" d="M${knob[0]} ${knob[1]}m-4 0a4 4 0 1 0 8 0a4 4 0 1 0-8 0" stroke="${shape.colour}"/></g>`
    : "";
  return `<line class="shape-line" ${line} stroke="${shape.colour}" ${chosen ? "" : 'stroke-dasharray="5 4"'}/><line class="shape-grip" ${line} ${chosen ? 'data-mask-handle="move"' : `data-mask-line="${shape.mask}"`}/>${grips}`;
}

/** What the pen has drawn so far: scene points with handles. */
function penSvg(overlay, drawn) {
  const put = (p) => overlay.point(p).map(esc).join(" ");
  const { points, hover } = drawn;
  const all = hover ? [...points, { at: hover, into: [0, 0], out: [0, 0] }] : points;
  let d = `M${put(all[0].at)}`;
  for (let i = 1; i < all.length; i += 1) {
    const [a, b] = [all[i - 1], all[i]];
    d += `C${put([a.at[0] + a.out[0], a.at[1] + a.out[1]])} ${put([b.at[0] + b.into[0], b.at[1] + b.into[1]])} ${put(b.at)}`;
  }
  const dots = points.map(({ at, out, into }, i) => {
    const [x, y] = overlay.point(at).map(esc);
    const stems = [out, into].filter((h) => h[0] || h[1]).map((h) => {
      const [hx, hy] = overlay.point([at[0] + h[0], at[1] + h[1]]).map(esc);
      return `<line class="way-stem" x1="${x}" y1="${y}" x2="${hx}" y2="${hy}"/><circle class="way-handle" cx="${hx}" cy="${hy}" r="3"/>`;
    });
    return `${stems.join("")}<circle class="shape-point" cx="${x}" cy="${y}" r="${i ? 3.5 : 5}" stroke="var(--ember)"/>`;
  });
  return `<path class="shape-line" d="${d}" stroke="var(--ember)"/>${dots.join("")}`;
}

/** Handles of effects' places and colour points on the selected layer. */
export function placesOf(editor) {
  if (editor.selected.size !== 1 || editor.tool !== "select") return [];
  const [layer] = editor.selectedLayers;
  const view = editor.view[layer.id];
  if (!view?.matrix || layer.locked) return [];
  const found = [];
  for (const effect of layer.effects) {
    for (const spec of editor.specsOfMember(layer, "effect", effect)) {
      if (spec.widget === "place" && editor.placing === spec.id) found.push({ layer, spec, at: editor.value(layer, spec.id), matrix: view.matrix });
      if (spec.kind === "spots" && effect.on) {
        const [l, t, r, b] = view.box;
        editor.value(layer, spec.id).forEach(([x, y, , colour], index) => {
          const at = [l + ((r - l) * x) / 100, t + ((b - t) * y) / 100];
          found.push({ layer, spec, index, at, matrix: view.matrix, box: view.box, colour: editor.colourOf(colour) });
        });
      }
    }
  }
  return found;
}

function placeSvg(overlay) {
  return placesOf(overlay.editor)
    .map(({ at, matrix, colour }, number) => {
      const [x, y] = overlay.point(map(matrix, at)).map(esc);
      const mark = colour
        ? `<circle class="gradient-stop" cx="${x}" cy="${y}" r="8" fill="${colour.slice(0, 7)}"/>`
        : `<path class="place-mark" d="M${x - 11} ${y}h7M${x + 4} ${y}h7M${x} ${y - 11}v7M${x} ${y + 4}v7"/><circle class="place-mark" cx="${x}" cy="${y}" r="5"/>`;
      return `<g data-place="${number}"><circle class="grip" cx="${x}" cy="${y}" r="12"/>${mark}</g>`;
    })
    .join("");
}
