// Curves of easings as the server samples them; small pictures of them.
import { api } from "../api.js";

const known = new Map();

/** What an easing is: samples, handles, parameters. Asked from the server once. */
export function describe(easing, duration = 1) {
  const name = `${easing}@${easing.startsWith("spring") ? duration.toFixed(3) : ""}`;
  if (!known.has(name)) {
    if (known.size > 400) known.clear();
    known.set(
      name,
      api.easing(easing, duration).catch((error) => {
        known.delete(name);
        throw error;
      }),
    );
  }
  return known.get(name);
}

/** The samples as an SVG path in a box of 100 by 100, 0 at its foot. */
export function curvePath(samples) {
  const last = samples.length - 1;
  return samples
    .map(
      (value, index) =>
        `${index ? "L" : "M"}${((index / last) * 100).toFixed(1)} ${(100 - value * 100).toFixed(1)}`,
    )
    .join(" ");
}

/** The easing with other numbers in its parentheses. */
export function withNumbers(description, numbers) {
  const texts = numbers.map((value) => String(Math.round(value * 1e5) / 1e5));
  const { family, parameters } = description;
  if (family === "spring" && parameters.length === 2) texts[1] += "s";
  if (family === "steps") {
    const rest = /,\s*(.*)\)$/.exec(description.easing);
    return `steps(${Math.round(numbers[0])}${rest ? `, ${rest[1]}` : ""})`;
  }
  return `${family}(${texts.join(", ")})`;
}
