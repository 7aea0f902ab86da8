// Motion paths drawn over the stage.
import { circle, classes, el, grip, line, pointList, square } from "./markup.js";

/** SVG of the paths of the chosen layers: dots a frame, keys, and handles of chosen keys. */
export function waysSvg(overlay) {
  const { editor } = overlay;
  const out = [];
  for (const [id, way] of Object.entries(editor.ways)) {
    if (!editor.layer(id) || !editor.selected.has(id)) continue;
    const places = way.points.map((p) => overlay.point(p));
    const points = pointList(places);
    out.push(
      el("polyline", { class: "way", points }),
      el("polyline", { class: "way-grip", "data-way": id, points }),
    );
    for (const at of places) out.push(circle(at, 1.7, { class: "way-dot" }));
    for (const key of way.keys) out.push(keySvg(overlay, id, key));
  }
  return out.join("");
}

function keySvg(overlay, layer, key) {
  const at = overlay.point(key.point);
  const chosen = overlay.editor.keys.has(`${layer}|position|${key.id}`);
  const which = { "data-way-layer": layer, "data-way-key": key.id };
  const handles = [];
  for (const side of ["into", "out"]) {
    if (!chosen || !key[side]) continue;
    const end = overlay.point(key[side]);
    const handle = { "data-way-handle": side, ...which };
    handles.push(line(at, end, { class: "way-stem" }));
    handles.push(el("g", handle, grip(end), circle(end, 3.6, { class: "way-handle" })));
  }
  const look = { class: classes("way-key", chosen && "chosen") };
  const head = key.into || key.out ? circle(at, 4.2, look) : square(at, 7.2, { ...look, rx: 1.5 });
  return handles.join("") + el("g", which, grip(at), head);
}
