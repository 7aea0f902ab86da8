// What a layer rides on: chosen from a list, or by a click on the stage or in the stack.
import { Alpine } from "../common.js";
import { soon } from "../formats.js";
import { rideOn } from "./actions/riding.js";

export function registerLinksPanel(editor) {
  let everyKey = false;

  Alpine.data("linksPanel", () => ({
    shown: false,
    rides: "",
    ridesName: "nothing",
    options: [],
    keyed: false,
    everyKey,
    riders: [],
    count: 0,
    original: "",
    ownText: "",
    hasOwn: false,

    init() {
      editor.on(
        "selection document",
        soon(() => this.update()),
      );
      if (editor.project) this.update();
    },
    update() {
      if (!editor.kinds || !editor.scene) return;
      const layers = editor.selectedLayers.filter((layer) => editor.kinds[layer.kind].placed);
      this.shown = layers.length > 0;
      this.count = layers.length;
      if (!this.shown) return;
      const on = new Set(layers.map((layer) => layer.rides || ""));
      this.rides = on.size === 1 ? [...on][0] : "mixed";
      const list = rideable(editor, layers).map((layer) => ({ value: layer.id, label: layer.name }));
      const mixed = this.rides === "mixed" ? [{ value: "mixed", label: "different layers" }] : [];
      this.options = [...mixed, { value: "", label: "nothing" }, ...list].map((each) => ({
        ...each,
        chosen: each.value === this.rides,
      }));
      this.keyed = layers.some((layer) =>
        ["position", "rotation", "scale", "skew"].some((id) => editor.isKeyed(layer, id)),
      );
      const own = new Set(layers.map((layer) => layer.id));
      const linked = layers.filter((layer) => layer.copy_of);
      const [first] = linked;
      this.original = first ? editor.layer(first.copy_of)?.name || "" : "";
      const labels = first ? first.own.map((name) => editor.spec(first, name)?.label || name) : [];
      this.ownText = labels.length
        ? `Its own: ${[...new Set(labels)].join(", ")}`
        : "Everything is shared with it";
      this.hasOwn = linked.some((layer) => layer.own.length);
      this.riders = editor.layers
        .filter((layer) => own.has(layer.rides))
        .map(({ id, name }) => ({ id, name }))
        .reverse();
    },
    choose(event) {
      if (event.target.value !== "mixed") this.ride(event.target.value || null);
    },
    pick() {
      editor.commands.runById("ride");
    },
    ride(on) {
      rideOn(editor, on, this.everyKey);
    },
    switchKeys(event) {
      this.everyKey = everyKey = event.target.checked;
    },
    show(rider) {
      editor.select([rider.id]);
    },
    showOriginal() {
      editor.select([editor.selectedLayers.find((layer) => layer.copy_of).copy_of]);
    },
    share(apart) {
      const layers = editor.selectedLayers.filter((layer) => layer.copy_of).map((layer) => layer.id);
      editor.edit({ kind: "share-again", scene: editor.sceneId, layers, apart });
    },
    shareAll() {
      this.share(false);
    },
    unlink() {
      this.share(true);
    },
    together() {
      editor.commands.runById("carry");
    },
  }));
}

/** Layers that others can ride on: all with a place, but for themselves and what rides on them. */
function rideable(editor, layers) {
  const below = new Set(layers.map((layer) => layer.id));
  for (let grown = true; grown;) {
    grown = false;
    for (const layer of editor.layers) {
      if (!below.has(layer.id) && below.has(layer.rides)) {
        below.add(layer.id);
        grown = true;
      }
    }
  }
  return editor.layers.filter((layer) => editor.kinds[layer.kind].placed && !below.has(layer.id)).reverse();
}
