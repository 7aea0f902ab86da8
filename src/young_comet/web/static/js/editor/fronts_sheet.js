// The sheet of ready fronts, each as it goes over two words.
import { api } from "../api.js";
import { Alpine } from "../common.js";
import { newId } from "../formats.js";
import { playStrips } from "./strips.js";

export function registerFrontsSheet(editor) {
  Alpine.data("frontsSheet", () => ({
    query: "",
    on: "time",
    fronts: [],

    init() {
      editor.on("open-fronts", () => this.open());
      playStrips(this.$root, (strip) => api.frontSample(strip.dataset.strip));
    },
    open() {
      this.query = "";
      this.filter();
      this.$root.showModal();
      this.$root.querySelector("input").focus();
    },
    filter() {
      const words = this.query.toLowerCase().split(/\s+/).filter(Boolean);
      this.fronts = editor.catalog.fronts.filter(({ label, help }) =>
        words.every((word) => `${label} ${help}`.toLowerCase().includes(word)),
      );
    },
    first() {
      if (this.fronts.length) this.add(this.fronts[0]);
    },
    async add(ready) {
      this.$root.close();
      const { scene, sceneId } = editor;
      const layers = editor.selectedLayers.filter((layer) => !layer.locked).map((layer) => layer.id);
      if (!layers.length) return;
      const id = newId();
      editor.tell("front-added", id);
      const edit = { kind: "wear-front", scene: sceneId, layers, id, ready: ready.id, on: this.on };
      if (!(await editor.edit(edit))) return;
      const layer = editor.layer(layers[0]);
      const keys = layer.properties[`front.${id}.progress`].keys;
      const to = Math.min(scene.length_s, layer.start_s + keys.at(-1).time_s + 0.5);
      if (!editor.isPlaying()) editor.player.playSpan(editor.frameAt(layer.start_s), editor.frameAt(to));
    },
    close() {
      this.$root.close();
    },
  }));
}
