// Fly it: a layer dragged by hand while time runs, and made into a clean path.
import { note } from "../common.js";

const BEAT_MS = 550;

export class Flight {
  constructor(editor, stage, player) {
    this.editor = editor;
    this.stage = stage;
    this.player = player;
    this.note = document.getElementById("flight-note");
    this.armed = null;
    this.state = "";
    for (const [name, run] of [["pointerdown", "down"], ["pointermove", "move"], ["pointerup", "up"], ["pointercancel", "up"]]) {
      stage.element.addEventListener(name, (event) => this[run](event), { capture: true });
    }
  }

  /** Waits for the layer to be taken hold of. */
  arm(layerId, { speed, beats, tolerance }) {
    this.player.pause();
    this.armed = { layerId, speed, beats, tolerance };
    this.state = "armed";
    this.say(beats ? `Take hold of the layer: after ${beats} beats time runs.` : "Take hold of the layer: time runs at once.");
  }

  say(text) {
    this.note.hidden = !text;
    this.note.textContent = text;
  }

  giveUp() {
    if (!this.state) return false;
    this.state = "";
    this.armed = null;
    this.say("");
    this.editor.withdraw();
    return true;
  }

  down(event) {
    if (this.state !== "armed" || event.button !== 0) return;
    event.stopPropagation();
    event.preventDefault();
    this.stage.element.setPointerCapture(event.pointerId);
    const layer = this.editor.layer(this.armed.layerId);
    const at = this.stage.toScene(event);
    const own = this.editor.value(layer, "position");
    const position = this.editor.view[layer.id]?.pivot || own;
    this.from = { position: own, pivot: position };
    this.offset = [position[0] - at[0], position[1] - at[1]];
    this.place = position;
    this.samples = [];
    this.state = "counting";
    this.count(this.armed.beats);
  }

  count(left) {
    if (this.state !== "counting") return;
    if (left === 0) {
      this.begin();
      return;
    }
    this.say(String(left));
    setTimeout(() => this.count(left - 1), BEAT_MS);
  }

  begin() {
    this.state = "flying";
    this.say("Flying: let go to end");
    this.startTime = this.editor.time;
    const end = this.editor.timeOf(this.editor.range[1] - 1);
    this.endTime = this.editor.time < end - 0.1 ? end : this.editor.timeOf(this.editor.frameCount - 1);
    this.began = performance.now();
    this.step();
  }

  /** Where the hand holds the layer, as its position counts. */
  ownPlace() {
    const { layerId } = this.armed;
    const by = [this.place[0] - this.from.pivot[0], this.place[1] - this.from.pivot[1]];
    const own = this.editor.shiftOf(layerId, by);
    return [this.from.position[0] + own[0], this.from.position[1] + own[1]];
  }

  get now() {
    return this.timeAt(performance.now());
  }

  timeAt(clock) {
    return this.startTime + ((clock - this.began) / 1000) * this.armed.speed;
  }

  step() {
    if (this.state !== "flying") return;
    const { editor } = this;
    const time = this.now;
    this.sample(time);
    if (time >= this.endTime) {
      this.finish();
      return;
    }
    const frame = Math.min(editor.frameCount - 1, Math.floor(time * (editor.rate.num / editor.rate.den) + 1e-6));
    if (frame !== editor.frame || !editor.isPreviewing) {
      editor.frame = frame;
      editor.tell("time");
      const target = { layer: this.armed.layerId, property: "position", value: this.ownPlace() };
      editor.preview([{ kind: "set-values", scene: editor.sceneId, targets: [target], time_s: editor.time }]);
    }
    requestAnimationFrame(() => this.step());
  }

  sample(time) {
    const last = this.samples.at(-1);
    if (!last || time - last[0] > 0.004) this.samples.push([Math.min(time, this.endTime), ...this.place]);
  }

  move(event) {
    if (this.state !== "counting" && this.state !== "flying") return;
    event.stopPropagation();
    // What the hand did between two pictures counts too, each place at its own moment.
    const each = event.getCoalescedEvents?.() ?? [];
    for (const one of each.length ? each : [event]) {
      const at = this.stage.toScene(one);
      this.place = [at[0] + this.offset[0], at[1] + this.offset[1]].map((value) => Math.round(value * 100) / 100);
      if (this.state === "flying" && one.timeStamp >= this.began) this.sample(this.timeAt(one.timeStamp));
    }
  }

  up(event) {
    if (this.state === "counting") {
      event.stopPropagation();
      this.giveUp();
      note("Keep hold of the layer until time runs.");
    } else if (this.state === "flying") {
      event.stopPropagation();
      this.finish();
    }
  }

  async finish() {
    const { editor, samples } = this;
    const { layerId, tolerance } = this.armed;
    this.state = "";
    this.armed = null;
    this.say("");
    editor.commit();
    if (samples.length < 3) {
      editor.withdraw();
      note("That was too short to fly anything.");
      return;
    }
    editor.openLayers.add(layerId);
    await editor.edit({ kind: "fly-path", scene: editor.sceneId, layer: layerId, samples, tolerance });
    editor.goTo(editor.frameAt(samples[0][0]));
  }
}
