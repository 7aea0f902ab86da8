// What of the scene is seen while it is worked on: some layers alone, or with the others faint. It is a way
// to look, not part of the document; the server draws what is asked for.
import { Alpine } from "../common.js";

export class Seeing {
  constructor(editor) {
    this.editor = editor;
    this.only = new Set();
    this.dims = false;
    editor.on("document", () => this.forget());
  }

  /** What requests for pictures say of it. */
  asked() {
    return { only: [...this.only], dims: this.dims };
  }

  /** Layers that are no more are not asked for. */
  forget() {
    if (!this.only.size) return;
    const there = new Set(this.editor.layers.map((layer) => layer.id));
    const left = [...this.only].filter((id) => there.has(id));
    if (left.length !== this.only.size) this.see(left, this.dims);
  }

  see(ids, dims) {
    this.only = new Set(ids);
    this.dims = dims;
    this.editor.tell("seeing");
    this.editor.tell("frames");
    this.editor.requestStage();
  }

  /** Only these, the others away or faint; the same again shows all. */
  toggle(ids, dims) {
    const same = this.dims === dims && ids.length === this.only.size && ids.every((id) => this.only.has(id));
    this.see(same ? [] : ids, dims);
  }

  all() {
    this.see([], false);
  }

  /** Whether a layer is away or faint now. */
  hides(id) {
    return this.only.size > 0 && !this.only.has(id);
  }
}

export function registerSeeing(editor) {
  Alpine.data("seeing", () => ({
    on: false,
    dims: false,
    text: "",
    init() {
      editor.on("seeing document", () => this.update());
    },
    update() {
      const { only, dims } = editor.seeing;
      const names = [...only].map((id) => editor.layer(id)?.name).filter(Boolean);
      this.on = names.length > 0;
      this.dims = dims;
      const who = names.length === 1 ? names[0] : `${names.length} layers`;
      this.text = dims ? `${who}, the others faint` : `Only ${who}`;
    },
    swap() {
      editor.seeing.see([...editor.seeing.only], !this.dims);
    },
    all() {
      editor.seeing.all();
    },
  }));
}
