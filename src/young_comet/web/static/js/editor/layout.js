// How the page is shared out: the right column over the full height or beside the stage alone, how wide it
// and the names of the timeline's rows are, how tall the timeline is. All of it is remembered.
import { remembered } from "../formats.js";

// Below this height of the window the column is at full height where nobody has chosen.
const LOW_WINDOW = 900;

// What is left of the stage, whatever is dragged.
const STAGE_PX = 300;

/**
 * What can be dragged: by its grip, along which axis, which way makes it larger, and how large it is before
 * anybody dragged it.
 */
const SPLITS = {
  column: { axis: "x", way: -1, least: 260, most: 560, usual: 300 },
  names: { axis: "x", way: 1, least: 140, most: 460, usual: 224 },
  lower: { axis: "y", way: -1, least: 130, most: 2000, usual: 302 },
};

/** One line between two parts of the page: dragged, moved by arrow keys, put back by a double click. */
class Split {
  constructor(id, rule, page) {
    Object.assign(this, { id, rule, page });
    this.grip = document.getElementById(`${id}-grip`);
    this.size = remembered(`${id}-size`, rule.usual);
    this.grip.addEventListener("pointerdown", (event) => this.drag(event));
    this.grip.addEventListener("keydown", (event) => this.key(event));
    this.grip.addEventListener("dblclick", () => this.resize(rule.usual));
    this.show();
  }

  get most() {
    return this.rule.axis === "y" ? window.innerHeight - STAGE_PX : this.rule.most;
  }

  show() {
    this.page.style.setProperty(`--${this.id}`, `${this.size}px`);
    this.grip.setAttribute("aria-valuenow", String(this.size));
  }

  resize(size) {
    this.size = Math.round(Math.max(this.rule.least, Math.min(this.most, size)));
    localStorage.setItem(`${this.id}-size`, JSON.stringify(this.size));
    this.show();
  }

  drag(event) {
    event.preventDefault();
    event.stopPropagation();
    const { grip, rule } = this;
    const along = (now) => (rule.axis === "x" ? now.clientX : now.clientY);
    const [from, size] = [along(event), this.size];
    grip.setPointerCapture(event.pointerId);
    const move = (now) => this.resize(size + (along(now) - from) * rule.way);
    grip.addEventListener("pointermove", move);
    const done = () => grip.removeEventListener("pointermove", move);
    grip.addEventListener("pointerup", done, { once: true });
    grip.addEventListener("pointercancel", done, { once: true });
  }

  key(event) {
    const keys =
      this.rule.axis === "x" ? { ArrowLeft: -20, ArrowRight: 20 } : { ArrowUp: -20, ArrowDown: 20 };
    const by = keys[event.key];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    this.resize(this.size + by * this.rule.way);
  }
}

export class Layout {
  constructor() {
    this.page = document.getElementById("editor");
    this.chosen = remembered("tall-column", null);
    this.splits = Object.fromEntries(
      Object.entries(SPLITS).map(([id, rule]) => [id, new Split(id, rule, this.page)]),
    );
    window.addEventListener("resize", () => this.show());
    this.show();
  }

  /** Whether the column has the whole height: as chosen, else in low windows. */
  get tall() {
    return this.chosen ?? window.innerHeight < LOW_WINDOW;
  }

  show() {
    this.page.classList.toggle("tall-column", this.tall);
    const { lower } = this.splits;
    if (lower.size > lower.most) {
      const fitting = Math.max(lower.rule.least, lower.most);
      this.page.style.setProperty("--lower", `${fitting}px`);
    } else lower.show();
  }

  toggleTall() {
    this.chosen = !this.tall;
    localStorage.setItem("tall-column", JSON.stringify(this.chosen));
    this.show();
  }
}
