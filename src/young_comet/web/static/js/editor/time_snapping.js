// Snapping in time: to what, and how far something has to go to lie there.
import { beatTimes } from "./beats_panel.js";

/** Moments to snap to, ascending: of other layers, of keys that stay, marks, playhead, range. */
export function timesToSnap(editor, moved, movedKeys) {
  const times = [
    0,
    editor.scene.length_s,
    editor.time,
    ...editor.scene.marks.map((mark) => mark.time_s),
    ...(editor.scene.range_s || []),
    ...beatTimes(editor),
  ];
  for (const layer of editor.layers) {
    if (moved.has(layer.id)) continue;
    times.push(layer.start_s, layer.end_s);
    for (const [id, property] of Object.entries(layer.properties)) {
      for (const key of property.keys) {
        if (!movedKeys.has(`${layer.id}|${id}|${key.id}`)) times.push(layer.start_s + key.time_s);
      }
    }
  }
  return [...new Set(times)].sort((a, b) => a - b);
}

/**
 * The shift on whole frames that brings one of some borders onto a moment within reach (s).
 * Returns { shift, onto } with the moment, null where it is none.
 */
export function shiftOnto(editor, by, borders, points, free, reach) {
  if (free) return { shift: by, onto: null };
  const frame = editor.timeOf(1);
  const found = { shift: Math.round(by / frame) * frame, onto: null };
  if (!editor.snapping) return found;
  let best = reach;
  for (const border of borders) {
    const at = border + by;
    let i = lowerBound(points, at - best);
    for (; i < points.length && points[i] <= at + best; i += 1) {
      const distance = Math.abs(at - points[i]);
      if (distance < best && Math.abs(points[i] - border) > 1e-9) {
        best = distance;
        Object.assign(found, { shift: points[i] - border, onto: points[i] });
      }
    }
  }
  return found;
}

/** The first index whose value is not below a limit. */
function lowerBound(values, limit) {
  let low = 0;
  let high = values.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (values[middle] < limit) low = middle + 1;
    else high = middle;
  }
  return low;
}
