// The colour picker: plane, hue, opacity, hex, inks and the dropper.
import { Alpine } from "../common.js";
import { note } from "../notes.js";
import { addInk } from "./actions/inks.js";
import { api } from "../api.js";
import { readColour } from "./picker.js";

// Asked for when the hand rests.
const READ_MS = 160;
// What WCAG 2.2 asks of text (1.4.3, AA).
const ENOUGH = 4.5;

export function registerColourPicker(editor) {
  let then = null;
  let anchor = null;
  let before = null;

  Alpine.data("colourPicker", () => ({
    shown: false,
    sources: false,
    source: "frame",
    hue: 0,
    saturation: 1,
    lightness: 1,
    alpha: 100,
    hex: "",
    typed: false,
    withInks: true,
    withAlpha: true,
    inks: [],
    planeStyle: {},
    markStyle: {},
    written: [],
    contrast: "",
    contrastClass: "",
    contrastTitle: "",
    layer: "",
    nowStyle: {},
    alphaStyle: {},

    init() {
      editor.on("selection", () => this.shown && this.close());
      const escape = (event) => {
        if (!this.shown || event.key !== "Escape") return;
        event.stopImmediatePropagation();
        this.typed = false;
        this.close();
      };
      window.addEventListener("keydown", escape, true);
      document.addEventListener("pointerdown", (event) => {
        const inside =
          event.target.closest?.("#picker") || event.target === anchor || anchor?.contains(event.target);
        if (this.shown && !inside && !event.target.closest?.("#stage")) this.close();
      });
    },
    open(event) {
      const { detail } = event;
      then = detail.then;
      anchor = detail.anchor;
      this.withInks = detail.inks !== false;
      this.withAlpha = detail.alpha !== false && !detail.before;
      before = detail.before ?? null;
      this.layer = detail.layer || "";
      this.contrast = "";
      this.written = [];
      this.sources = before !== null;
      this.source = before ? "given" : "frame";
      this.inks = editor.project.inks.map((ink) => ({ ...ink, style: { background: ink.colour } }));
      this.take(editor.colourOf(detail.colour));
      this.shown = true;
      this.$nextTick(() => this.place(detail.anchor.getBoundingClientRect()));
    },
    place(box) {
      const own = this.$root;
      // Beside the panel, so that it hides neither the field nor the picture under the panel's edge.
      const left = Math.min(box.left - 244, window.innerWidth - 284 - 244, window.innerWidth - 246);
      own.style.left = `${Math.max(8, left)}px`;
      own.style.top = `${Math.max(8, Math.min(window.innerHeight - own.offsetHeight - 8, box.top - 60))}px`;
    },
    close() {
      // A press elsewhere ends the typing, and what was typed counts.
      if (this.typed) this.typeHex();
      this.shown = false;
      then = null;
    },
    take(hex) {
      const parts = [1, 3, 5].map((at) => parseInt(hex.slice(at, at + 2), 16) / 255);
      this.alpha = hex.length > 7 ? Math.round((parseInt(hex.slice(7, 9), 16) / 255) * 100) : 100;
      const [h, s, v] = toHsv(parts);
      if (s > 0 && v > 0) this.hue = Math.round(h);
      this.saturation = s;
      this.lightness = v;
      this.hex = hex;
      this.typed = false;
      this.paint();
    },
    paint() {
      const pure = toHex(fromHsv([Number(this.hue), 1, 1]));
      this.planeStyle = {
        background: `linear-gradient(0deg, #000, transparent), linear-gradient(90deg, #fff, ${pure})`,
      };
      this.markStyle = { left: `${this.saturation * 100}%`, top: `${(1 - this.lightness) * 100}%` };
      this.nowStyle = { background: this.hex };
      this.readSoon();
      this.alphaStyle = { background: `linear-gradient(90deg, transparent, ${this.hex.slice(0, 7)})` };
    },
    tell(done) {
      const plain = toHex(fromHsv([Number(this.hue), this.saturation, this.lightness]));
      const alpha = Math.round((Number(this.alpha) / 100) * 255);
      this.hex = alpha === 255 || !this.withAlpha ? plain : plain + alpha.toString(16).padStart(2, "0");
      this.paint();
      then?.(this.hex, done);
    },
    slide() {
      this.tell(false);
    },
    commit() {
      this.tell(true);
    },
    dragPlane(event) {
      const plane = this.$refs.plane;
      const box = plane.getBoundingClientRect();
      const move = (now) => {
        this.saturation = Math.min(1, Math.max(0, (now.clientX - box.left) / box.width));
        this.lightness = 1 - Math.min(1, Math.max(0, (now.clientY - box.top) / box.height));
        this.tell(false);
      };
      plane.setPointerCapture(event.pointerId);
      plane.addEventListener("pointermove", move);
      plane.addEventListener(
        "pointerup",
        () => {
          plane.removeEventListener("pointermove", move);
          this.tell(true);
        },
        { once: true },
      );
      move(event);
    },
    typing() {
      this.typed = true;
    },
    async typeHex() {
      if (!this.typed) return;
      this.typed = false;
      // For whom it was opened, also where the picker is closed or opened for another meanwhile.
      const [tell, text] = [then, this.hex];
      const read = await editor.working(readColour(text));
      if (!read) return;
      if (then === tell) this.take(read.colour);
      tell?.(read.colour, true);
    },
    /** How the colour is written, and how it reads on what lies below its layer. */
    readSoon() {
      clearTimeout(this.reading);
      this.reading = setTimeout(() => this.read(), READ_MS);
    },
    async read() {
      const hex = this.hex;
      const written = await api.readColour(hex).catch(() => null);
      const found =
        this.layer &&
        (await api
          .contrast(editor.projectId, editor.sceneId, this.layer, editor.time, hex)
          .catch(() => null));
      if (!this.shown || hex !== this.hex) return;
      this.written = written ? Object.values(written.notations).slice(1) : [];
      // What is told makes it higher: it stays within the window.
      this.$nextTick(() => this.shown && anchor && this.place(anchor.getBoundingClientRect()));
      this.contrast = found?.mean ? `${found.mean.toFixed(1)} : 1` : "";
      this.contrastClass = found?.worst >= ENOUGH ? "enough" : "little";
      const [mean, worst] = [found?.mean, found?.worst].map((each) => each?.toFixed(1));
      this.contrastTitle = `By WCAG: ${mean} on the whole, ${worst} at worst; ${ENOUGH} is enough for text`;
    },
    copy(text) {
      navigator.clipboard?.writeText(text);
      note(`${text} is on the clipboard.`, { seconds: 2 });
    },
    useInk(ink) {
      this.take(ink.colour);
      then?.(`ink:${ink.id}`, true);
    },
    async saveInk() {
      if (!(await addInk(editor, this.hex))) return;
      const ink = editor.project.inks.at(-1);
      this.inks = editor.project.inks.map((each) => ({ ...each, style: { background: each.colour } }));
      then?.(`ink:${ink.id}`, true);
    },
    pickFromStage() {
      const tell = then;
      const take = (colour) => {
        if (this.shown) this.take(colour);
        tell?.(colour, true);
      };
      editor.enter("pick-colour", { then: take, before: this.source === "given" ? before : null });
    },
  }));
}

// The picker's own colour model; documents only ever hold hex.

function toHsv([r, g, b]) {
  const high = Math.max(r, g, b);
  const range = high - Math.min(r, g, b);
  let hue = 0;
  if (range > 0) {
    if (high === r) hue = ((g - b) / range + 6) % 6;
    else if (high === g) hue = (b - r) / range + 2;
    else hue = (r - g) / range + 4;
  }
  return [hue * 60, high > 0 ? range / high : 0, high];
}

function fromHsv([h, s, v]) {
  const part = (n) => {
    const k = (n + h / 60) % 6;
    return v - v * s * Math.max(0, Math.min(k, 4 - k, 1));
  };
  return [part(5), part(3), part(1)];
}

function toHex(parts) {
  return `#${parts
    .map((part) =>
      Math.round(part * 255)
        .toString(16)
        .padStart(2, "0"),
    )
    .join("")}`;
}
