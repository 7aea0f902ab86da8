// What the page knows of the open scene: layers, declarations of properties, values, frames.
import { defaultOf } from "./declarations.js";
import { map } from "./points.js";

export class SceneReader extends EventTarget {
  // The document

  get scene() {
    return this.project.scenes.find((scene) => scene.id === this.sceneId);
  }

  /** Layers from below up. */
  get layers() {
    return this.scene.layers;
  }

  layer(id) {
    return this.layers.find((layer) => layer.id === id);
  }

  get selectedLayers() {
    return this.layers.filter((layer) => this.selected.has(layer.id));
  }

  /** The declaration of a layer's property. */
  spec(layer, property) {
    const found = this.declared.of(layer, property);
    if (!found || !property.startsWith("slot.")) return found;
    const slot = this.project.scenes
      .find((scene) => scene.id === this.value(layer, "scene.id"))
      ?.slots.find((each) => each.id === property.slice(5));
    const label = slot?.name || found.label;
    return { ...found, label, name: label };
  }

  /** What a move is called in a phase: what leaves is named by what is seen then. */
  moveName(kind, phase = "arrive") {
    const known = this.moves[kind];
    if (!kind.startsWith("own:")) return (phase === "leave" && known?.leaving?.[0]) || known?.label || kind;
    return this.project.saved_moves.find((each) => each.id === kind.slice(4))?.name || "lost move";
  }

  /** Declarations of a member of a layer, split points as their parts. */
  specsOfMember(layer, family, member) {
    return this.asSplit(layer, this.declared.member(family, member).list);
  }

  asSplit(layer, specs) {
    return specs.flatMap((spec) => (spec.parts && this.isSplit(layer, spec.id) ? spec.parts : [spec]));
  }

  /** Layers without those that ride on another of them: they are carried along. */
  withoutRiders(layers) {
    const chosen = new Set(layers.map((layer) => layer.id));
    return layers.filter((layer) => {
      const seen = new Set();
      for (let below = layer.rides; below && !seen.has(below); below = this.layer(below)?.rides) {
        if (chosen.has(below)) return false;
        seen.add(below);
      }
      return true;
    });
  }

  // Where a layer's position counts: in the scene, or in the space of what it rides on

  toScene(layerId, point) {
    const carried = this.view[layerId]?.carried;
    return carried ? map(carried, point) : point;
  }

  /** Motion paths as they lie on the stage now. */
  get ways() {
    const moved = (id, point) => point && this.toScene(id, point);
    return Object.fromEntries(
      Object.entries(this.paths).map(([id, way]) => {
        if (!this.view[id]?.carried) return [id, way];
        const keys = way.keys.map((key) => ({
          ...key,
          point: moved(id, key.point),
          into: moved(id, key.into),
          out: moved(id, key.out),
        }));
        return [id, { ...way, keys, points: way.points.map((point) => moved(id, point)) }];
      }),
    );
  }

  property(layer, property) {
    return layer.properties[property];
  }

  /** Whether a point of the layer is taken apart into x and y. */
  isSplit(layer, property) {
    return `${property}.x` in layer.properties || `${property}.y` in layer.properties;
  }

  /** The declarations of a layer in the order of its fields, split points as their parts. */
  specsOf(layer) {
    return this.asSplit(layer, this.declared.fields(layer)).map((spec) =>
      spec.section === "Slots" ? this.spec(layer, spec.id) : spec,
    );
  }

  isKeyed(layer, property) {
    if (layer.properties[property]?.keys.length) return true;
    return [`${property}.x`, `${property}.y`].some((part) => layer.properties[part]?.keys.length);
  }

  /** Scene times (s) of all keys of a layer. */
  keyTimes(layer) {
    return Object.values(layer.properties).flatMap((property) =>
      property.keys.map((key) => layer.start_s + key.time_s),
    );
  }

  keyOf(entry) {
    return this.layer(entry.layer)?.properties[entry.property]?.keys.find((key) => key.id === entry.key);
  }

  keyTime(entry) {
    return this.layer(entry.layer).start_s + this.keyOf(entry).time_s;
  }

  /** Chosen keys, in the order of their times. */
  get chosenKeys() {
    const timed = [];
    for (const entry of this.keys.values()) {
      const key = this.keyOf(entry);
      if (key) timed.push([this.layer(entry.layer).start_s + key.time_s, entry]);
    }
    return timed.sort((a, b) => a[0] - b[0]).map(([, entry]) => entry);
  }

  easingText(easing) {
    if (!easing.startsWith("easing:")) return easing;
    return this.project.easings.find((each) => each.id === easing.slice(7))?.easing ?? "linear";
  }

  /** The value at the playhead in its JSON form; animated ones come from the server. */
  value(layer, property) {
    const computed = this.view[layer.id]?.values?.[property];
    const own = layer.properties[property];
    const said = this.arranging.says(layer, property);
    if (said !== undefined && !own?.keys.length && !own?.expression) return said;
    if (own === undefined && this.isSplit(layer, property) && computed !== undefined) return computed;
    if (computed !== undefined && (own === undefined || own.keys.length || own.expression)) return computed;
    if (computed !== undefined && this.arranging.between) return computed;
    if (own && !own.keys.length) return own.value;
    const spec = this.declared.of(layer, property);
    return spec.follows ? this.value(layer, spec.follows) : defaultOf(spec, this.scene);
  }

  colourOf(text) {
    if (typeof text === "string" && text.startsWith("ink:")) {
      const ink = this.project.inks.find((each) => each.id === text.slice(4));
      return ink ? ink.colour : "#ff00ff";
    }
    return text;
  }

  // Time

  get rate() {
    return this.scene.rate;
  }

  timeOf(frame) {
    return (frame * this.rate.den) / this.rate.num;
  }

  frameAt(time) {
    return Math.round((time * this.rate.num) / this.rate.den);
  }

  get frameCount() {
    // As the core counts: frames whose start lies inside the length, the same steps in the same order.
    return Math.max(1, Math.ceil(((this.scene.length_s - 1e-6) * this.rate.num) / this.rate.den));
  }

  get time() {
    return this.timeOf(this.frame);
  }
}
