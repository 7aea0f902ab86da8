// The bar at the letters that are written: what a stretch of them wears.
import { openPicker } from "./picker.js";

const ICON = (name) =>
  `<svg class="icon" aria-hidden="true"><use href="/static/vendor/icons.svg#${name}"></use></svg>`;

// The tools lie to the left of this.
const TOOLS_PX = 96;

/** Below the chosen letters of a text; `mode` is the one that writes it. */
export class LettersBar {
  constructor(mode) {
    this.mode = mode;
    const bar = document.createElement("div");
    bar.className = "letters-bar";
    bar.setAttribute("role", "toolbar");
    bar.setAttribute("aria-label", "Chosen letters");
    bar.hidden = true;
    this.element = bar;
    this.fields = {
      font: this.faces(),
      bold: this.button("Bold (Ctrl+B)", "<b>B</b>", () => mode.bold()),
      slanted: this.button("Slanted (Ctrl+I)", "<i>I</i>", () => mode.lean()),
      weight: this.slider("Weight", "weight", 100, 1000, 10),
      slant: this.slider("Slant", "slant", -30, 30, 1),
      colour: this.button("Colour of these letters", "<span></span>", (event) => this.pick(event), "swatch"),
      size: this.size(),
      plain: this.button("As the whole text again", ICON("reset"), () => this.plain()),
    };
    mode.stage.element.append(bar);
  }

  put(element) {
    this.element.append(element);
    return element;
  }

  button(title, inner, deed, cls = "quiet") {
    const button = document.createElement("button");
    button.className = cls;
    button.innerHTML = inner;
    button.title = title;
    button.setAttribute("aria-label", title);
    // The field keeps the focus, and with it the letters that are chosen.
    button.addEventListener("pointerdown", (event) => event.preventDefault());
    button.addEventListener("click", deed);
    return this.put(button);
  }

  faces() {
    const { mode } = this;
    const select = document.createElement("select");
    select.className = "chip";
    select.title = "The typeface of these letters";
    select.setAttribute("aria-label", "Typeface of these letters");
    const uploaded = mode.editor.project.assets.filter((asset) => asset.kind === "font");
    const all = [
      ...mode.editor.catalog.fonts.map(({ id, name }) => [id, name]),
      ...uploaded.map(({ id, name, family }) => [`asset:${id}`, family || name]),
    ];
    for (const [value, text] of all) {
      select.append(Object.assign(document.createElement("option"), { value, text }));
    }
    select.addEventListener("change", () => mode.style({ font: select.value }));
    return this.put(select);
  }

  slider(label, name, min, max, step) {
    const holder = document.createElement("label");
    holder.textContent = label;
    const input = document.createElement("input");
    Object.assign(input, { type: "range", min, max, step });
    input.setAttribute("aria-label", `${label} of these letters`);
    const set = () => ({ [name]: Number(input.value) });
    input.addEventListener("input", () => this.mode.style(set(), { shown: true }));
    input.addEventListener("change", () => this.mode.style(set()));
    holder.append(input);
    this.put(holder);
    return input;
  }

  size() {
    const input = document.createElement("input");
    Object.assign(input, { type: "text", inputMode: "decimal", className: "field mono" });
    input.title = "Size of these letters, in px";
    input.setAttribute("aria-label", input.title);
    input.addEventListener("change", () => {
      const value = Number(input.value);
      if (value > 0) this.mode.style({ size: value });
      this.update();
    });
    input.addEventListener("keydown", (event) => {
      if (event.key !== "Enter") return;
      // It ends the number, and is no line break in the text that has the focus then.
      event.preventDefault();
      this.mode.area.focus();
    });
    return this.put(input);
  }

  pick(event) {
    const { mode } = this;
    openPicker(event.currentTarget, mode.worn("fill.colour"), (colour, done) =>
      mode.style({ "fill.kind": "flat", "fill.colour": colour }, { shown: !done }),
    );
  }

  /** Takes back all that makes these letters different. */
  plain() {
    const { run, layer } = this.mode;
    const prefix = run && `run.${run.id}.`;
    const names = Object.keys(layer.properties).filter((name) => prefix && name.startsWith(prefix));
    if (names.length) {
      this.mode.style(Object.fromEntries(names.map((name) => [name.slice(prefix.length), null])));
    }
  }

  /** Whether these letters are slanted, or of an italic. */
  get leans() {
    const { mode } = this;
    return mode.worn("slant") !== 0 || mode.editor.typefaces.isItalic(mode.worn("font"));
  }

  focus() {
    this.fields.font.focus();
  }

  update() {
    const { mode, element, fields } = this;
    const { letters, layer } = mode;
    const [first, last] = mode.stretch;
    element.hidden = !letters || !layer || first === last;
    if (element.hidden) return;
    const active = document.activeElement;
    const set = (field, value) => active !== field && (field.value = value);
    set(fields.font, mode.worn("font"));
    set(fields.weight, mode.worn("weight"));
    set(fields.slant, mode.worn("slant"));
    set(fields.size, String(Math.round(mode.worn("size") * 10) / 10));
    fields.bold.setAttribute("aria-pressed", String(mode.worn("weight") >= 700));
    fields.slanted.setAttribute("aria-pressed", String(this.leans));
    fields.plain.disabled = !mode.run;
    fields.colour.firstChild.style.background = mode.editor.colourOf(mode.worn("fill.colour"));
    this.lay(letters.quads(first, last));
  }

  /** Below what is chosen; above it where there is no room. */
  lay(quads) {
    if (!quads.length) return;
    const { element, mode } = this;
    const points = quads.flat().map((p) => mode.stage.toScreen(p));
    const [left, top] = [0, 1].map((axis) => Math.min(...points.map((p) => p[axis])));
    const foot = Math.max(...points.map((p) => p[1]));
    const room = mode.stage.element.getBoundingClientRect();
    const { offsetWidth: width, offsetHeight: height } = element;
    const x = Math.max(TOOLS_PX, Math.min(room.width - width - 8, left));
    const below = foot + 12;
    const y = below + height > room.height - 8 ? Math.max(8, top - height - 12) : below;
    element.style.left = `${x}px`;
    element.style.top = `${y}px`;
  }

  remove() {
    this.element.remove();
  }
}
