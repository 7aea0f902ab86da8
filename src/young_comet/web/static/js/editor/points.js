// Points [x, y] and small matrices [a, b, c, d, e, f] as in SVG's matrix(), for what a drag needs.

export const round = (value) => Math.round(value * 100) / 100;
export const plus = (a, b) => [a[0] + b[0], a[1] + b[1]];
export const minus = (a, b) => [a[0] - b[0], a[1] - b[1]];

export const map = ([a, b, c, d, e, f], [x, y]) => [a * x + c * y + e, b * x + d * y + f];
export const turn = ([a, b, c, d], [x, y]) => [a * x + c * y, b * x + d * y];

export function invert([a, b, c, d, e, f], [x, y]) {
  const det = a * d - b * c;
  if (Math.abs(det) < 1e-9) return null;
  return [(d * (x - e) - c * (y - f)) / det, (a * (y - f) - b * (x - e)) / det];
}

/** The way from one place to another; `straight` only along the axis on which it is longer. */
export function along(from, to, straight) {
  const by = minus(to, from);
  if (!straight) return by;
  return Math.abs(by[0]) > Math.abs(by[1]) ? [by[0], 0] : [0, by[1]];
}

/** Tells by how many degrees, over whole turns too, the pointer went about a middle since it was
 *  at a place. */
export function turning(middle, from) {
  const angle = (p) => (Math.atan2(p[1] - middle[1], p[0] - middle[0]) * 180) / Math.PI;
  let last = angle(from);
  let total = 0;
  return (to) => {
    const now = angle(to);
    total += ((now - last + 540) % 360) - 180;
    last = now;
    return total;
  };
}

/** Whether a point lies within the (convex) outline of some corners, either way round. */
export function insideCorners(corners, [x, y]) {
  const sides = corners.map(([ax, ay], index) => {
    const [bx, by] = corners[(index + 1) % corners.length];
    return (bx - ax) * (y - ay) - (by - ay) * (x - ax);
  });
  return sides.every((side) => side >= 0) || sides.every((side) => side <= 0);
}
