// Working in arrangements: which one is worked in, what the server tells of them, and edits that change
// what one of them says.
import { newId } from "../formats.js";
import { note } from "../notes.js";

export class Arranging {
  constructor(editor) {
    this.editor = editor;
    this.told = null; // as the stage's answer tells: row, here, layers
    this.all = false; // whether what is done is done in all of them
    this.stepOf = ""; // the arrangement whose step was chosen, as an id
  }

  hear(told) {
    const before = JSON.stringify(this.told);
    this.told = told || null;
    if (JSON.stringify(this.told) !== before) this.editor.tell("arrangements");
  }

  /** The arrangements of the scene, in their order. */
  get list() {
    return this.editor.scene?.arrangements || [];
  }

  get on() {
    return this.list.length > 0;
  }

  /** When the arrangement of an id holds: { begin_s, end_s, beyond }; undefined where it is not told yet. */
  hold(id) {
    return this.told?.row.find((each) => each.id === id);
  }

  /** The one that holds at the playhead, or is the nearer in time. */
  get here() {
    const { time } = this.editor;
    let nearest = null;
    let least = Infinity;
    for (const each of this.list) {
      const hold = this.hold(each.id);
      const away = hold ? Math.max(hold.begin_s - time, time - hold.end_s, 0) : Infinity;
      if (away < least) [nearest, least] = [each, away];
    }
    return nearest;
  }

  /** Whether the playhead is on the way from one to the next. */
  get between() {
    if (!this.on) return false;
    const hold = this.hold(this.here?.id);
    const { time } = this.editor;
    return !hold || time < hold.begin_s - 1e-6 || time > hold.end_s + 1e-6;
  }

  /** What the arrangement at the playhead says of a property; undefined where it says nothing, or is not
   *  reached yet. */
  says(layer, property) {
    if (!this.on || this.between) return undefined;
    return this.here.stands.find((each) => each.layer === layer.id)?.values[property];
  }

  /** A layer with what the arrangement at the playhead says of it as its own. */
  asSeen(layer) {
    const values = this.here?.stands.find((each) => each.layer === layer.id)?.values;
    if (!values) return layer;
    const properties = { ...layer.properties };
    for (const [name, value] of Object.entries(values)) {
      if (!properties[name]?.keys.length) properties[name] = { keys: [], ...properties[name], value };
    }
    return { ...layer, properties };
  }

  /** What is told of a layer: { there, seen, said, keyed, added, away }. */
  of(layerId) {
    return this.told?.layers[layerId];
  }

  /** Whether arrangements say different things of a property. */
  differs(layer, property) {
    const said = this.of(layer.id)?.said || [];
    return said.includes(property) || said.includes(`${property}.x`) || said.includes(`${property}.y`);
  }

  /** An edit as it is done in the arrangement that is worked in. */
  wrap(edit) {
    const { sceneId, time } = this.editor;
    const ours = edit.scene === sceneId || edit.kind === "together";
    if (!this.on || !ours || edit.kind === "in-arrangement") return edit;
    const arrangement = this.all ? null : this.here?.id || null;
    return { kind: "in-arrangement", scene: sceneId, arrangement, time_s: time, edits: [edit] };
  }

  edit(kind, more) {
    return this.editor.edit({ kind, scene: this.editor.sceneId, ...more });
  }

  /** To where an arrangement stands, unless the playhead is there. */
  goTo(id) {
    const { editor } = this;
    const hold = this.hold(id);
    if (!hold) return;
    if (editor.player?.playing) editor.player.pause();
    this.stepOf = "";
    const [first, last] = [hold.begin_s, hold.end_s].map((time) => editor.frameAt(time));
    if (editor.frame < first || editor.frame >= Math.max(first + 1, last)) editor.goTo(first);
    this.editor.tell("arrangements");
  }

  /** The one before (-1) or after (1) the one at the playhead. */
  goBy(step) {
    const index = this.list.indexOf(this.here) + step;
    if (this.list[index]) this.goTo(this.list[index].id);
  }

  /** A new one of what stands at the playhead; where there is none yet, the first one. */
  async add(more = {}) {
    const id = newId();
    const first = !this.on;
    const done = await this.edit("add-arrangement", { id, time_s: this.editor.time, ...more });
    if (done && first && !more.take_keys) {
      note(
        "What stands is kept. Go on in time and add another arrangement: what is moved there is moved in it.",
        { seconds: 9 },
      );
    }
    if (done && !first) this.goWhenTold(id);
    return done;
  }

  /** Goes there as soon as it is told when it holds. */
  goWhenTold(id) {
    const stop = this.editor.on("arrangements", () => {
      if (!this.hold(id)) return;
      stop();
      this.goTo(id);
    });
  }

  remove(id = this.here?.id) {
    if (id) this.edit("remove-arrangements", { arrangements: [id] });
  }

  workInAll(all) {
    this.all = all;
    this.editor.tell("arrangements");
  }

  /** Selected layers are there in an arrangement, or left out of it. */
  stand(there, id = this.here?.id) {
    const layers = this.editor.selectedLayers.map((layer) => layer.id);
    return this.edit("stand-layers", { arrangement: id, layers, there });
  }

  /** What differs of the selected layers is in all as it is here. */
  sameInAll(properties = null) {
    const edits = [];
    for (const layer of this.editor.selectedLayers) {
      const names = properties || this.of(layer.id)?.said || [];
      if (!names.length) continue;
      edits.push({
        kind: "same-in-all",
        scene: this.editor.sceneId,
        layer: layer.id,
        arrangement: this.here.id,
        properties: names,
      });
    }
    if (edits.length === 1) return this.editor.edit(edits[0]);
    return (
      edits.length && this.editor.edit({ kind: "together", title: "The same in all arrangements", edits })
    );
  }
}
