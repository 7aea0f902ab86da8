// The pointer on the stage: handed to the mode that is on, and the course of the drags it gives.
//
// A drag is an object of any of these:
//   edits(at, event)   the edits for where the pointer is: shown as a preview, saved when it is let go;
//   moved(event, at)   what happens as it moves, in place of edits;
//   click(event)       it was let go where it was pressed;
//   end(event)         it was moved and let go, in place of saving;
//   after()            after saving;
//   cancel()           it was given up;
//   title              what several edits are called as one step;
//   eager              it begins without waiting for the pointer to leave its place;
//   waiting            a promise, until it is known what it is: moving does nothing before;
//   twice              it is what the second of two quick presses does: no double click besides.
import { note } from "../notes.js";
import { upload } from "./actions/files.js";
import { carriesAsset, dropOnStage } from "./asset_drags.js";
import { panDrag } from "./modes/pan.js";
import { chooseAt } from "./modes/select.js";
import { round } from "./points.js";

const CLICK_PX = 3;
// Two presses that follow each other so soon, and lie so near, are a double click.
const TWICE_MS = 450;
const TWICE_PX = 6;
// What lies on the stage and has a pointer of its own.
const OWN = ".tools, .faults, .seeing-note, .tour-card, .editing-text, .letters-bar, .compare-divider";

export class Pointing {
  constructor(hands) {
    this.hands = hands;
    this.editor = hands.editor;
    this.stage = hands.stage;
    this.overlay = hands.overlay;
    this.drag = null;
    this.start = null;
    this.hint = document.getElementById("mode-hint");
    const { element } = this.stage;
    element.addEventListener("pointerdown", (event) => this.down(event));
    element.addEventListener("pointermove", (event) => this.move(event));
    element.addEventListener("pointerup", (event) => this.up(event));
    element.addEventListener("pointercancel", () => this.cancel());
    element.addEventListener("contextmenu", (event) => this.menu(event));
    element.addEventListener("dragover", (event) => this.dragOver(event));
    element.addEventListener("dragleave", () => element.classList.remove("drop-here"));
    element.addEventListener("drop", (event) => this.drop(event));
    this.editor.on("mode", () => this.show());
    // Whoever presses anything, on the stage or elsewhere, does not believe to be writing any more.
    window.addEventListener("pointerdown", () => (this.missed = false), true);
  }

  get mode() {
    return this.editor.modes.current;
  }

  /** The cursor and the hint of the mode that is on. */
  show() {
    const { mode, hint } = this;
    this.stage.element.style.cursor = mode.cursor;
    hint.textContent = mode.hint;
    hint.hidden = !mode.hint;
    hint.classList.toggle("calls", mode.calls);
  }

  down(event) {
    if (event.button === 2 || event.target.closest(OWN)) return;
    const { editor, stage } = this;
    stage.element.focus({ preventScroll: true });
    if (editor.isPlaying()) this.hands.player.pause();
    const at = stage.toScene(event);
    stage.element.setPointerCapture(event.pointerId);
    const { x, y, time } = this.pressed || {};
    // Told by the presses: what lies under the pointer is drawn anew in between, and then the browser
    // tells of none.
    const near = Math.hypot(event.clientX - x, event.clientY - y) < TWICE_PX;
    const twice = near && event.timeStamp - time < TWICE_MS;
    this.pressed = twice ? null : { x: event.clientX, y: event.clientY, time: event.timeStamp };
    this.start = { x: event.clientX, y: event.clientY, moved: false, twice };
    this.drag = event.button === 1 ? panDrag(stage, event) : this.mode.press(at, event);
  }

  move(event) {
    const { drag, start } = this;
    const at = this.stage.toScene(event);
    if (!drag) {
      if (!event.buttons) this.mode.hover(at);
      return;
    }
    if (Math.hypot(event.clientX - start.x, event.clientY - start.y) > CLICK_PX) start.moved = true;
    if ((!start.moved && !drag.eager) || drag.waiting) return;
    this.carry(drag, event, at);
    this.editor.tell("dragging", drag);
  }

  carry(drag, event, at) {
    if (drag.moved) drag.moved(event, at);
    else if (drag.edits) {
      drag.now = drag.edits(at, event);
      if (!drag.end) this.editor.preview(drag.now);
    }
  }

  async up(event) {
    const { drag, start } = this;
    this.drag = this.start = null;
    this.editor.tell("dragging", null);
    this.overlay.snaps = [];
    if (!drag) {
      if (start?.twice && event.button === 0) this.doubleClick(event);
      return;
    }
    if (drag.waiting && start.moved) {
      // The hand was quicker than the answer to what it holds.
      const at = this.stage.toScene(event);
      await drag.waiting;
      this.carry(drag, event, at);
      this.overlay.snaps = [];
    }
    if (!start.moved && !drag.eager) {
      this.overlay.draw();
      drag.click?.(event);
      if (start.twice && !drag.twice && event.button === 0) this.doubleClick(event);
    } else if (drag.end) await drag.end(event);
    else if (drag.now?.length) {
      const edits = drag.now;
      await this.editor.commit(
        edits.length === 1 ? edits[0] : { kind: "together", title: drag.title, edits },
      );
      drag.after?.();
    }
  }

  cancel() {
    const { drag, overlay } = this;
    this.drag = null;
    this.editor.tell("dragging", null);
    drag?.cancel?.();
    overlay.drawn = null;
    overlay.snaps = [];
    overlay.marquee = null;
    this.editor.withdraw();
    overlay.draw();
  }

  /** Escape while dragging; true if there was a drag to give up. */
  giveUp() {
    if (!this.drag) return false;
    this.cancel();
    return true;
  }

  async doubleClick(event) {
    if (event.target.closest(OWN)) return;
    this.missed = (await this.mode.doubleClick(this.stage.toScene(event))) === false;
  }

  /** Whether somebody types who believes to have opened a text: that must not do anything to layers. */
  heedsNot({ key, ctrlKey, metaKey, altKey }) {
    if (!this.missed || altKey) return false;
    const typed = key.length === 1 && key !== " " && !ctrlKey && !metaKey;
    const edits = ["Backspace", "Delete", "Enter"].includes(key);
    const all = (ctrlKey || metaKey) && ["a", "v", "x"].includes(key.toLowerCase());
    if (!typed && !edits && !all) return false;
    note("Nothing is being written: double-click on a text to write in it.");
    return true;
  }

  menu(event) {
    if (event.target.closest(OWN)) return;
    event.preventDefault();
    const detail = { x: event.clientX, y: event.clientY };
    chooseAt(this.hands, this.stage.toScene(event), { shiftKey: false, altKey: true }, false).then(() =>
      window.dispatchEvent(new CustomEvent("open-layer-menu", { detail })),
    );
  }

  dragOver(event) {
    if (![...event.dataTransfer.types].includes("Files") && !carriesAsset(event)) return;
    event.preventDefault();
    this.stage.element.classList.add("drop-here");
  }

  drop(event) {
    event.preventDefault();
    this.stage.element.classList.remove("drop-here");
    const point = this.stage.toScene(event).map(round);
    if (carriesAsset(event)) dropOnStage(this.editor, event, point);
    else upload(this.editor, [...event.dataTransfer.files], { place: true, point });
  }
}
