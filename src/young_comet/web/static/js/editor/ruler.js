// The ruler: time, marks as pennants, the working range; what the pointer does there.
import { nameInput } from "../common.js";
import { fps, timecode } from "../formats.js";
import { classes, el, html, line, short } from "./markup.js";
import { markLines, openMenu } from "./thing_menus.js";

const CLICK_PX = 3;

export class Ruler {
  constructor(editor, timeline) {
    this.editor = editor;
    this.timeline = timeline;
    this.element = timeline.ruler;
    this.svg = this.element.querySelector("svg");
    this.drag = null;
    this.element.addEventListener("pointerdown", (event) => this.down(event));
    this.element.addEventListener("pointermove", (event) => this.move(event));
    this.element.addEventListener("pointerup", () => this.up());
    this.element.addEventListener("pointercancel", () => this.up(true));
    this.element.addEventListener("contextmenu", (event) => this.menu(event));
  }

  draw() {
    this.svg.innerHTML = this.ticks() + this.beats() + this.range() + this.marks();
    this.svg.dataset.fps = fps(this.editor.rate);
  }

  ticks() {
    const { editor, timeline } = this;
    const wanted = (timeline.shownSpan / Math.max(1, timeline.width)) * 86;
    const frame = editor.timeOf(1);
    const steps = [frame, frame * 2, frame * 5, 0.5, 1, 2, 5, 10, 15, 30, 60, 120, 300, 600];
    const step = steps.find((each) => each >= wanted) || 1200;
    const minor = step > frame * 5 ? step / 5 : step;
    const out = [];
    const first = Math.floor(timeline.start / minor);
    const last = Math.ceil((timeline.start + timeline.shownSpan) / minor);
    const label = (time) =>
      step >= 1
        ? `${Math.round(time * 100) / 100}s`
        : step >= 0.5
          ? `${Math.round(time * 10) / 10}s`
          : timecode(editor.frameAt(time), editor.rate);
    for (let i = first; i <= last; i += 1) {
      const time = i * minor;
      if (time > editor.scene.length_s + 1e-6) break;
      const x = timeline.x(time).toFixed(1);
      const major = Math.abs(time / step - Math.round(time / step)) < 1e-6;
      out.push(`<line x1="${x}" x2="${x}" y1="${major ? 14 : 21}" y2="28"/>`);
      if (major) out.push(`<text x="${Number(x) + 4}" y="24">${label(time)}</text>`);
    }
    return out.join("");
  }

  /** Beats of the music as ticks below: strong ones are taller, parts begin with a dot. */
  beats() {
    const { editor, timeline } = this;
    const out = [];
    for (const [layer, { asset, beats }] of Object.entries(editor.beats || {})) {
      const near = beats.length > 1 && timeline.x(beats[1].at_s) - timeline.x(beats[0].at_s) < 5;
      for (const beat of beats) {
        if (near && !beat.strong) continue;
        const moved = this.drag?.beat === beat.number && this.drag.layer === layer;
        const x = short(timeline.x(moved ? this.drag.time : beat.at_s));
        if (x < -10 || x > timeline.width + 10) continue;
        const cls = classes("beat", beat.strong && "strong");
        out.push(line([x, beat.strong ? 17 : 21], [x, 28], { class: cls }));
        if (beat.section) out.push(el("circle", { class: "beat-part", cx: x, cy: 15, r: 2.2 }));
        const said = el("title", {}, "A beat: drag to move them all, with Shift to stretch them");
        const grip = { x: x - 3, y: 18, width: 6, height: 10, fill: "transparent" };
        const which = { "data-beat": beat.number, "data-asset": asset, "data-layer": layer };
        out.push(el("rect", { class: "beat-grip", ...which, ...grip }, said));
      }
    }
    return out.join("");
  }

  /** The working range as a bar with two ends; faint while it is the whole scene. */
  range() {
    const { editor, timeline } = this;
    const [start, end] = this.rangeNow || editor.scene.range_s || [0, editor.scene.length_s];
    const a = timeline.x(start);
    const b = timeline.x(end);
    const cls = classes("range-bar", !editor.scene.range_s && !this.rangeNow && "whole");
    const bar = el("rect", { class: cls, x: a, y: 0, width: Math.max(0, b - a), height: 4 });
    return bar + this.rangeGrip(short(a), "start") + this.rangeGrip(short(b), "end");
  }

  rangeGrip(x, side) {
    const way = side === "start" ? 6 : -6;
    const said = el("title", {}, `${side === "start" ? "Start" : "End"} of the working range`);
    const which = { "data-range": side };
    const flag = el("path", { class: "range-grip", ...which, d: `M${x} 0 h${way} v5 q0 3 ${-way} 5Z` });
    return flag + el("rect", { ...which, x: x - 7, y: 0, width: 14, height: 11, fill: "transparent" }, said);
  }

  marks() {
    const { editor, timeline } = this;
    const at = (mark) => timeline.x(this.drag?.mark === mark.id ? this.drag.time : mark.time_s);
    const places = editor.scene.marks.map(at);
    return editor.scene.marks
      .map((mark) => {
        const x = Math.round(at(mark) * 10) / 10;
        // A name ends before the next mark.
        const next = Math.min(...places.filter((each) => each > x + 1));
        const letters = Math.max(0, Math.floor((next - x - 18) / 5.9));
        const name =
          mark.name.length > letters ? `${mark.name.slice(0, Math.max(0, letters - 1))}…` : mark.name;
        const room = {
          x: x - 4,
          y: 3,
          width: 20 + Math.min(letters, mark.name.length) * 6,
          height: 11,
          fill: "transparent",
        };
        const told = mark.note ? `${mark.note}\n\n` : "";
        const said = el("title", {}, html(`${told}${mark.name}: drag to move, double-click to rename`));
        return el(
          "g",
          { class: mark.note ? "pennant noted" : "pennant", "data-mark": mark.id },
          line([x, 4], [x, 28], {}),
          el("path", { d: `M${x} 4.5 L${x + 12} 8.5 L${x} 12.5Z` }),
          el("text", { x: x + 14, y: 12.5 }, html(letters > 1 ? name : "")),
          el("rect", room, said),
        );
      })
      .join("");
  }

  x(event) {
    return event.clientX - this.element.getBoundingClientRect().left;
  }

  timeAt(event) {
    const { editor } = this;
    const time = this.timeline.timeAt(this.x(event));
    return editor.timeOf(Math.max(0, Math.min(editor.frameCount, editor.frameAt(time))));
  }

  down(event) {
    if (event.button !== 0 || event.target.closest("input")) return;
    this.element.setPointerCapture(event.pointerId);
    const range = event.target.closest("[data-range]")?.dataset.range;
    const mark = event.target.closest("[data-mark]")?.dataset.mark;
    const beat = event.target.closest("[data-beat]");
    if (beat) {
      const { layer, asset } = beat.dataset;
      const number = Number(beat.dataset.beat);
      const heard = this.editor.beats[layer].beats.find((each) => each.number === number);
      this.drag = { beat: number, layer, asset, x: event.clientX, time: heard.at_s };
      return;
    }
    if (range) this.drag = { range };
    else if (mark) {
      this.drag = {
        mark,
        x: event.clientX,
        time: this.editor.scene.marks.find((each) => each.id === mark).time_s,
        from: null,
      };
    } else {
      this.drag = { scrub: true };
      if (this.editor.isPlaying()) this.editor.player.pause();
      this.editor.goTo(this.editor.frameAt(this.timeAt(event)));
    }
  }

  move(event) {
    const { drag, editor } = this;
    if (!drag) return;
    if (drag.scrub) editor.goTo(editor.frameAt(this.timeline.timeAt(this.x(event))));
    else if (drag.range) {
      const [start, end] = editor.scene.range_s || [0, editor.scene.length_s];
      const time = this.timeAt(event);
      const frame = editor.timeOf(1);
      this.rangeNow =
        drag.range === "start" ? [Math.min(time, end - frame), end] : [start, Math.max(time, start + frame)];
      this.draw();
    } else if (drag.asset) {
      drag.moved = drag.moved || Math.abs(event.clientX - drag.x) > CLICK_PX;
      if (drag.moved) drag.time = this.timeline.timeAt(this.x(event));
      drag.stretch = event.shiftKey;
      this.draw();
    } else if (Math.abs(event.clientX - drag.x) > CLICK_PX || drag.from !== null) {
      drag.from = drag.time;
      drag.time = this.timeAt(event);
      this.draw();
    }
  }

  async up(cancelled = false) {
    const { drag, editor } = this;
    this.drag = null;
    if (!drag || drag.scrub) return;
    if (drag.range && this.rangeNow && !cancelled) {
      const [start_s, end_s] = this.rangeNow;
      await editor.edit({ kind: "set-range", scene: editor.sceneId, start_s, end_s });
    } else if (drag.mark && drag.from !== null && !cancelled) {
      await editor.edit({ kind: "change-mark", scene: editor.sceneId, mark: drag.mark, time_s: drag.time });
    } else if (drag.asset && !cancelled) {
      if (!drag.moved) editor.goTo(editor.frameAt(drag.time));
      else await this.dropBeat(drag);
    } else if (drag.mark && !cancelled) this.click(drag.mark, drag.time);
    this.rangeNow = null;
    this.draw();
  }

  /** All beats go along with the one that was dragged; with Shift they are stretched about the
   * first. */
  async dropBeat({ asset, layer, beat, time, stretch }) {
    const { editor } = this;
    const heard = { scene: editor.sceneId, layer, at_s: [time] };
    await editor.edit({ kind: "move-beat", asset, beat, heard, stretch });
  }

  /** A click goes to the mark, a second one opens its name. */
  click(id, time) {
    const now = performance.now();
    const again = this.clicked?.id === id && now - this.clicked.time < 450;
    this.clicked = { id, time: now };
    if (again) this.rename(id);
    else this.editor.goTo(this.editor.frameAt(time));
  }

  rename(id) {
    const { editor } = this;
    const mark = editor.scene.marks.find((each) => each.id === id);
    const input = nameInput("Name of the mark", mark.name, (name) => {
      if (name) editor.edit({ kind: "change-mark", scene: editor.sceneId, mark: id, name });
    });
    input.classList.add("mark-name");
    input.style.left = `${this.timeline.x(mark.time_s) + 4}px`;
    this.element.append(input);
    input.focus();
    input.select();
  }

  menu(event) {
    event.preventDefault();
    const { editor } = this;
    const id = event.target.closest("[data-mark]")?.dataset.mark;
    const mark = editor.scene.marks.find((each) => each.id === id);
    if (mark) {
      openMenu(
        event,
        markLines(editor, mark, () => this.rename(id)),
      );
      return;
    }
    const time_s = this.timeAt(event);
    const range = (start_s, end_s) =>
      editor.edit({ kind: "set-range", scene: editor.sceneId, start_s, end_s });
    const [start, end] = editor.scene.range_s || [0, editor.scene.length_s];
    const items = [
      {
        id: "mark",
        label: "Set a mark here",
        off: false,
        run: () => editor.edit({ kind: "add-mark", scene: editor.sceneId, time_s }),
      },
      { id: "from", label: "Working range starts here", off: time_s >= end, run: () => range(time_s, end) },
      { id: "to", label: "Working range ends here", off: time_s <= start, run: () => range(start, time_s) },
      {
        id: "whole",
        label: "Whole scene as working range",
        off: !editor.scene.range_s,
        run: () => range(null, null),
      },
    ];
    window.dispatchEvent(
      new CustomEvent("open-property", { detail: { x: event.clientX, y: event.clientY - 150, items } }),
    );
  }
}
