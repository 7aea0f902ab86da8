// Which rows the timeline shows: by name, by kind, those that are animated, those that are on now.
import { Alpine } from "../common.js";

export class RowFilter {
  constructor(editor) {
    this.editor = editor;
    this.open = false;
    this.clear();
  }

  clear() {
    Object.assign(this, { words: "", kind: "", animated: false, here: false });
  }

  /** Whether it leaves anything out. */
  get on() {
    return this.open && Boolean(this.words.trim() || this.kind || this.animated || this.here);
  }

  shows(layer) {
    if (!this.on) return true;
    const { editor } = this;
    const words = this.words.trim().toLowerCase();
    if (words && !layer.name.toLowerCase().includes(words)) return false;
    if (this.kind && layer.kind !== this.kind) return false;
    if (this.here && !(layer.start_s <= editor.time + 1e-6 && layer.end_s > editor.time + 1e-6)) return false;
    return !this.animated || moves(layer);
  }
}

/** Whether anything of a layer changes by keys, expressions or moves. */
function moves(layer) {
  const changes = Object.values(layer.properties).some((each) => each.keys.length || each.expression);
  return changes || layer.moves.length > 0;
}

export function registerRowFilter(editor, timeline) {
  const { filter } = timeline;
  Alpine.data("rowFilter", () => ({
    open: false,
    words: "",
    kind: "",
    kinds: [],
    animated: false,
    here: false,
    count: "",
    init() {
      editor.on("rows", () => this.update());
      editor.on("document", () => this.update());
      editor.on("time", () => filter.here && timeline.schedule());
    },
    update() {
      const opened = filter.open && !this.open;
      Object.assign(this, {
        open: filter.open,
        words: filter.words,
        kind: filter.kind,
        animated: filter.animated,
        here: filter.here,
      });
      const there = new Set(editor.layers.map((layer) => layer.kind));
      this.kinds = [...there].map((id) => ({ id, label: editor.kinds[id].label }));
      const shown = editor.layers.filter((layer) => filter.shows(layer)).length;
      this.count = filter.on ? `${shown} of ${editor.layers.length}` : "";
      if (!opened) return;
      // Shown at once: what is typed right after the key that opens it belongs into it.
      this.$root.style.removeProperty("display");
      this.$root.removeAttribute("x-cloak");
      this.$refs.words.focus();
    },
    change(what) {
      Object.assign(filter, what);
      this.update();
      timeline.schedule();
    },
    search() {
      this.change({ words: this.words });
    },
    choose() {
      this.change({ kind: this.kind });
    },
    toggleAnimated() {
      this.change({ animated: !filter.animated });
    },
    toggleHere() {
      this.change({ here: !filter.here });
    },
    escape(event) {
      event.stopPropagation();
      this.close();
    },
    close() {
      filter.clear();
      this.change({ open: false });
      // The keys are commands again at once, not when the browser has noticed that the field is gone.
      document.getElementById("stage").focus({ preventScroll: true });
    },
  }));
}
