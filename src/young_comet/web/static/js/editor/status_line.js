// The line at the foot of the page: what the pointer is over, and while something is dragged how far, onto
// what it snapped and what the modifier keys do.
import { timecode, trim } from "../formats.js";
import { describe } from "./described.js";

const SELECTING = [
  ["Shift", "adds to the selection"],
  ["Alt", "chooses what fills the frame"],
  ["Space", "moves the view"],
];

export class StatusLine {
  constructor(editor, stage, timeline) {
    Object.assign(this, { editor, stage, timeline });
    const line = document.getElementById("status-line");
    this.over = line.querySelector("[data-over]");
    this.keys = line.querySelector("[data-keys]");
    this.last = null;
    window.addEventListener("pointermove", (event) => this.moved(event), { passive: true });
    document.addEventListener("focusin", (event) => this.focused(event));
    editor.on("dragging", (drag) => this.dragging(drag));
    editor.on("mode", () => this.show());
  }

  moved(event) {
    if (this.waiting || this.drag) return;
    this.last = event;
    this.waiting = requestAnimationFrame(() => {
      this.waiting = 0;
      if (!this.drag) this.show();
    });
  }

  /** What has the focus is told where it came there by keys. */
  focused(event) {
    if (!event.target.matches?.(":focus-visible") || this.drag) return;
    this.last = { target: event.target };
    this.show();
  }

  show() {
    if (!this.last || !this.editor.scene) return;
    const { name, more } = describe(this.editor, this.stage, this.timeline, this.last);
    this.write(name, more);
    const { mode } = this.editor;
    const onStage = this.stage.element.contains(this.last.target);
    this.hints(onStage && mode.id === "select" ? SELECTING : []);
  }

  /** `drag`: { says(), keys: [[key, what it does]] }, null when it is over. */
  dragging(drag) {
    this.drag = drag;
    if (!drag) return;
    this.write("", drag.says?.() || "");
    this.hints(drag.keys || []);
  }

  write(name, more) {
    const strong = document.createElement("strong");
    strong.textContent = name;
    this.over.replaceChildren(...(name ? [strong, "  "] : []), more);
  }

  hints(keys) {
    const told = keys.flatMap(([key, does], index) => {
      const cap = document.createElement("kbd");
      cap.textContent = key;
      return [index ? "  ·  " : "", cap, ` ${does}`];
    });
    this.keys.replaceChildren(...told);
  }
}

/** How far something was moved, px, with the length of the way and its direction. */
export function saidWay([x, y]) {
  const far = trim(Math.hypot(x, y), 1);
  const angle = trim((Math.atan2(y, x) * 180) / Math.PI, 1);
  return `${trim(x, 1)}, ${trim(y, 1)} px · ${far} px at ${angle}°`;
}

/** By how much time something was moved. */
export function saidTime(editor, by) {
  const frames = Math.round(by / editor.timeOf(1));
  const sign = frames < 0 ? "−" : "+";
  const count = Math.abs(frames);
  return `${sign}${count} ${count === 1 ? "frame" : "frames"} (${sign}${timecode(count, editor.rate)})`;
}

/** What lies at a moment, "" where nothing does. */
export function momentName(editor, time) {
  const near = (other) => Math.abs(other - time) < editor.timeOf(1) / 4;
  if (near(editor.time)) return "the playhead";
  const mark = editor.scene.marks.find((each) => near(each.time_s));
  if (mark) return `the mark ${mark.name}`;
  for (const layer of editor.layers) {
    if (near(layer.start_s)) return `the start of ${layer.name}`;
    if (near(layer.end_s)) return `the end of ${layer.name}`;
  }
  return "";
}
