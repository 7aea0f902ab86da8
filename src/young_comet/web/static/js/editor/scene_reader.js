// What the page knows of the open scene: layers, declarations of properties, values, frames.
import { map, solve } from "./points.js";

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

  /** The declaration of a layer's property: of its kind, or of a part, mask or effect. */
  spec(layer, property) {
    const own = this.kinds[layer.kind].byId[property];
    if (own) return own;
    const [family, id] = property.split(".");
    if (family === "effect") {
      const effect = layer.effects.find((each) => each.id === id);
      return effect && this.memberSpecs("effect", id, this.effects[effect.kind]?.specs || []).byId[property];
    }
    if (family === "move") {
      const move = layer.moves.find((each) => each.id === id);
      return move && this.memberSpecs("move", id, this.moveSpecs(move)).byId[property];
    }
    if (family === "slot") return this.slotSpec(layer, id);
    if (family === "mask") return this.memberSpecs("mask", id, this.catalog.mask_specs).byId[property];
    if (family === "part") return this.memberSpecs("part", id, this.catalog.part_specs).byId[property];
    return undefined;
  }

  moveSpecs(move) {
    return move.kind.startsWith("own:") ? this.catalog.own_move_specs : this.moves[move.kind]?.specs || [];
  }

  /** What a move is called in a phase: what leaves is named by what is seen then. */
  moveName(kind, phase = "arrive") {
    const known = this.moves[kind];
    if (!kind.startsWith("own:")) return (phase === "leave" && known?.leaving?.[0]) || known?.label || kind;
    return this.project.saved_moves.find((each) => each.id === kind.slice(4))?.name || "lost move";
  }

  /** Declarations with the ids that they have on a layer. */
  memberSpecs(family, id, specs) {
    const name = `${family}.${id}.`;
    let found = this.members.get(name);
    if (!found || found.from !== specs) {
      const rename = (spec) => ({
        ...spec,
        id: name + spec.id,
        shown_when: spec.shown_when && [name + spec.shown_when[0], spec.shown_when[1]],
        parts: spec.parts && spec.parts.map(rename),
      });
      const list = specs.map(rename);
      const all = list.flatMap((spec) => [spec, ...(spec.parts || [])]);
      found = { from: specs, list, byId: Object.fromEntries(all.map((spec) => [spec.id, spec])) };
      this.members.set(name, found);
    }
    return found;
  }

  /** The declaration of a slot that is a property of the layer that fills it. */
  slotSpec(layer, id) {
    const source = layer.slot_specs?.[id];
    if (!source) return undefined;
    const [family, kind, ...rest] = source.split("/");
    const name = rest.join("/");
    const specs = { effect: this.effects[kind]?.specs, move: this.moves[kind]?.specs, mask: this.catalog.mask_specs, part: this.catalog.part_specs, layer: this.kinds[kind]?.specs }[family] || [];
    const known = family === "ink" ? { kind: "colour", default: "#ff7a45", label: "Ink", animatable: true } : specs.flatMap((spec) => [spec, ...(spec.parts || [])]).find((spec) => spec.id === name);
    if (!known) return undefined;
    const slot = this.project.scenes.find((scene) => scene.id === this.value(layer, "scene.id"))?.slots.find((each) => each.id === id);
    const hint = ["lines", "dial", "linked"].includes(known.hint) ? known.hint : "";
    return { ...known, id: `slot.${id}`, label: slot?.name || known.label, section: "Slots", shown_when: null, parts: null, hint };
  }

  /** Declarations of a mask, effect or part, split points as their parts. */
  specsOfMember(layer, family, member) {
    const source = { effect: this.effects[member.kind]?.specs || [], move: family === "move" ? this.moveSpecs(member) : [], mask: this.catalog.mask_specs, part: this.catalog.part_specs }[family];
    let { list } = this.memberSpecs(family, member.id, source);
    if (member.form === "half-plane") list = list.filter((spec) => !/\.(path|scale)$/.test(spec.id));
    return list.flatMap((spec) => (spec.parts && this.isSplit(layer, spec.id) ? spec.parts : [spec]));
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

  /** A shift on the stage as one of a layer's position. */
  shiftOf(layerId, by) {
    const carried = this.view[layerId]?.carried;
    if (!carried || Math.abs(carried[0] * carried[3] - carried[1] * carried[2]) < 1e-9) return by;
    return solve(carried, by);
  }

  /** Motion paths as they lie on the stage now. */
  get ways() {
    const moved = (id, point) => point && this.toScene(id, point);
    return Object.fromEntries(Object.entries(this.paths).map(([id, way]) => {
      if (!this.view[id]?.carried) return [id, way];
      const keys = way.keys.map((key) => ({ ...key, point: moved(id, key.point), into: moved(id, key.into), out: moved(id, key.out) }));
      return [id, { ...way, keys, points: way.points.map((point) => moved(id, point)) }];
    }));
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
    const slots = Object.keys(layer.slot_specs || {}).map((id) => this.slotSpec(layer, id)).filter(Boolean);
    return [...slots, ...this.kinds[layer.kind].specs.flatMap((spec) => (spec.parts && this.isSplit(layer, spec.id) ? spec.parts : [spec]))];
  }

  isKeyed(layer, property) {
    if (layer.properties[property]?.keys.length) return true;
    return [`${property}.x`, `${property}.y`].some((part) => layer.properties[part]?.keys.length);
  }

  /** Scene times (s) of all keys of a layer. */
  keyTimes(layer) {
    return Object.values(layer.properties).flatMap((property) => property.keys.map((key) => layer.start_s + key.time_s));
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
    if (own === undefined && this.isSplit(layer, property) && computed !== undefined) return computed;
    if (computed !== undefined && (own === undefined || own.keys.length || own.expression)) return computed;
    if (own && !own.keys.length) return own.value;
    if (property === "position") return [this.scene.width / 2, this.scene.height / 2];
    if (property === "position.x") return this.scene.width / 2;
    if (property === "position.y") return this.scene.height / 2;
    return this.spec(layer, property).default;
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
