// Snapping of a moved box to the frame and to other layers, on the stage.

const REACH_PX = 6;

/** Boxes [left, top, right, bottom] in scene pixels of the layers that are not moved. */
export function otherBoxes(editor, moved) {
  const boxes = [];
  for (const layer of editor.layers) {
    const view = editor.view[layer.id];
    if (
      moved.has(layer.id) ||
      layer.hidden ||
      !editor.kinds[layer.kind].placed ||
      !view?.on ||
      !view.corners
    ) {
      continue;
    }
    boxes.push(Object.assign(boxAround(view.corners), { of: layer.name }));
  }
  return boxes;
}

export function boxAround(points) {
  const xs = points.map((p) => p[0]);
  const ys = points.map((p) => p[1]);
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
}

const SIDES = [
  ["left edge", "middle", "right edge"],
  ["top", "middle", "bottom"],
];

/** What a box may snap to along an axis, as [where, what it is called]. */
function lines(editor, boxes, axis, extra) {
  const size = axis === 0 ? editor.scene.width : editor.scene.height;
  const named = (box, of) => {
    const places = [box[axis], (box[axis] + box[axis + 2]) / 2, box[axis + 2]];
    return places.map((at, index) => [at, `${SIDES[axis][index]} of ${of}`]);
  };
  const found = named([0, 0, editor.scene.width, editor.scene.height], "the frame");
  if (extra.thirds) found.push(...[1 / 3, 2 / 3].map((share) => [size * share, "a third of the frame"]));
  if (extra.safe) found.push(...[0.05, 0.1, 0.9, 0.95].map((share) => [size * share, "a safe area"]));
  for (const box of boxes) found.push(...named(box, box.of));
  return found;
}

/**
 * The shift that brings a box's edge or middle onto the nearest line within reach.
 * Returns { shift: [dx, dy], marks, onto } with marks to draw and the names of what it lies on.
 */
export function snapBox(editor, box, boxes, scale, extra) {
  const shift = [0, 0];
  const marks = [];
  const onto = [];
  for (const axis of [0, 1]) {
    let best = REACH_PX / scale;
    let hit = null;
    const own = [box[axis], (box[axis] + box[axis + 2]) / 2, box[axis + 2]];
    for (const [at, name] of lines(editor, boxes, axis, extra)) {
      for (const edge of own) {
        if (Math.abs(at - edge) < best) {
          best = Math.abs(at - edge);
          shift[axis] = at - edge;
          hit = [at, name];
        }
      }
    }
    if (!hit) continue;
    marks.push(mark(editor, axis, hit[0]));
    onto.push(hit[1]);
  }
  return { shift, marks, onto };
}

function mark(editor, axis, at) {
  const { width, height } = editor.scene;
  const text = String(Math.round(at * 10) / 10);
  return axis === 0 ? { from: [at, 0], to: [at, height], text } : { from: [0, at], to: [width, at], text };
}

/** Distances from the box to the frame's edges, drawn while it is moved. */
export function distances(editor, box) {
  const { width, height } = editor.scene;
  const middle = [(box[0] + box[2]) / 2, (box[1] + box[3]) / 2];
  const out = [];
  if (box[0] > 0 && box[0] < width) {
    out.push({ from: [0, middle[1]], to: [box[0], middle[1]], text: `${Math.round(box[0])}` });
  }
  if (box[1] > 0 && box[1] < height) {
    out.push({ from: [middle[0], 0], to: [middle[0], box[1]], text: `${Math.round(box[1])}` });
  }
  return out;
}
