// Opening the colour picker, and colours as they are typed.

/** Opens the colour picker beside an element; `then(colour, done)` hears every change. */
export function openPicker(anchor, colour, then, options = {}) {
  window.dispatchEvent(new CustomEvent("open-picker", { detail: { anchor, colour, then, ...options } }));
}

/** A typed colour as #rrggbb or #rrggbbaa. */
export function hexOf(text) {
  const hex = text.trim().replace(/^#?/, "#").toLowerCase();
  return /^#([0-9a-f]{3}|[0-9a-f]{4})$/.test(hex)
    ? `#${[...hex.slice(1)].map((digit) => digit + digit).join("")}`
    : hex;
}
