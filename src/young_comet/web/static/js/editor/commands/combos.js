// Keys as they are shown ("Ctrl+Shift+Left") and as the keyboard tells them.

const NAMED = { Left: "ArrowLeft", Right: "ArrowRight", Up: "ArrowUp", Down: "ArrowDown", Space: " " };
const ORDER = ["Ctrl", "Alt", "Shift"];

/** The combination that shown keys stand for. */
export function comboOfKeys(keys) {
  const parts = keys.split("+");
  const key = parts.pop();
  const named = NAMED[key] ?? (key.length === 1 ? key.toLowerCase() : key);
  return [...ORDER.filter((each) => parts.includes(each)), named].join("+");
}

/** The combination of a keyboard event. */
export function comboOfEvent(event) {
  const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
  if (key === "?") return "?"; // with Shift on some keyboards, without on others
  const held = { Ctrl: event.ctrlKey || event.metaKey, Alt: event.altKey, Shift: event.shiftKey };
  return [...ORDER.filter((each) => held[each]), key].join("+");
}
