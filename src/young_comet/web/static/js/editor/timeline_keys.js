// The timeline by keys alone: Up and Down go through its rows, Right opens a layer and goes into its lanes,
// Left back out; in a lane Left and Right go from key to key. What is reached is said to screen readers.
import { describeKey, describeLayer } from "./described.js";

export class TimelineKeys {
  constructor(editor, timeline) {
    Object.assign(this, { editor, timeline });
    this.row = ""; // the row that was reached, as the timeline calls it
    this.live = document.getElementById("announce");
    const { rows } = timeline;
    rows.addEventListener("keydown", (event) => this.press(event));
    rows.addEventListener("focus", () => this.enter());
    // Who clicks a row goes on with the keys of the scene: Left and Right are frames, Home its start.
    this.byKeys = false;
    rows.addEventListener("pointerdown", () => (this.byKeys = false));
    editor.on("selection", () => this.follow());
  }

  /** The focus came by the Tab key: the row of what is selected, else the first. */
  enter() {
    this.byKeys = this.timeline.rows.matches(":focus-visible");
    if (!this.byKeys) return; // what is clicked is where it is
    const lines = this.timeline.lines();
    if (!lines.some((line) => line.id === this.row)) this.row = this.selectedRow() || lines[0]?.id || "";
    this.show();
  }

  selectedRow() {
    return [...this.editor.selected][0] || "";
  }

  /** What is selected elsewhere is where the keys go on. */
  follow() {
    const [layer] = this.editor.selected;
    if (layer && this.row.split("|")[0] !== layer) this.row = layer;
    this.mark();
  }

  press(event) {
    if (event.altKey || event.ctrlKey || event.metaKey || event.target !== this.timeline.rows) return;
    const inside = {
      ArrowRight: () => this.inward(),
      ArrowLeft: () => this.outward(),
      Home: () => this.to(0),
      End: () => this.to(-1),
    };
    const deeds = { ArrowUp: () => this.step(-1), ArrowDown: () => this.step(1), ...(this.byKeys && inside) };
    const deed = deeds[event.key];
    if (!deed || event.shiftKey) return;
    event.preventDefault();
    event.stopPropagation();
    deed();
  }

  step(by) {
    const lines = this.timeline.lines();
    const at = lines.findIndex((line) => line.id === this.row);
    if (lines.length) this.go(lines[Math.max(0, Math.min(lines.length - 1, at < 0 ? 0 : at + by))].id);
  }

  to(index) {
    const line = this.timeline.lines().at(index);
    if (line) this.go(line.id);
  }

  go(row) {
    const { editor } = this;
    this.row = row;
    const [id, property] = row.split("|");
    if (property) this.chooseKey(id, property, 0);
    else if (row.startsWith("group ")) {
      const group = row.slice(6);
      editor.select(editor.layers.filter((layer) => layer.group === group).map((layer) => layer.id));
    } else editor.select([id]);
    this.show();
  }

  /** A layer opens; in a lane the next key is chosen. */
  inward() {
    const [id, property] = this.row.split("|");
    if (property) this.chooseKey(id, property, 1);
    else if (this.row.startsWith("group ")) this.fold(this.row.slice(6), false);
    else if (!this.editor.openLayers.has(id)) this.timeline.pointing.open(id);
    else this.step(1);
    this.show();
  }

  /** Back to the key before, from the first one to the layer; a layer closes. */
  outward() {
    const { editor } = this;
    const [id, property] = this.row.split("|");
    if (property) {
      if (this.keyAt(id, property) > 0) this.chooseKey(id, property, -1);
      else this.go(id);
    } else if (this.row.startsWith("group ")) this.fold(this.row.slice(6), true);
    else if (editor.openLayers.has(id)) this.timeline.pointing.open(id);
    this.show();
  }

  fold(group, shut) {
    const { folded } = this.timeline;
    if (shut) folded.add(group);
    else folded.delete(group);
    this.timeline.draw();
  }

  keyAt(id, property) {
    const keys = this.editor.layer(id)?.properties[property]?.keys || [];
    return keys.findIndex((key) => this.editor.keys.has(`${id}|${property}|${key.id}`));
  }

  /** The key so many after the chosen one of a lane; 0: that one, or the first. */
  chooseKey(id, property, by) {
    const { editor } = this;
    const keys = editor.layer(id)?.properties[property]?.keys || [];
    if (!keys.length) {
      editor.select([id]);
      return;
    }
    const at = this.keyAt(id, property);
    const next = at < 0 ? 0 : Math.max(0, Math.min(keys.length - 1, at + by));
    editor.selectKeys([{ layer: id, property, key: keys[next].id }]);
  }

  /** Scrolls to the row that was reached, marks it, and says it. */
  show() {
    const { timeline } = this;
    let top = 0;
    for (const line of timeline.lines()) {
      if (line.id === this.row) {
        const { scrollTop, clientHeight } = timeline.rows;
        if (top < scrollTop) timeline.rows.scrollTop = top;
        else if (top + line.height > scrollTop + clientHeight) {
          timeline.rows.scrollTop = top + line.height - clientHeight;
        }
        break;
      }
      top += line.height;
    }
    timeline.schedule();
    this.mark();
    this.live.textContent = this.said();
  }

  mark() {
    const { rows, drawn } = this.timeline;
    for (const [id, { element }] of drawn) {
      const here = id === this.row;
      element.classList.toggle("reached", here);
      if (here) element.id = "reached-row";
      else if (element.id) element.removeAttribute("id");
    }
    rows.setAttribute("aria-activedescendant", drawn.has(this.row) ? "reached-row" : "");
  }

  said() {
    const { editor } = this;
    const [id, property] = this.row.split("|");
    if (this.row.startsWith("group ")) {
      const group = editor.scene.groups.find((each) => each.id === this.row.slice(6));
      return `Group ${group?.name || ""}, ${this.timeline.folded.has(group?.id) ? "folded" : "open"}`;
    }
    const layer = editor.layer(id);
    if (!layer) return "";
    const { name, more } = property
      ? describeKey(editor, id, property, this.keyAt(id, property))
      : describeLayer(editor, layer);
    const open = !property && editor.openLayers.has(id) ? ", open" : "";
    return `${name}, ${more}${open}`;
  }
}
