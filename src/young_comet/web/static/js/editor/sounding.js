// The scene's sound: pieces of the mix, made by the server, laid one behind the other. While it plays it
// is the clock that the pictures follow.
import { api } from "../api.js";
import { complain, note } from "../notes.js";
import { remembered } from "../formats.js";

const RATE = 48000;
// Seconds of a piece, of what is laid ahead, and until the first piece begins.
const PIECE_S = 1;
const AHEAD_S = 1.2;
const LEAD_S = 0.06;
const KEPT_PIECES = 60;
// While the playhead is dragged, at least so much of its frame is heard.
const GRAIN_S = 0.05;

export class Sounding {
  constructor(editor) {
    this.editor = editor;
    this.heard = false;
    this.muted = remembered("sound-off", false);
    this.context = null;
    this.pieces = new Map();
    this.sources = new Set();
    this.run = null;
    editor.on("document", () => this.ask());
    editor.on("time", () => this.scrub());
  }

  /** Asks whether anything is heard, where that may be so. */
  ask() {
    clearTimeout(this.timer);
    const { editor } = this;
    if (!editor.scene?.layers.some((layer) => ["sound", "clip", "scene"].includes(layer.kind))) {
      this.know({ heard: false, samples: 0, faults: {} });
      return;
    }
    this.timer = setTimeout(() => {
      api.sound(editor.projectId, editor.sceneId).then((facts) => this.know(facts), complain);
    }, 150);
  }

  know(facts) {
    const names = Object.keys(facts.faults).map((id) => this.editor.layer(id)?.name || "a layer");
    const gone = names.join(", ");
    if (gone && gone !== this.gone) {
      note(`Not heard: ${gone}. ${Object.values(facts.faults)[0]}`, { bad: true });
    }
    this.gone = gone;
    this.heard = facts.heard;
    this.length = facts.samples;
    this.editor.tell("heard");
  }

  /** The audio of this page; browsers let it begin only after a press. */
  async begin() {
    if (!this.context) {
      this.context = new AudioContext({ sampleRate: RATE, latencyHint: "interactive" });
      this.master = this.context.createGain();
      this.master.gain.value = this.muted ? 0 : 1;
      this.sides = this.context.createChannelSplitter(2);
      this.meters = [0, 1].map((side) => {
        const meter = new AnalyserNode(this.context, { fftSize: 2048 });
        this.sides.connect(meter, side);
        return meter;
      });
      this.master.connect(this.context.destination);
      this.into = this.context.createGain();
      this.into.connect(this.master);
      this.into.connect(this.sides);
    }
    if (this.context.state !== "running") await this.context.resume();
    return this.context;
  }

  mute(muted) {
    this.muted = muted;
    localStorage.setItem("sound-off", JSON.stringify(muted));
    if (this.master) this.master.gain.value = muted ? 0 : 1;
  }

  /** What is heard after it has been scheduled: the device is behind by so much. */
  get latency() {
    return this.context.outputLatency || this.context.baseLatency || 0;
  }

  /** A piece of the mix as the document is now; pieces are kept. */
  piece(first, count) {
    const name = `${this.editor.revision}|${first}|${count}`;
    let found = this.pieces.get(name);
    if (!found) {
      found = this.load(first, count);
      found.catch(() => this.pieces.delete(name));
      this.pieces.set(name, found);
      for (const old of this.pieces.keys()) {
        if (this.pieces.size <= KEPT_PIECES) break;
        this.pieces.delete(old);
      }
    }
    return found;
  }

  async load(first, count) {
    const { editor } = this;
    const samples = new Float32Array(await api.samples(editor.projectId, editor.sceneId, first, count));
    const buffer = this.context.createBuffer(2, count, RATE);
    for (const side of [0, 1]) {
      const channel = buffer.getChannelData(side);
      for (let i = 0; i < count; i += 1) channel[i] = samples[2 * i + side];
    }
    return buffer;
  }

  /** Begins to play from a frame; false where nothing is heard. */
  async start(frame, loops) {
    if (!this.heard) return false;
    const wish = (this.wish = {});
    try {
      await this.begin();
      const run = { frame, loops, round: 0, position: this.sampleOf(frame), from: frame, when: 0 };
      // The first piece is here before the clock starts.
      await this.piece(...this.next(run));
      if (this.wish !== wish) return false; // stopped, or started anew, meanwhile
      run.t0 = this.context.currentTime + LEAD_S;
      run.when = run.t0;
      this.run = run;
      this.pump(run);
      this.editor.tell("sounding");
      return true;
    } catch (error) {
      complain(error);
      return false;
    }
  }

  /** Ends what is heard; the frame that is gone to is not heard by itself. */
  stop(frame = this.editor.frame) {
    this.run = this.wish = null;
    this.scrubbed = frame;
    for (const source of this.sources) source.stop();
    this.sources.clear();
  }

  /** Seconds that have been heard since the start. */
  get seconds() {
    return Math.max(0, this.context.currentTime - this.latency - this.run.t0);
  }

  sampleOf(frame) {
    return Math.round(this.editor.timeOf(frame) * RATE);
  }

  /** The first sample and the length of the next piece of a run. */
  next(run) {
    const end = this.sampleOf(this.editor.range[1]);
    return [run.position, Math.max(1, Math.min(PIECE_S * RATE, end - run.position))];
  }

  /** Lays pieces ahead, as long as the run is on. */
  async pump(run) {
    const { editor, context } = this;
    while (this.run === run) {
      if (run.when - context.currentTime > AHEAD_S) {
        await new Promise((done) => setTimeout(done, 60));
        continue;
      }
      const [first, count] = this.next(run);
      try {
        const buffer = await this.piece(first, count);
        if (this.run !== run) return;
        this.lay(buffer, run.when);
      } catch (error) {
        complain(error);
        return;
      }
      run.position += count;
      run.when += count / RATE;
      const [start, end] = editor.range;
      if (run.position < this.sampleOf(end)) continue;
      if (!run.loops()) return;
      // Each round begins where its frames do, so that nothing adds up over many.
      run.round += 1;
      const passed = editor.timeOf(end - run.from) + (run.round - 1) * editor.timeOf(end - start);
      run.when = run.t0 + passed;
      run.position = this.sampleOf(start);
    }
  }

  /** A piece at its time; of one that comes late, the rest. */
  lay(buffer, when, into = this.into) {
    const late = Math.max(0, this.context.currentTime - when);
    if (late >= buffer.duration) return null;
    const source = new AudioBufferSourceNode(this.context, { buffer });
    source.connect(into);
    source.start(late ? 0 : when, late);
    source.onended = () => this.sources.delete(source);
    this.sources.add(source);
    return source;
  }

  /** The frame under the playhead is heard while that is moved. */
  async scrub() {
    const { editor } = this;
    if (!this.heard || this.run || editor.isPlaying?.() || editor.frame === this.scrubbed) return;
    const frame = (this.scrubbed = editor.frame);
    if (!this.context || this.context.state !== "running") return;
    const first = this.sampleOf(frame);
    const count = Math.round(Math.max(GRAIN_S, editor.timeOf(1)) * RATE);
    const buffer = await this.piece(first, count).catch(() => null);
    if (!buffer || this.run || frame !== editor.frame) return;
    this.grain?.stop();
    const edges = this.context.createGain();
    edges.connect(this.into);
    const now = this.context.currentTime + 0.005;
    edges.gain.setValueAtTime(0, now);
    edges.gain.linearRampToValueAtTime(1, now + 0.004);
    edges.gain.setValueAtTime(1, now + buffer.duration - 0.006);
    edges.gain.linearRampToValueAtTime(0, now + buffer.duration);
    this.grain = this.lay(buffer, now, edges);
    this.editor.tell("sounding");
  }
}
