// What every page uses: toasts, the theme switch, small formats.
import Alpine from "../vendor/alpine-csp.js";
import { api } from "./api.js";

let nextNote = 1;

/** Shows a note at the foot of the page; `action` is a label and what it does. */
export function note(text, { bad = false, action = "", run = null, seconds = bad ? 9 : 5 } = {}) {
  window.dispatchEvent(new CustomEvent("young-comet-note", { detail: { id: nextNote++, text, bad, action, run, seconds } }));
}

/** Shows an error next to nothing in particular. */
export function complain(error) {
  if (error.status === undefined) console.error(error); // not an answer of the server: a bug
  note(sentence(error.message), { bad: true });
}

export const sentence = (text) => (text ? text[0].toUpperCase() + text.slice(1) : text);

const runs = new Map();

Alpine.data("toasts", () => ({
  notes: [],
  init() {
    window.addEventListener("young-comet-note", (event) => {
      const { run, ...shown } = event.detail;
      if (run) runs.set(shown.id, run);
      // Said again, a note takes the place of the one before.
      this.notes = [...this.notes.filter((each) => each.text !== shown.text).slice(-3), shown];
      setTimeout(() => this.drop(shown.id), shown.seconds * 1000);
    });
  },
  drop(id) {
    this.notes = this.notes.filter((each) => each.id !== id);
    runs.delete(id);
  },
  act(shown) {
    const run = runs.get(shown.id);
    this.drop(shown.id);
    if (run) run();
  },
}));

Alpine.data("themeSwitch", () => ({
  toggle() {
    const root = document.documentElement;
    const next = root.dataset.bsTheme === "light" ? "dark" : "light";
    root.dataset.bsTheme = next;
    localStorage.setItem("theme", next);
    window.dispatchEvent(new Event("young-comet-theme"));
  },
}));

/** A project that fails its checks: shown as it would be mended, and what that changes. The page
 *  tells of it with the event "young-comet-unsound": the project's id and the server's words. */
Alpine.data("unsoundBanner", () => ({
  shown: false,
  open: false,
  busy: false,
  message: "",
  changes: [],
  exportUrl: "",
  init() {
    window.addEventListener("young-comet-unsound", ({ detail }) => {
      this.shown = Boolean(detail.unsound);
      this.project = detail.project;
      if (!this.shown) return;
      this.message = sentence(detail.unsound.message);
      this.changes = detail.unsound.changes.map(sentence);
      this.exportUrl = api.exportUrl(detail.project);
    });
  },
  get listText() {
    return this.open ? "Hide the list" : `What mending changes (${this.changes.length})`;
  },
  toggle() {
    this.open = !this.open;
  },
  async mend() {
    this.busy = true;
    try {
      await api.mendProject(this.project);
      location.reload();
    } catch (error) {
      complain(error);
    }
    this.busy = false;
  },
}));

export function tellUnsound(project, state) {
  window.dispatchEvent(new CustomEvent("young-comet-unsound", { detail: { project, unsound: state.unsound } }));
}

/** A fresh id, as the server makes them. */
export function newId() {
  const letters = "abcdefghijkmnpqrstuvwxyz23456789";
  return Array.from(crypto.getRandomValues(new Uint8Array(10)), (byte) => letters[byte % 32]).join("");
}

/** A number without needless zeros. */
export function trim(value, decimals = 3) {
  return String(Number(value.toFixed(decimals)));
}

export const fps = (rate) => trim(rate.num / rate.den, 3);

export function seconds(value) {
  return `${trim(value, 2)} s`;
}

export function megabytes(bytes) {
  return bytes > 1e6 ? `${trim(bytes / 1e6, 1)} MB` : `${Math.max(1, Math.round(bytes / 1e3))} kB`;
}

export function ago(iso) {
  const passed = (Date.now() - new Date(iso).getTime()) / 1000;
  if (passed < 60) return "just now";
  if (passed < 3600) return `${Math.floor(passed / 60)} min ago`;
  if (passed < 86400) return `${Math.floor(passed / 3600)} h ago`;
  return new Date(iso).toLocaleDateString();
}

/** Non-drop timecode mm:ss:ff of a frame number, with hours where there are some. */
export function timecode(frame, rate) {
  const nominal = Math.round(rate.num / rate.den);
  const two = (value) => String(value).padStart(2, "0");
  const whole = Math.floor(frame / nominal);
  const short = `${two(Math.floor(whole / 60) % 60)}:${two(whole % 60)}:${two(frame % nominal)}`;
  return whole >= 3600 ? `${two(Math.floor(whole / 3600))}:${short}` : short;
}

/** An input in place of a name, for renaming: `done(name or null)` hears the end of it. */
export function nameInput(label, value, done) {
  const input = document.createElement("input");
  input.className = "field";
  input.value = value;
  input.setAttribute("aria-label", label);
  let ended = false;
  const end = (keep) => {
    if (ended) return;
    ended = true;
    const name = input.value.trim();
    input.remove();
    done(keep && name && name !== value ? name : null);
  };
  input.addEventListener("blur", () => end(true));
  input.addEventListener("keydown", (key) => {
    key.stopPropagation();
    if (key.key === "Enter") end(true);
    if (key.key === "Escape") end(false);
  });
  return input;
}

export { Alpine };
