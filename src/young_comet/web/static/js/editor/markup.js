// Markup written out: elements with escaped attributes and short numbers, for SVG and rows.

const ESCAPES = { "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;", "'": "&#39;" };

/** Text as it may stand in markup. */
export const html = (text) => String(text).replace(/[&<>"']/g, (letter) => ESCAPES[letter]);

/** A number of the screen with one decimal at most. */
export const short = (number) => Math.round(number * 10) / 10;

const shown = (value) => (typeof value === "number" ? Math.round(value * 100) / 100 : html(value));

/** An element. Attributes that are null, undefined or false are left out; what is inside is markup. */
export function el(name, attributes, ...inside) {
  let out = `<${name}`;
  for (const key of Object.keys(attributes)) {
    const value = attributes[key];
    if (value !== null && value !== undefined && value !== false) out += ` ${key}="${shown(value)}"`;
  }
  return `${out}>${inside.flat().join("")}</${name}>`;
}

/** Classes of those names that hold. */
export const classes = (...names) => names.filter(Boolean).join(" ");

export const circle = ([cx, cy], r, attributes) => el("circle", { ...attributes, cx, cy, r });

export const line = ([x1, y1], [x2, y2], attributes) => el("line", { ...attributes, x1, y1, x2, y2 });

/** A square about a point. */
export const square = ([x, y], side, attributes) =>
  el("rect", { ...attributes, x: x - side / 2, y: y - side / 2, width: side, height: side });

/** What can be taken hold of: larger than what is seen of it. */
export const grip = (at, r = 9) => circle(at, r, { class: "grip" });

/** Points as SVG lists them. */
export const pointList = (points) => points.map((p) => `${short(p[0])},${short(p[1])}`).join(" ");
