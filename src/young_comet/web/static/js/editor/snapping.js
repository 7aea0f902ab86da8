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
    boxes.push(boxAround(view.corners));
  }
  return boxes;
}

export function boxAround(points) {
  const xs = points.map((p) => p[0]);
  const ys = points.map((p) => p[1]);
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)];
}

function lines(editor, boxes, axis, extra) {
  const size = axis === 0 ? editor.scene.width : editor.scene.height;
  const found = [0, size / 2, size];
  if (extra.thirds) found.push(size / 3, (size * 2) / 3);
  if (extra.safe) found.push(size * 0.05, size * 0.1, size * 0.9, size * 0.95);
  for (const box of boxes) found.push(box[axis], (box[axis] + box[axis + 2]) / 2, box[axis + 2]);
  return found;
}

/**
 * The shift that brings a box's edge or middle onto the nearest line within reach.
 * Returns { shift: [dx, dy], marks } with marks to draw.
 */
export function snapBox(editor, box, boxes, scale, extra) {
  const shift = [0, 0];
  const marks = [];
  for (const axis of [0, 1]) {
    let best = REACH_PX / scale;
    let hit = null;
    const own = [box[axis], (box[axis] + box[axis + 2]) / 2, box[axis + 2]];
    for (const at of lines(editor, boxes, axis, extra)) {
      for (const edge of own) {
        if (Math.abs(at - edge) < best) {
          best = Math.abs(at - edge);
          shift[axis] = at - edge;
          hit = at;
        }
      }
    }
    if (hit !== null) marks.push(mark(editor, axis, hit));
  }
  return { shift, marks };
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
