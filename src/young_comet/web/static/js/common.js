// What every page shows: toasts, the theme switch, the banner of a project that fails its checks.
import Alpine from "../vendor/alpine-csp.js";
import { api } from "./api.js";
import "./menus.js";
import "./typed.js";
import { complain, sentence } from "./notes.js";

// A field of a sheet that gets the focus is ready to be typed over.
document.addEventListener("focusin", ({ target }) => {
  if (target.matches?.("dialog input.field:not([readonly])") && target.value) target.select();
});

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
  window.dispatchEvent(
    new CustomEvent("young-comet-unsound", { detail: { project, unsound: state.unsound } }),
  );
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

/** A name written where it stands: what is shown gives way to a field until it is left. */
export function nameInPlace(shown, label, value, done) {
  const input = nameInput(label, value, (name) => {
    shown.hidden = false;
    if (name) done(name);
  });
  shown.hidden = true;
  shown.before(input);
  input.focus();
  input.select();
}

export { Alpine };
