// What cannot be drawn at the playhead: which layer, which effect, why.
import { Alpine } from "../common.js";
import { sentence } from "../notes.js";

export function registerFaults(editor) {
  Alpine.data("faultsNote", () => ({
    count: 0,
    open: false,
    title: "",
    faults: [],
    shown: "[]",
    init() {
      editor.on("faults", (faults) => this.show(faults));
    },
    show(faults) {
      const wanted = JSON.stringify(faults);
      if (wanted === this.shown) return;
      this.shown = wanted;
      this.count = faults.length;
      if (!this.count) this.open = false;
      this.title = this.count === 1 ? "1 thing cannot be drawn" : `${this.count} things cannot be drawn`;
      this.faults = faults.map((fault, index) => ({
        ...fault,
        key: index,
        what: this.words(fault),
        why: sentence(fault.why),
      }));
    },
    words(fault) {
      const name = editor.layer(fault.layer)?.name || "A layer";
      const within = fault.inner ? `${this.innerName(fault.inner)}, within ${name}` : name;
      return fault.part ? `${within}: ${fault.part}` : within;
    },
    innerName(id) {
      return (
        editor.project.scenes.flatMap((scene) => scene.layers).find((layer) => layer.id === id)?.name ||
        "A layer"
      );
    },
    toggle() {
      this.open = !this.open;
    },
    choose(fault) {
      if (editor.layer(fault.layer)) editor.select([fault.layer]);
      this.open = false;
    },
  }));
}
