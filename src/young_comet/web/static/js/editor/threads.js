// Ties as dotted threads between the moments they join, and the moments to be chosen from.
import { describe } from "./actions/tying.js";
import { circle, classes, el, grip, html, short } from "./markup.js";

const NS = "http://www.w3.org/2000/svg";
const ROW_MIDDLE = 12.5;
export class Threads {
  constructor(editor, timeline) {
    this.editor = editor;
    this.timeline = timeline;
    this.svg = document.createElementNS(NS, "svg");
    this.svg.setAttribute("class", "threads");
    this.svg.setAttribute("aria-hidden", "true");
    timeline.rows.append(this.svg);
    this.svg.addEventListener("pointerdown", (event) => this.down(event));
    editor.on("selection", () => (this.editor.thread = null));
    editor.on("mode", () => timeline.draw());
  }

  /** The mode that waits for a moment, where it is on. */
  get tie() {
    return this.editor.modes.visit("tie");
  }

  /** `tops` maps layers to where their rows begin. */
  draw(tops, height) {
    const { editor } = this;
    this.tops = tops;
    this.svg.style.height = `${height}px`;
    const parts = [];
    for (const layer of editor.layers) {
      if (layer.start_tie) parts.push(this.thread(layer, "start", layer.start_tie));
      if (layer.end_tie) parts.push(this.thread(layer, "end", layer.end_tie));
    }
    for (const mark of editor.scene.marks) if (mark.tie) parts.push(this.markThread(mark));
    const { tie } = this;
    if (tie) parts.push(this.moments());
    this.svg.classList.toggle("tying", Boolean(tie));
    this.svg.innerHTML = parts.join("");
  }

  /** Where a moment lies: [x, y], null where its row is not shown. */
  place(to, id, moment) {
    const { editor, timeline } = this;
    const above = timeline.rows.scrollTop + 7;
    if (to === "scene") return [timeline.x(moment === "end" ? editor.scene.length_s : 0), above];
    if (to === "mark") {
      const mark = editor.scene.marks.find((each) => each.id === id);
      return mark && [timeline.x(mark.time_s), above];
    }
    if (to === "arrangement") {
      const hold = editor.arranging.hold(id);
      return hold && [timeline.x(moment === "end" ? hold.end_s : hold.begin_s), above];
    }
    const layer = editor.layer(id);
    if (!layer || !this.tops.has(id)) return null;
    return [timeline.x(momentOf(timeline, layer, moment)), this.tops.get(id) + ROW_MIDDLE];
  }

  thread(layer, side, tie) {
    const to = this.place("layer", layer.id, side);
    const from = this.place(tie.to, tie.id, tie.moment);
    if (!to || !from) return "";
    const name = `${layer.id}|${side}`;
    const near = this.editor.selected.has(layer.id) || this.editor.selected.has(tie.id);
    const what = `${side === "start" ? "Start" : "End"} of ${layer.name}`;
    const said = `${what}: ${describe(this.editor, tie)}. Click and press Delete to cut it`;
    return curve(from, to, name, this.editor.thread === name, near, said);
  }

  markThread(mark) {
    const to = this.place("mark", mark.id);
    const from = this.place(mark.tie.to, mark.tie.id, mark.tie.moment);
    if (!to || !from) return "";
    const name = `${mark.id}|mark`;
    return curve(
      from,
      to,
      name,
      this.editor.thread === name,
      false,
      `Mark ${mark.name}: ${describe(this.editor, mark.tie)}`,
    );
  }

  /** Every moment that something can be tied to, as a ring to click. */
  moments() {
    const { editor } = this;
    const own = new Set(this.tie.targets.map((target) => target.layer));
    const out = [];
    const offer = (to, id, moment, said) => {
      const at = this.place(to, id, moment);
      if (at) {
        const which = { "data-moment": moment, "data-to": to, "data-id": id || "" };
        const ring = circle(at, 4.6, { class: "ring" });
        out.push(el("g", which, grip(at, 8), ring, el("title", {}, html(said))));
      }
    };
    for (const each of editor.scene.arrangements) {
      offer("arrangement", each.id, "start", `${each.name} begins to hold`);
      offer("arrangement", each.id, "end", `${each.name} ends to hold`);
    }
    for (const layer of editor.layers) {
      if (own.has(layer.id) || !this.tops.has(layer.id)) continue;
      offer("layer", layer.id, "start", `Start of ${layer.name}`);
      if (layer.arrive_s) offer("layer", layer.id, "arrived", `${layer.name} has arrived`);
      if (layer.leave_s) offer("layer", layer.id, "leaves", `${layer.name} begins to leave`);
      offer("layer", layer.id, "end", `End of ${layer.name}`);
    }
    const marks = new Set(this.tie.targets.map((target) => target.mark));
    for (const mark of editor.scene.marks) {
      if (!marks.has(mark.id)) offer("mark", mark.id, "start", `Mark ${mark.name}`);
    }
    offer("scene", null, "end", "End of the scene");
    return out.join("");
  }

  down(event) {
    const { editor } = this;
    const moment = event.target.closest("[data-moment]");
    const thread = event.target.closest("[data-thread]");
    if (!moment && !thread) return;
    event.stopPropagation();
    event.preventDefault();
    if (thread && !moment) {
      editor.thread = thread.dataset.thread;
      this.timeline.rows.focus({ preventScroll: true });
      this.timeline.draw();
      return;
    }
    const { to, id, moment: which } = moment.dataset;
    this.tie.chosen({ to, id: id || null, moment: which });
  }
}

function curve([x1, y1], [x2, y2], name, chosen, near, said) {
  const bend = Math.max(14, Math.abs(x2 - x1) / 2.4);
  const out = Math.abs(x2 - x1) < 6 ? 26 : bend;
  const [a, b] = [`${short(x1)} ${short(y1)}`, `${short(x2)} ${short(y2)}`];
  const d = `M${a} C${short(x1 + out)} ${short(y1)} ${short(x2 - bend)} ${short(y2)} ${b}`;
  return el(
    "g",
    { "data-thread": name, class: classes("thread", chosen ? "chosen" : near && "near") },
    el("path", { class: "grip", d }),
    el("path", { class: "line", d }),
    circle([x1, y1], 2.6, {}),
    circle([x2, y2], 2.6, {}),
    el("title", {}, html(said)),
  );
}

function momentOf(timeline, layer, moment) {
  const { start_s, end_s } = timeline.spanOf(layer);
  if (moment === "arrived") return Math.min(end_s, start_s + layer.arrive_s);
  if (moment === "leaves") return Math.max(start_s, end_s - layer.leave_s);
  return moment === "end" ? end_s : start_s;
}
