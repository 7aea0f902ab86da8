// A text written on the stage, where it stands. A field that nobody sees takes what is typed (keys, input
// methods, the clipboard); where caret and selection are drawn, the server says with each picture.
import { el, pointList } from "../markup.js";
import { note } from "../../notes.js";
import { LettersBar } from "../letters_bar.js";
import { Letters, toCharacters, toField } from "./letters.js";
import { Mode } from "./mode.js";

// A text is saved when its writer rests, or goes on to the next word.
const REST_MS = 1500;
// Presses that are further from the letters than this, in heights of them, are meant for something else.
const NEAR = 0.7;
const CLIP = "application/x-young-comet-letters";
const WORD = /[\p{L}\p{M}\p{N}_'’]/u;
const BOLD = 800;
const SLANT = 12;

/** Options: `layer`, as an id; `at`, the place pressed; `fits` keeps the text in the frame. */
export class WriteMode extends Mode {
  static visits = true;

  get cursor() {
    return "text";
  }

  enter() {
    const { editor } = this;
    const area = document.createElement("textarea");
    area.className = "editing-text unseen";
    area.setAttribute("aria-label", "Text");
    area.spellcheck = false;
    this.base = editor.value(this.layer, "text");
    area.value = this.base;
    this.area = area;
    this.letters = null;
    this.saving = 0; // steps that are on their way
    this.goal = this.options.at || null;
    this.listen();
    this.stage.element.append(area);
    this.bar = new LettersBar(this);
    area.focus();
    // Where a place was pressed the caret comes there, as soon as the server has said where letters lie.
    if (this.goal) area.setSelectionRange(area.value.length, area.value.length);
    else area.select();
    editor.writing = this.options.layer;
    this.preview();
  }

  listen() {
    const { editor, area } = this;
    const heard = [editor.on("view", () => this.hear()), editor.on("document", () => this.takeOver())];
    this.deafen = () => heard.forEach((stop) => stop());
    this.chosen = () => document.activeElement === area && this.changedPlace();
    document.addEventListener("selectionchange", this.chosen);
    area.addEventListener("input", (event) => this.typed(event));
    area.addEventListener("keydown", (event) => this.key(event));
    for (const kind of ["copy", "cut"]) area.addEventListener(kind, (event) => this.copy(event));
    area.addEventListener("paste", (event) => this.paste(event));
  }

  get layer() {
    return this.editor.layer(this.options.layer);
  }

  // What the server says

  hear() {
    const told = this.editor.letters;
    if (!this.area || told?.layer !== this.options.layer) return;
    // Where no letters are shown, or others than are typed, they are written in a box beside it.
    this.letters = told.typed && told.lines.length ? new Letters(told) : null;
    this.area.classList.toggle("unseen", Boolean(this.letters));
    // Whoever has chosen or typed since keeps the caret he has.
    if (this.goal && !this.isUntouched) this.goal = null;
    if (this.letters && this.goal) {
      const at = this.letters.nearest(this.goal).place;
      this.goal = null;
      this.choose(at, at);
    }
    this.lay();
    this.bar.update();
    this.overlay.draw();
  }

  /** Somebody else, or an undo, has written: the field says what the text says. */
  takeOver() {
    const { layer, area } = this;
    if (!layer || !area) return;
    const now = this.editor.value(layer, "text");
    // While a step is on its way, what the text says is still that of a step before.
    if (!this.saving && now !== this.base && area.value === this.base && !this.composing) {
      const [first, last] = this.stretch;
      area.value = now;
      this.base = now;
      this.choose(Math.min(first, [...now].length), Math.min(last, [...now].length));
    }
    this.preview();
  }

  /** The field lies at the caret, where input methods open their lists; or below a text without one. */
  lay() {
    const { stage, area } = this;
    const caret = this.letters?.caret(this.stretch[1]);
    const box = stage.element.getBoundingClientRect();
    if (caret) {
      const [top, foot] = caret.map((p) => stage.toScreen(p));
      area.style.left = `${Math.max(0, Math.min(box.width - 20, top[0]))}px`;
      area.style.top = `${Math.max(0, Math.min(box.height - 20, Math.min(top[1], foot[1])))}px`;
      return;
    }
    const place = this.layer ? this.editor.value(this.layer, "position") : [0, 0];
    const corners = this.editor.view[this.options.layer]?.corners || [place];
    const left = Math.min(...corners.map((p) => p[0]));
    const [x, y] = stage.toScreen([left, Math.max(...corners.map((p) => p[1]))]);
    area.style.left = `${Math.max(60, Math.min(box.width - 240, x))}px`;
    area.style.top = `${Math.max(8, Math.min(box.height - 80, y + 8))}px`;
  }

  // Places count characters

  get stretch() {
    const { value, selectionStart, selectionEnd } = this.area;
    return [toCharacters(value, selectionStart), toCharacters(value, selectionEnd)];
  }

  get moving() {
    const [first, last] = this.stretch;
    return this.area.selectionDirection === "backward" ? first : last;
  }

  choose(from, to) {
    const { area } = this;
    const [a, b] = [toField(area.value, Math.min(from, to)), toField(area.value, Math.max(from, to))];
    area.setSelectionRange(a, b, to < from ? "backward" : "forward");
    this.changedPlace();
  }

  changedPlace() {
    this.lay();
    this.bar.update();
    this.editor.tell("stretch");
    this.overlay.draw();
  }

  // Writing

  get text() {
    return this.area.value;
  }

  get isChanged() {
    return this.text !== this.base;
  }

  /** Whether the caret stands where it was put as writing began. */
  get isUntouched() {
    const { selectionStart, selectionEnd, value } = this.area;
    return !this.isChanged && selectionStart === value.length && selectionEnd === value.length;
  }

  edit() {
    const { layer, fits } = this.options;
    return this.editor.textEdit([this.editor.layer(layer)], this.text, fits);
  }

  /** Moves and fronts stand still while their text is written: letters are where they are read. */
  get still() {
    const { layer, editor } = this;
    const of = (family, members) =>
      members
        .filter((member) => member.on)
        .map(({ id }) => ({
          kind: "change-member",
          scene: editor.sceneId,
          family,
          layer: layer.id,
          member: id,
          set: { on: false },
        }));
    if (!layer) return [];
    // The mark for a number is written in as it is typed.
    const counts = editor.value(layer, "number.shows") !== "none";
    const plain = [{ layer: layer.id, property: "number.shows", value: "none" }];
    const words = counts ? [editor.set(plain)] : [];
    return [...of("move", layer.moves), ...of("front", layer.fronts), ...words];
  }

  preview(more = []) {
    if (!this.area) return;
    const typed = this.isChanged ? [this.edit()] : [];
    this.editor.preview([...this.still, ...typed, ...more]);
  }

  typed(event) {
    this.composing = event.isComposing;
    clearTimeout(this.resting);
    this.resting = setTimeout(() => this.save(), REST_MS);
    this.preview();
    // What is written is undone in steps of words: each blank begins the next.
    if (!event.isComposing && /\s/.test(event.data || "") && this.isChanged) this.save();
  }

  /** What is written becomes a step of the history. */
  async save() {
    clearTimeout(this.resting);
    if (!this.area || !this.isChanged || this.composing) return true;
    const edit = this.edit();
    this.base = this.text;
    this.saving += 1;
    try {
      return await this.editor.edit(edit);
    } finally {
      this.saving -= 1;
      this.takeOver();
    }
  }

  async undo(again) {
    const { editor } = this;
    if (this.isChanged) {
      this.area.value = this.base;
      this.preview();
      return;
    }
    await (again ? editor.redo() : editor.undo());
  }

  key(event) {
    event.stopPropagation();
    if (event.isComposing) return;
    const held = event.ctrlKey || event.metaKey;
    const deed = held ? this.heldKey(event) : this.plainKey(event);
    if (!deed) return;
    event.preventDefault();
    deed();
  }

  /** What a key does with Ctrl or Cmd; null where the field does it. */
  heldKey({ key, shiftKey }) {
    const deeds = {
      enter: () => this.end(),
      z: () => this.undo(shiftKey),
      b: () => this.bold(),
      i: () => this.lean(),
    };
    return deeds[key.toLowerCase()] || null;
  }

  plainKey({ key, shiftKey }) {
    if (key === "Escape") return () => this.end();
    if (key === "Tab") return () => this.bar.focus();
    // While the letters are still those of before, the field knows better.
    if (this.letters?.text !== this.text) return null;
    const goals = {
      ArrowUp: () => this.letters.beside(this.moving, -1),
      ArrowDown: () => this.letters.beside(this.moving, 1),
      Home: () => this.letters.ends(this.moving)[0],
      End: () => this.letters.ends(this.moving)[1],
    };
    return goals[key] ? () => this.go(goals[key](), shiftKey) : null;
  }

  end() {
    this.editor.modes.leave(this);
    this.stage.element.focus({ preventScroll: true });
  }

  bold() {
    return this.style({ weight: this.worn("weight") >= 700 ? 400 : BOLD });
  }

  lean() {
    // A typeface that has an italic is set in that; others are sheared.
    const other = this.editor.typefaces.sister(this.worn("font"));
    if (this.worn("slant") || !other) return this.style({ slant: this.worn("slant") ? 0 : SLANT });
    return this.style({ font: other });
  }

  go(place, extends_) {
    const [first, last] = this.stretch;
    const fixed = this.moving === last ? first : last;
    this.choose(extends_ ? fixed : place, place);
  }

  // The clipboard: plain text for all, letters with their runs within the product

  copy(event) {
    const [first, last] = this.stretch;
    if (first === last || this.isChanged) return;
    const { layer } = this;
    const runs = layer.runs
      .filter((run) => run.on && run.first < last && run.last > first)
      .map((run) => ({
        first: Math.max(0, run.first - first),
        last: Math.min(run.last, last) - first,
        properties: ownOf(layer, `run.${run.id}.`),
      }));
    const { value, selectionStart, selectionEnd } = this.area;
    event.preventDefault();
    event.clipboardData.setData("text/plain", value.slice(selectionStart, selectionEnd));
    event.clipboardData.setData(CLIP, JSON.stringify(runs));
    if (event.type === "cut") document.execCommand("delete");
  }

  async paste(event) {
    const text = event.clipboardData.getData("text/plain").replace(/\r\n?/g, "\n");
    const runs = event.clipboardData.getData(CLIP);
    if (!runs || runs === "[]") return;
    event.preventDefault();
    await this.save();
    const [first, last] = this.stretch;
    const edit = { ...this.editOf("edit-text"), first, last, text, runs: JSON.parse(runs) };
    if (!(await this.editor.edit(edit))) return;
    this.takeOver();
    const end = first + [...text].length;
    this.choose(end, end);
  }

  editOf(kind) {
    return {
      kind,
      scene: this.editor.sceneId,
      layer: this.options.layer,
      time_s: this.editor.time,
    };
  }

  // Style

  /** The letters that a style is for: those chosen, or the word at the caret. */
  get meant() {
    const [first, last] = this.stretch;
    if (first !== last) return [first, last];
    const letters = [...this.text];
    let [a, b] = [first, first];
    while (a > 0 && WORD.test(letters[a - 1])) a -= 1;
    while (b < letters.length && WORD.test(letters[b])) b += 1;
    return [a, b];
  }

  /** The run at the caret, or at the begin of what is chosen; null in the text's own letters. */
  get run() {
    const [first, last] = this.stretch;
    const at = first === last ? Math.max(0, first - 1) : first;
    return this.layer?.runs.find((run) => run.on && run.first <= at && at < run.last) || null;
  }

  /** What the letters there have of a run's properties. */
  worn(name) {
    const { run, layer, editor } = this;
    const property = name.startsWith("fill.") ? name : `text.${name}`;
    return editor.value(layer, run ? `run.${run.id}.${name}` : property);
  }

  styleEdit(set) {
    const [first, last] = this.meant;
    return first === last ? null : { ...this.editOf("style-stretch"), first, last, set };
  }

  /** Sets something of the chosen letters; while it is dragged it is only shown. */
  async style(set, { shown = false } = {}) {
    const edit = this.styleEdit(set);
    if (!edit) {
      note("Choose letters, or put the caret into a word.");
      return;
    }
    if (shown) {
      this.preview([edit]);
      return;
    }
    await this.save();
    await this.editor.edit(edit);
    this.preview();
  }

  // The pointer

  press(at, event) {
    const { editor } = this;
    const near = this.letters?.nearest(at);
    if (!near || near.far > NEAR) {
      editor.modes.leave(this);
      return editor.modes.current.press(at, event);
    }
    const start = event.shiftKey ? this.fixed(near.place) : near.place;
    // When it was pressed, not when a busy page comes to it.
    const now = event.timeStamp;
    const again = now - (this.pressed?.time || 0) < 500 && this.pressed.place === near.place;
    const times = again ? (this.pressed.times % 3) + 1 : 1;
    this.pressed = { time: now, place: near.place, times };
    const [from, to] = this.grown(start, near.place, times);
    this.choose(from, to);
    this.area.focus({ preventScroll: true });
    return {
      edits: () => [],
      moved: (_event, there) => {
        const place = this.letters?.nearest(there).place ?? start;
        const [a, b] = this.grown(start, place, times);
        this.choose(a, b);
      },
      end: () => this.area?.focus({ preventScroll: true }),
      click: () => this.area?.focus({ preventScroll: true }),
    };
  }

  fixed(place) {
    const [first, last] = this.stretch;
    return Math.abs(place - first) > Math.abs(place - last) ? first : last;
  }

  /** A stretch grown to whole words (pressed twice) or lines (three times). */
  grown(from, to, times) {
    if (times === 1) return [from, to];
    const letters = [...this.text];
    const [low, high] = [Math.min(from, to), Math.max(from, to)];
    let [a, b] = [low, high];
    if (times === 2) {
      while (a > 0 && WORD.test(letters[a - 1])) a -= 1;
      while (b < letters.length && WORD.test(letters[b])) b += 1;
      if (a === b && b < letters.length) b += 1;
    } else {
      a = this.letters.ends(low)[0];
      b = this.letters.ends(high)[1];
    }
    return to < from ? [b, a] : [a, b];
  }

  doubleClick() {
    return true;
  }

  // What else is asked of a mode

  remove() {
    document.execCommand("delete");
    return true;
  }

  chooseAll() {
    this.area.focus();
    this.area.select();
    return true;
  }

  escape() {
    this.editor.modes.leave(this);
    return true;
  }

  holds() {
    return Boolean(this.layer) && this.editor.selected.has(this.options.layer);
  }

  leave() {
    const { editor, area } = this;
    clearTimeout(this.resting);
    document.removeEventListener("selectionchange", this.chosen);
    this.deafen();
    const edit = this.layer && this.isChanged && this.edit();
    this.area = null;
    this.bar.remove();
    area.remove();
    editor.writing = "";
    editor.letters = null;
    if (edit) editor.commit(edit);
    else editor.withdraw();
    editor.tell("stretch");
  }

  svg() {
    if (!this.letters || !this.area) return "";
    const [first, last] = this.stretch;
    const chosen = this.letters
      .quads(first, last)
      .map((quad) => el("polygon", { points: pointList(quad.map((p) => this.overlay.point(p))) }));
    const caret = this.letters.caret(this.moving);
    const marked = `<g class="chosen-letters">${chosen.join("")}</g>`;
    if (!caret) return marked;
    const [[x1, y1], [x2, y2]] = caret.map((p) => this.overlay.point(p));
    const blinks = first === last ? " blinks" : "";
    return `${marked}${el("line", { class: `text-caret${blinks}`, x1, y1, x2, y2 })}`;
  }
}

function ownOf(layer, prefix) {
  return Object.fromEntries(
    Object.entries(layer.properties)
      .filter(([name]) => name.startsWith(prefix))
      .map(([name, property]) => [name.slice(prefix.length), property]),
  );
}
