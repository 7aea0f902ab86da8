// How layers hang together, shown: threads between the names of rows, and the other layer in the panel.
import { Alpine } from "../common.js";
import { soon } from "../formats.js";
import { onlyMattes, relations } from "./relations.js";

const NS = "http://www.w3.org/2000/svg";

/** The threads between the names of rows, of what is selected and what is under the pointer. */
export class RelationThreads {
  constructor(editor, timeline) {
    Object.assign(this, { editor, timeline });
    this.svg = document.createElementNS(NS, "svg");
    this.svg.setAttribute("class", "relation-threads");
    this.svg.setAttribute("aria-hidden", "true");
    timeline.rows.append(this.svg);
    this.over = "";
    timeline.rows.addEventListener("pointermove", (event) => this.hover(event));
    timeline.rows.addEventListener("pointerleave", () => this.leave());
    this.all = [];
    this.mattes = new Set();
    editor.on("document", () => this.renew());
  }

  /** The relations anew, after the document has changed. */
  renew() {
    const { editor } = this;
    if (!editor.scene || !editor.kinds) return;
    this.all = relations(editor.layers, (layer, id) => editor.spec(layer, id));
    this.mattes = new Set(onlyMattes(editor.layers, this.all));
  }

  hover(event) {
    const over = event.target.closest?.(".row-line")?.dataset.layer || "";
    if (over === this.over || event.buttons) return;
    this.over = over;
    this.draw();
  }

  leave() {
    this.over = "";
    this.draw();
  }

  /** `tops` maps layers to where their rows begin, px. */
  draw(tops = this.tops, height = this.height) {
    Object.assign(this, { tops, height });
    if (!tops) return;
    const { selected } = this.editor;
    const wanted = (id) => id === this.over || selected.has(id);
    const shown = this.all.filter((each) => wanted(each.from) || wanted(each.to));
    if (!shown.length && !this.svg.firstChild) return;
    this.svg.style.height = `${height}px`;
    const width = shown.length ? this.timeline.namesWidth : 0;
    this.svg.innerHTML = shown.map((each, index) => this.thread(each, index, width)).join("");
  }

  thread({ from, to, how }, index, width) {
    const [a, b] = [this.tops.get(from), this.tops.get(to)];
    if (a === undefined || b === undefined) return "";
    const x = width - 62;
    const out = x + 16 + (index % 4) * 7;
    const [y1, y2] = [a + 13, b + 13];
    const middle = (y1 + y2) / 2;
    const path = `M${x} ${y1}C${out + 12} ${y1} ${out + 12} ${y2} ${x} ${y2}`;
    const label = `<text x="${x - 6}" y="${middle + 3.5}">${how}</text>`;
    const far = Math.abs(y1 - y2) > 40;
    return `<g><path d="${path}"/><circle cx="${x}" cy="${y2}" r="3"/>${far ? label : ""}</g>`;
  }
}

export function registerRelations(editor, threads) {
  Alpine.data("relationsPanel", () => ({
    rows: [],
    init() {
      editor.on(
        "selection document",
        soon(() => this.update()),
      );
      if (editor.project) this.update();
    },
    update() {
      const [id] = editor.selected.size === 1 ? editor.selected : [""];
      const name = (other) => editor.layer(other)?.name || "";
      this.rows = threads.all
        .filter((each) => each.from === id || each.to === id)
        .map(({ from, to, how }, index) => {
          const other = from === id ? to : from;
          const text = from === id ? `${how}: ${name(to)}` : `${how} of ${name(from)}`;
          const said = from === id ? text : INWARD[how] ? `${INWARD[how]} ${name(from)}` : text;
          return { key: `${index}${from}${to}`, other, text: said, title: `Select ${name(other)}` };
        });
    },
    go(row) {
      editor.select([row.other]);
    },
  }));
}

// The same seen from the other end.
const INWARD = {
  "rides on": "carries",
  "copy of": "is copied as",
  "mask follows": "followed by a mask of",
  "fits around": "is fitted by",
  "aligned to": "aligns",
  "ducks under": "softens",
};
