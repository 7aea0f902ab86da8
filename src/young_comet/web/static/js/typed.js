// Fields that show a value of the page without taking away what is being typed: `x-shows="card.name"`
// in place of `:value`. What the server answers to one thing may come while the next is typed.
import Alpine from "../vendor/alpine-csp.js";

const typed = new WeakSet();

/** What was typed in a field no longer counts, as when an arrow key has stepped the number. */
export function forgetTyped(element) {
  typed.delete(element);
}

Alpine.directive("shows", (element, { expression }, { evaluateLater, effect, cleanup }) => {
  const read = evaluateLater(expression);
  let latest = "";
  const show = () => {
    if (typed.has(element) && document.activeElement === element) return;
    if (element.value !== latest) element.value = latest;
  };
  const heard = {
    input: () => typed.add(element),
    change: () => typed.delete(element),
    // Typed again as it was: no change is told of, and what came meanwhile is shown.
    blur: () => typed.delete(element) && show(),
  };
  for (const [name, hear] of Object.entries(heard)) element.addEventListener(name, hear);
  cleanup(() => {
    for (const [name, hear] of Object.entries(heard)) element.removeEventListener(name, hear);
  });
  effect(() =>
    read((value) => {
      latest = value === null || value === undefined ? "" : String(value);
      show();
    }),
  );
});
