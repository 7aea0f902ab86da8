// Fly it: a layer dragged by hand while time runs, and made into a clean path.
import { note } from "../../notes.js";
import { beatTimes } from "../beats_panel.js";
import { round } from "../points.js";
import { Mode } from "./mode.js";

/** How long a beat of the scene lasts about a moment, s; null where the scene has no beats. */
function beatLength(editor, time) {
  const moments = beatTimes(editor).sort((one, other) => one - other);
  const next = moments.findIndex((at) => at > time);
  const last = Math.max(1, next < 0 ? moments.length - 1 : next);
  return moments.length > 1 ? moments[last] - moments[last - 1] : null;
}

/** Options: `layer` as an id, `speed` of time, `count` of beats (or seconds) before it runs and `by`
    which of the two, `tolerance` of the path in px. */
export class FlyMode extends Mode {
  static visits = true;
  state = "armed";
  left = 0;

  get calls() {
    return true;
  }

  get hint() {
    const { count, by } = this.options;
    if (this.state === "counting") return String(this.left);
    if (this.state === "flying") return "Flying: let go to end";
    const what = count === 1 ? by.slice(0, -1) : by;
    return count
      ? `Take hold of the layer: after ${count} ${what} time runs.`
      : "Take hold of the layer: time runs at once.";
  }

  enter() {
    this.hands.player.pause();
  }

  /** Whoever ends it before it is done takes back what was shown. */
  leave() {
    if (this.state !== "done") this.editor.withdraw();
    this.state = "done";
  }

  escape() {
    this.editor.modes.leave(this, false);
    return true;
  }

  press(at, event) {
    const layer = this.editor.layer(this.options.layer);
    if (this.state !== "armed" || event.button !== 0 || !layer) return null;
    const pivot = this.editor.view[layer.id]?.pivot || this.editor.value(layer, "position");
    this.offset = [pivot[0] - at[0], pivot[1] - at[1]];
    this.held = pivot;
    this.samples = [];
    this.state = "counting";
    this.count(this.options.count);
    const moved = (now) => this.moved(now);
    const cancel = () => this.editor.modes.leave(this, false);
    return { eager: true, moved, end: () => this.letGo(), cancel };
  }

  count(left) {
    if (this.state !== "counting") return;
    this.left = left;
    if (left === 0) this.begin();
    else setTimeout(() => this.count(left - 1), this.countMs);
    this.editor.tell("mode");
  }

  /** One count, ms: a beat of the scene as it is heard at the speed of the flight, or a second. */
  get countMs() {
    const { by, speed } = this.options;
    const beat = by === "beats" ? beatLength(this.editor, this.editor.time) : null;
    return beat ? (beat * 1000) / speed : 1000;
  }

  begin() {
    const { editor } = this;
    this.state = "flying";
    this.startTime = editor.time;
    const end = editor.timeOf(editor.range[1] - 1);
    this.endTime = editor.time < end - 0.1 ? end : editor.timeOf(editor.frameCount - 1);
    this.began = performance.now();
    this.step();
  }

  timeAt(clock) {
    return this.startTime + ((clock - this.began) / 1000) * this.options.speed;
  }

  step() {
    if (this.state !== "flying") return;
    const { editor } = this;
    const time = this.timeAt(performance.now());
    this.sample(time);
    if (time >= this.endTime) {
      this.finishFlight();
      return;
    }
    const perSecond = editor.rate.num / editor.rate.den;
    const frame = Math.min(editor.frameCount - 1, Math.floor(time * perSecond + 1e-6));
    if (frame !== editor.frame || !editor.isPreviewing) {
      editor.frame = frame;
      editor.tell("time");
      const held = { layer: this.options.layer, at: this.held, time_s: editor.time };
      editor.preview([{ kind: "hold-layer", scene: editor.sceneId, ...held }]);
    }
    requestAnimationFrame(() => this.step());
  }

  sample(time) {
    const last = this.samples.at(-1);
    if (!last || time - last[0] > 0.004) this.samples.push([Math.min(time, this.endTime), ...this.held]);
  }

  moved(event) {
    if (this.state !== "counting" && this.state !== "flying") return;
    // What the hand did between two pictures counts too, each place at its own moment.
    const each = event.getCoalescedEvents?.() ?? [];
    for (const one of each.length ? each : [event]) {
      const at = this.stage.toScene(one);
      this.held = [at[0] + this.offset[0], at[1] + this.offset[1]].map(round);
      if (this.state === "flying" && one.timeStamp >= this.began) this.sample(this.timeAt(one.timeStamp));
    }
  }

  letGo() {
    if (this.state === "flying") this.finishFlight();
    else if (this.state === "counting") {
      this.editor.modes.leave(this, false);
      note("Keep hold of the layer until time runs.");
    }
  }

  async finishFlight() {
    const { editor, samples } = this;
    const { layer, tolerance } = this.options;
    this.state = "done";
    editor.modes.leave(this);
    editor.commit();
    if (samples.length < 3) {
      editor.withdraw();
      note("That was too short to fly anything.");
      return;
    }
    editor.openLayers.add(layer);
    await editor.edit({ kind: "fly-path", scene: editor.sceneId, layer, samples, tolerance });
    editor.goTo(editor.frameAt(samples[0][0]));
  }
}
