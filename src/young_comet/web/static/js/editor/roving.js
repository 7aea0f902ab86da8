// Rows of buttons that are one stop of the Tab key, with arrows, Home and End inside.

const STEPS = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 };

/** `press`: what has got the focus is pressed at once, as tabs are. */
export function rove(container, { press = false } = {}) {
  const items = () =>
    [...container.querySelectorAll("button, [role=tab]")].filter(
      (each) => each.offsetParent && !each.disabled,
    );
  const mark = (one) => {
    for (const each of items()) each.tabIndex = each === one ? 0 : -1;
  };
  container.addEventListener("focusin", (event) => mark(event.target.closest("button")));
  container.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.altKey || event.metaKey || event.shiftKey) return;
    const all = items();
    const at = all.indexOf(document.activeElement);
    const ends = { Home: 0, End: all.length - 1 }[event.key];
    const step = STEPS[event.key];
    if (at < 0 || (step === undefined && ends === undefined)) return;
    event.preventDefault();
    event.stopPropagation();
    const next = all[ends ?? (at + step + all.length) % all.length];
    next.focus();
    if (press) next.click();
  });
  const first = container.querySelector("[aria-pressed=true], [aria-selected=true]") || items()[0];
  if (first) mark(first);
}
