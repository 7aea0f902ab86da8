// Texts set and written on the stage.
import { round } from "../points.js";
import { MakingMode, Mode } from "./mode.js";

/** A click sets a text, which is then written. */
export class TypeMode extends MakingMode {
  get hint() {
    return "Click where the text is to stand.";
  }

  press(at) {
    const place = () => this.placeText(at);
    return { edits: () => [], end: place, click: place };
  }

  async placeText(at) {
    const { editor } = this;
    const layer = editor.addText(at.map(round));
    editor.enter("select");
    if (await editor.addLayer(layer)) editor.enter("write", { layer: layer.id, fits: true });
  }
}

/** A text's own words in a box right below it. Options: `layer`, as an id; `fits` keeps it in the frame. */
export class WriteMode extends Mode {
  static visits = true;

  enter() {
    const { editor } = this;
    const layer = editor.layer(this.options.layer);
    const area = document.createElement("textarea");
    area.className = "editing-text";
    area.setAttribute("aria-label", "Text");
    area.value = editor.value(layer, "text");
    area.rows = Math.max(2, area.value.split("\n").length);
    this.area = area;
    this.lay();
    this.follow = () => this.lay();
    editor.on("view", this.follow);
    area.addEventListener("input", () => editor.preview([this.edit()]));
    area.addEventListener("blur", () => editor.modes.leave(this));
    area.addEventListener("keydown", (event) => {
      event.stopPropagation();
      const ends = event.key === "Enter" && (event.ctrlKey || event.metaKey);
      if (event.key === "Escape" || ends) editor.modes.leave(this);
    });
    this.stage.element.append(area);
    area.focus();
    area.select();
  }

  /** Below the text, within the stage, wherever the text goes. */
  lay() {
    const layer = this.editor.layer(this.options.layer);
    if (!layer || !this.area) return;
    const place = this.editor.value(layer, "position");
    const corners = this.editor.view[layer.id]?.corners || [place];
    const left = Math.min(...corners.map((p) => p[0]));
    const foot = Math.max(...corners.map((p) => p[1]));
    const [x, y] = this.stage.toScreen([left, foot]);
    const box = this.stage.element.getBoundingClientRect();
    this.area.style.left = `${Math.max(60, Math.min(box.width - 240, x))}px`;
    this.area.style.top = `${Math.max(8, Math.min(box.height - 80, y + 8))}px`;
  }

  edit() {
    const { layer, fits } = this.options;
    return this.editor.textEdit([this.editor.layer(layer)], this.area.value, fits);
  }

  leave(kept) {
    const { editor, area } = this;
    const layer = editor.layer(this.options.layer);
    const changed = layer && area.value !== editor.value(layer, "text");
    const edit = kept && changed && this.edit();
    this.area = null;
    area.remove();
    if (edit) editor.commit(edit);
    else editor.withdraw();
  }

  holds() {
    return Boolean(this.editor.layer(this.options.layer));
  }

  press(at, event) {
    this.editor.modes.leave(this);
    return this.editor.modes.current.press(at, event);
  }
}
