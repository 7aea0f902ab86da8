// Opening the colour picker, and colours as they are typed.
import { api } from "../api.js";
import { complain } from "../notes.js";

/** Opens the colour picker beside an element; `then(colour, done)` hears every change. */
export function openPicker(anchor, colour, then, options = {}) {
  window.dispatchEvent(new CustomEvent("open-picker", { detail: { anchor, colour, then, ...options } }));
}

/** What was typed (hex, a name, rgb(), hsl(), oklch(), ...) as { colour, notations }; null where it is no
 *  colour, which is said. */
export async function readColour(text) {
  try {
    return await api.readColour(text);
  } catch (error) {
    complain(error);
    return null;
  }
}
