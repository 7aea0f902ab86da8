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

export function solve([a, b, c, d], [x, y]) {
  const det = a * d - b * c;
  return [(d * x - c * y) / det, (a * y - b * x) / det];
}
