// Notes at the foot of the page: said from anywhere, shown by the toasts.

let nextNote = 1;

/** Shows a note at the foot of the page; `action` is a label and what it does. */
export function note(text, { bad = false, action = "", run = null, seconds = bad ? 9 : 5 } = {}) {
  window.dispatchEvent(
    new CustomEvent("young-comet-note", { detail: { id: nextNote++, text, bad, action, run, seconds } }),
  );
}

/** Shows an error next to nothing in particular. */
export function complain(error) {
  if (error.status === undefined) console.error(error); // not an answer of the server: a bug
  note(sentence(error.message), { bad: true });
}

export const sentence = (text) => (text ? text[0].toUpperCase() + text.slice(1) : text);
