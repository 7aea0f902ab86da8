// The row of arrangements above the filmstrip: a card for each, as wide as it holds, and an arc for each
// step from one to the next. Cards and ends are dragged, what follows moves along.
import { nameInput } from "../common.js";
import { seconds, trim } from "../formats.js";
import { classes, el, html, short } from "./markup.js";
import { openMenu } from "./thing_menus.js";

const HEIGHT = 30;
const LEAST = 24; // so wide is what holds for no time, so that it can be pressed, px
const NEAR = 5; // how far a card is dragged before it moves, px
// Narrower cards say no name, and narrower still no length.
const NAMED = 34;
const TIMED = 96;

/** The spans of a layer's bar in which an arrangement has it away. */
export function awayMarks(timeline, layer, bar) {
  const away = timeline.editor.arranging.of(layer.id)?.away || [];
  return away
    .map(([start, end]) => {
      const [a, b] = [timeline.x(start), timeline.x(end)];
      const place = { x: a, y: bar.top, width: Math.max(0, b - a), height: bar.height, rx: 4.5 };
      return el("rect", { class: "away-span", ...place }, el("title", {}, "Not there in this arrangement"));
    })
    .join("");
}

export class ArrangementRow {
  constructor(editor) {
    this.editor = editor;
    this.row = document.getElementById("arrangement-row");
    this.cards = document.getElementById("arrangements");
    this.first = document.getElementById("first-arrangement");
    this.all = document.getElementById("all-arrangements");
    editor.on("document arrangements time selection", () => this.schedule());
    new ResizeObserver(() => this.schedule()).observe(this.cards);
    this.cards.addEventListener("pointerdown", (event) => this.down(event));
    this.cards.addEventListener("dblclick", (event) => this.twice(event));
    this.cards.addEventListener("click", (event) => this.click(event));
    this.cards.addEventListener("keydown", (event) => this.key(event));
    this.cards.addEventListener("contextmenu", (event) => this.menu(event));
    this.first.addEventListener("click", () => editor.commands.runById("arrangement-add"));
    document.getElementById("add-arrangement").addEventListener("click", () => {
      editor.commands.runById("arrangement-add");
    });
    editor.on("play-step", (id) => this.play(id));
    this.all.addEventListener("click", () => editor.arranging.workInAll(!editor.arranging.all));
  }

  schedule() {
    if (this.waiting) return;
    this.waiting = true;
    requestAnimationFrame(() => {
      this.waiting = false;
      this.draw();
    });
  }

  /** Where a moment lies in the row, px: as in the filmstrip below. */
  x(time) {
    return (time / this.editor.scene.length_s) * this.cards.clientWidth;
  }

  timeAt(clientX) {
    const box = this.cards.getBoundingClientRect();
    return ((clientX - box.left) / box.width) * this.editor.scene.length_s;
  }

  draw() {
    const { editor } = this;
    if (!editor.project || !editor.scene || this.naming) return;
    const { arranging } = editor;
    this.row.hidden = !arranging.on;
    this.first.hidden = arranging.on;
    if (!arranging.on) return;
    this.all.classList.toggle("on", arranging.all);
    this.all.setAttribute("aria-pressed", String(arranging.all));
    const { here } = arranging;
    const cards = [];
    const arcs = [];
    arranging.list.forEach((each, index) => {
      const hold = arranging.hold(each.id);
      if (!hold) return;
      const next = arranging.list[index + 1] && arranging.hold(arranging.list[index + 1].id);
      cards.push(this.card(each, hold, each === here, index));
      if (next) arcs.push(this.arc(each, hold, next, arranging.list[index + 1]));
    });
    const markup = el("svg", { class: "steps", height: HEIGHT + 4 }, arcs) + cards.join("");
    if (markup === this.drawn) return;
    const focused = document.activeElement?.dataset?.arrangement;
    const had = this.cards.contains(document.activeElement);
    this.cards.innerHTML = this.drawn = markup;
    for (const card of this.cards.querySelectorAll("[data-left]")) {
      card.style.left = `${card.dataset.left}px`;
      card.style.width = `${card.dataset.width}px`;
    }
    if (had && focused) this.cards.querySelector(`[data-arrangement="${CSS.escape(focused)}"]`)?.focus();
  }

  card(each, hold, chosen, index) {
    const { arranging } = this.editor;
    const last = index === arranging.list.length - 1;
    const held = this.x(hold.end_s) - this.x(hold.begin_s);
    const width = Math.max(LEAST, held);
    const room = this.cards.clientWidth - width;
    const a = Math.max(0, Math.min(room, this.x(hold.begin_s) - (width - held) / 2));
    const long = seconds(hold.end_s - hold.begin_s);
    const look = classes("arrangement", chosen && "chosen", arranging.all && "all", hold.beyond && "beyond");
    const title = `${each.name}, holds ${long}${hold.beyond ? ": begins after the scene ends" : ""}`;
    const said =
      width > NAMED
        ? el("span", { class: "name" }, html(each.name)) +
          (width > TIMED ? el("span", { class: "mono dim" }, html(long)) : "")
        : "";
    const grip = (edge, says) => el("span", { class: `grip ${edge}`, "data-edge": edge, title: says }, "");
    const grips =
      (index ? grip("begin", "Drag: how long the step to it takes") : "") +
      (last ? "" : grip("end", "Drag: how long it holds; what follows moves along"));
    const state = { "aria-pressed": String(chosen), tabindex: chosen ? 0 : -1, "data-arrangement": each.id };
    const place = { "data-left": short(a), "data-width": short(width) };
    return el("button", { class: look, ...place, title, "aria-label": title, ...state }, said, grips);
  }

  arc(each, hold, next, goal) {
    const [a, b] = [this.x(hold.end_s), this.x(next.begin_s)];
    const middle = (a + b) / 2;
    const low = HEIGHT / 2 + 4;
    const top = each.step.path === "straight" ? low - 7 : low - 19;
    const length = trim(each.step.length_s, 2);
    const says = `From ${each.name} to ${goal.name}: ${length} s. Click: settings; double-click: see it`;
    const handle = (b - a) * 0.25;
    const from = `M${short(a)} ${low}C${short(a + handle)} ${top}`;
    const path = `${from} ${short(b - handle)} ${top} ${short(b)} ${low}`;
    const chosen = this.editor.arranging.stepOf === each.id;
    const text = { class: "mono", x: short(middle), y: HEIGHT + 1, "text-anchor": "middle" };
    const dot = (x) => el("circle", { cx: short(x), cy: low, r: 2.4 });
    return el(
      "g",
      { class: classes("step", chosen && "chosen"), "data-step": each.id },
      el("title", {}, html(says)),
      el("rect", { class: "hit", x: short(a), y: 0, width: short(Math.max(8, b - a)), height: HEIGHT + 4 }),
      el("path", { d: path }),
      dot(a),
      dot(b),
      b - a > 24 ? el("text", text, b - a > 44 ? `${length} s` : length) : "",
    );
  }

  // Pointer

  down(event) {
    const { editor } = this;
    const card = event.target.closest("[data-arrangement]");
    if (event.button || !card || this.naming) return;
    const { edge } = event.target.dataset;
    const id = card.dataset.arrangement;
    const from = event.clientX;
    const hold = editor.arranging.hold(id);
    let edit = null;
    let moved = false;
    const move = (at) => {
      if (!moved && Math.abs(at.clientX - from) < (edge ? 1 : NEAR)) return;
      moved = true;
      edit = edge ? this.retimed(id, edge, hold, at, from) : this.reordered(id, at);
      if (edge) editor.preview([edit], { times: true });
      else this.showGap(edit);
    };
    const up = () => {
      window.removeEventListener("pointermove", move);
      this.cards.querySelector(".gap")?.remove();
      this.dragged = moved;
      if (edge && edit) editor.commit(edit);
      else if (edit && edit.index !== editor.arranging.list.findIndex((each) => each.id === id)) {
        editor.edit(edit);
      }
    };
    window.addEventListener("pointermove", move);
    window.addEventListener("pointerup", up, { once: true });
    if (edge) event.preventDefault();
  }

  retimed(id, edge, hold, at, from) {
    const { editor } = this;
    const by = this.timeAt(at.clientX) - this.timeAt(from);
    const time_s = Math.max(0, (edge === "end" ? hold.end_s : hold.begin_s) + by);
    return { kind: "retime-arrangement", scene: editor.sceneId, arrangement: id, edge, time_s };
  }

  /** A card is dropped between others: before the first whose middle lies after the pointer. */
  reordered(id, at) {
    const { editor } = this;
    const time = this.timeAt(at.clientX);
    const others = editor.arranging.list.filter((each) => each.id !== id);
    const middle = ({ begin_s, end_s }) => (begin_s + end_s) / 2;
    const found = others.findIndex((each) => middle(editor.arranging.hold(each.id)) > time);
    const index = found < 0 ? others.length : found;
    return { kind: "order-arrangement", scene: editor.sceneId, arrangement: id, index };
  }

  showGap({ arrangement, index }) {
    const { arranging } = this.editor;
    const others = arranging.list.filter((each) => each.id !== arrangement);
    const at = others[index]
      ? arranging.hold(others[index].id).begin_s
      : arranging.hold(others[others.length - 1].id).end_s;
    let gap = this.cards.querySelector(".gap");
    if (!gap) {
      gap = document.createElement("span");
      gap.className = "gap";
      this.cards.append(gap);
    }
    gap.style.left = `${short(this.x(at))}px`;
  }

  click(event) {
    if (this.dragged) {
      this.dragged = false;
      return;
    }
    const { arranging } = this.editor;
    const card = event.target.closest("[data-arrangement]");
    const step = event.target.closest("[data-step]");
    if (card) arranging.goTo(card.dataset.arrangement);
    if (step) this.openStep(step.dataset.step);
  }

  /** The settings of a step, in the Timing tab. */
  openStep(id) {
    this.editor.arranging.stepOf = id;
    this.editor.tell("show-tab", "timing");
    this.editor.tell("arrangements");
    document.getElementById("arrangement-panel").scrollIntoView({ block: "nearest" });
  }

  twice(event) {
    const card = event.target.closest("[data-arrangement]");
    const step = event.target.closest("[data-step]");
    if (card && !event.target.dataset.edge) this.rename(card.dataset.arrangement);
    if (step) this.play(step.dataset.step);
  }

  /** Plays a step, from a little before it until a little after. */
  play(id) {
    const { editor } = this;
    const { list } = editor.arranging;
    const next = list[list.findIndex((each) => each.id === id) + 1];
    const [hold, goal] = [id, next?.id].map((each) => editor.arranging.hold(each));
    if (!hold || !goal) return;
    const times = [Math.max(0, hold.end_s - 0.3), Math.min(editor.scene.length_s, goal.begin_s + 0.4)];
    editor.player.playSpan(...times.map((time) => editor.frameAt(time)));
  }

  rename(id) {
    const { editor } = this;
    const card = this.cards.querySelector(`[data-arrangement="${CSS.escape(id)}"]`);
    const each = editor.arranging.list.find((one) => one.id === id);
    if (!card || !each) return;
    this.naming = true;
    const input = nameInput("Name of the arrangement", each.name, (name) => {
      this.naming = false;
      this.drawn = "";
      this.schedule();
      if (name) editor.edit({ kind: "change-arrangement", scene: editor.sceneId, arrangement: id, name });
    });
    input.classList.add("arrangement-name");
    input.style.left = card.style.left;
    this.cards.append(input);
    input.focus();
    input.select();
  }

  // Keys and menus

  key(event) {
    const { arranging } = this.editor;
    const id = event.target.dataset.arrangement;
    if (!id || this.naming) return;
    const index = arranging.list.findIndex((each) => each.id === id);
    const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    const deeds = {
      Delete: () => arranging.remove(id),
      F2: () => this.rename(id),
    };
    if (step && (event.shiftKey || event.altKey)) this.lengthen(id, step);
    else if (step) {
      const goal = arranging.list[index + step];
      if (goal) {
        arranging.goTo(goal.id);
        this.draw();
        this.cards.querySelector(`[data-arrangement="${CSS.escape(goal.id)}"]`)?.focus();
      }
    } else if (deeds[event.key]) deeds[event.key]();
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  /** A hold longer or shorter by so many frames. */
  lengthen(id, frames) {
    const { editor } = this;
    const hold = editor.arranging.hold(id);
    if (id === editor.arranging.list.at(-1).id) return;
    const time_s = hold.end_s + editor.timeOf(frames);
    editor.edit({ kind: "retime-arrangement", scene: editor.sceneId, arrangement: id, edge: "end", time_s });
  }

  menu(event) {
    const card = event.target.closest("[data-arrangement]");
    if (!card) return;
    const { arranging } = this.editor;
    const id = card.dataset.arrangement;
    const line = (name, label, run, more = {}) => ({ id: name, label, run, off: false, ...more });
    openMenu(event, [
      line("go", "Go there", () => arranging.goTo(id)),
      line("rename", "Rename", () => this.rename(id)),
      line("again", "The same once more, after it", () => arranging.add({ like: id })),
      line("keys", "Turn all arrangements into keys", () => arranging.edit("arrangements-to-keys"), {
        ruled: true,
      }),
      line("delete", "Delete", () => arranging.remove(id), { ruled: true }),
    ]);
  }
}
