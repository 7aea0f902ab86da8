// Ties as dotted threads between the moments they join, and the moments to be chosen from.
import { note } from "../common.js";

const NS = "http://www.w3.org/2000/svg";
const ROW_MIDDLE = 12.5;
const html = (text) => text.replace(/[&<>"']/g, (c) => ({ "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;", "'": "&#39;" })[c]);

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
    editor.on("tying", () => timeline.draw());
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
    if (editor.tying) parts.push(this.moments());
    this.svg.classList.toggle("tying", Boolean(editor.tying));
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
    const said = `${side === "start" ? "Start" : "End"} of ${layer.name}: ${describe(this.editor, tie)}. Click and press Delete to cut it`;
    return curve(from, to, name, this.editor.thread === name, near, said);
  }

  markThread(mark) {
    const to = this.place("mark", mark.id);
    const from = this.place(mark.tie.to, mark.tie.id, mark.tie.moment);
    if (!to || !from) return "";
    const name = `${mark.id}|mark`;
    return curve(from, to, name, this.editor.thread === name, false, `Mark ${mark.name}: ${describe(this.editor, mark.tie)}`);
  }

  /** Every moment that something can be tied to, as a ring to click. */
  moments() {
    const { editor } = this;
    const own = new Set(editor.tying.targets.map((target) => target.layer));
    const out = [];
    const ring = (to, id, moment, said) => {
      const at = this.place(to, id, moment);
      if (at) out.push(`<g data-moment="${moment}" data-to="${to}" data-id="${id || ""}"><circle class="grip" cx="${at[0].toFixed(1)}" cy="${at[1].toFixed(1)}" r="8"/><circle class="ring" cx="${at[0].toFixed(1)}" cy="${at[1].toFixed(1)}" r="4.6"/><title>${html(said)}</title></g>`);
    };
    for (const layer of editor.layers) {
      if (own.has(layer.id) || !this.tops.has(layer.id)) continue;
      ring("layer", layer.id, "start", `Start of ${layer.name}`);
      if (layer.arrive_s) ring("layer", layer.id, "arrived", `${layer.name} has arrived`);
      if (layer.leave_s) ring("layer", layer.id, "leaves", `${layer.name} begins to leave`);
      ring("layer", layer.id, "end", `End of ${layer.name}`);
    }
    const marks = new Set(editor.tying.targets.map((target) => target.mark));
    for (const mark of editor.scene.marks) if (!marks.has(mark.id)) ring("mark", mark.id, "start", `Mark ${mark.name}`);
    ring("scene", null, "end", "End of the scene");
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
    const { targets } = editor.tying;
    endTying(editor);
    const { to, id, moment: which } = moment.dataset;
    editor.edit({ kind: "tie-times", scene: editor.sceneId, targets, to, id: id || null, moment: which, offset_s: editor.keepsDistance ? null : 0 });
  }
}

function curve([x1, y1], [x2, y2], name, chosen, near, said) {
  const bend = Math.max(14, Math.abs(x2 - x1) / 2.4);
  const path = `M${x1.toFixed(1)} ${y1.toFixed(1)} C${(x1 + (Math.abs(x2 - x1) < 6 ? 26 : bend)).toFixed(1)} ${y1.toFixed(1)} ${(x2 - bend).toFixed(1)} ${y2.toFixed(1)} ${x2.toFixed(1)} ${y2.toFixed(1)}`;
  return `<g data-thread="${name}" class="thread ${chosen ? "chosen" : near ? "near" : ""}"><path class="grip" d="${path}"/><path class="line" d="${path}"/><circle cx="${x1.toFixed(1)}" cy="${y1.toFixed(1)}" r="2.6"/><circle cx="${x2.toFixed(1)}" cy="${y2.toFixed(1)}" r="2.6"/><title>${html(said)}</title></g>`;
}

function momentOf(timeline, layer, moment) {
  const { start_s, end_s } = timeline.spanOf(layer);
  if (moment === "arrived") return Math.min(end_s, start_s + layer.arrive_s);
  if (moment === "leaves") return Math.max(start_s, end_s - layer.leave_s);
  return moment === "end" ? end_s : start_s;
}

/** A tie in words: "0.2 s after Name has arrived". */
export function describe(editor, tie) {
  const away = Math.abs(tie.offset_s);
  const lead = away < 1e-6 ? "when " : `${Math.round(away * 1000) / 1000} s ${tie.offset_s > 0 ? "after" : "before"} `;
  return lead + momentText(editor, tie);
}

export function momentText(editor, tie) {
  if (tie.to === "scene") return tie.moment === "end" ? "the scene ends" : "the scene starts";
  if (tie.to === "mark") return `the mark ${editor.scene.marks.find((mark) => mark.id === tie.id)?.name ?? ""}`;
  const name = editor.layer(tie.id)?.name ?? "";
  return `${name} ${{ start: "starts", arrived: "has arrived", leaves: "begins to leave", end: "ends" }[tie.moment]}`;
}

/** The next moment that is clicked is what the selected layers' start or end hangs on. */
export function startTying(editor, side) {
  const targets = editor.selectedLayers.filter((layer) => !layer.locked).map((layer) => ({ layer: layer.id, side }));
  if (!targets.length) {
    note("Select the layers to tie first.");
    return;
  }
  tieTo(editor, targets);
}

/** The next moment that is clicked is what these layers' starts or ends, or marks, hang on. */
export function tieTo(editor, targets) {
  editor.tying = { targets };
  note("Click a moment in the timeline: a start, an end, an arrival, a mark. Escape gives up.", { seconds: 6 });
  editor.tell("tying");
}

export function endTying(editor) {
  const was = Boolean(editor.tying);
  editor.tying = null;
  editor.tell("tying");
  return was;
}

/** Cuts the thread that was clicked; false where none was. */
export function cutThread(editor) {
  if (!editor.thread) return false;
  const [id, side] = editor.thread.split("|");
  const target = side === "mark" ? { mark: id } : { layer: id, side };
  editor.thread = null;
  editor.edit({ kind: "cut-ties", scene: editor.sceneId, targets: [target] });
  return true;
}
