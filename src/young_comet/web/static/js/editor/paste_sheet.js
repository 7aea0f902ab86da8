// Which sides of the copied layer are pasted onto the selected ones.
import { Alpine } from "../common.js";
import { remembered } from "../formats.js";
import { heldLayer, pasteParts } from "./actions/layer_clipboard.js";

const SIDES = [
  ["place", "Place", "where it is, turned, scaled, skewed, with its keys"],
  ["looks", "Looks", "fill, stroke, opacity, blending, masks, effects"],
  ["moves", "Moves", "how it arrives, dwells and leaves"],
  ["timing", "Times", "when it is on, and how fast it plays"],
  ["type", "Type", "typeface, weight, size, tracking, leading"],
];

export function registerPasteSheet(editor) {
  Alpine.data("pasteWhat", () => ({
    name: "",
    onto: "",
    sides: [],
    none: true,
    open() {
      const layer = heldLayer();
      if (!layer) return;
      this.name = layer.name;
      const layers = editor.selectedLayers.filter((each) => !each.locked);
      const who = layers.length === 1 ? layers[0].name : `${layers.length} layers`;
      this.onto = `Onto ${who}, in place of what is there.`;
      const chosen = new Set(remembered("paste-sides", ["looks"]));
      this.sides = SIDES.map(([id, label, help]) => ({ id, label, help: `  ${help}`, on: chosen.has(id) }));
      this.count();
      this.$root.showModal();
    },
    choose(side, event) {
      side.on = event.target.checked;
      this.count();
    },
    count() {
      this.none = !this.sides.some((side) => side.on);
    },
    close() {
      this.$root.close();
    },
    async paste() {
      const sides = this.sides.filter((side) => side.on).map((side) => side.id);
      if (!sides.length) return;
      localStorage.setItem("paste-sides", JSON.stringify(sides));
      this.$root.close();
      await pasteParts(editor, sides);
    },
  }));
}
