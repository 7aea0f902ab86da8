// Frames kept for playback: filled ahead by the server, shown by the clock.
import { note } from "../notes.js";
import { Sounding } from "./sounding.js";

const KEPT_BYTES = 300e6;
// Frames asked for at once; the rest of a longer scene follows.
const STRETCH = 1500;
// While playing, frames so far ahead are asked for where they are not there (any more).
const LOOKED_AHEAD = 25;
const DECODED_AHEAD = 10;
const PREROLL_FRAMES = 8;

export class Player {
  constructor(editor, show) {
    this.editor = editor;
    this.show = show;
    this.signatures = [];
    this.blobs = new Map();
    this.bytes = 0;
    this.fillId = 0;
    // Answers to what was asked before the last change do not count.
    this.renewedAt = 0;
    this.decoded = new Map();
    this.playing = false;
    this.turn = 0;
    this.loop = true;
    this.rate = 0;
    this.speed = 1; // of playing: what is heard is heard at its own speed only
    this.sounding = new Sounding(editor);
    editor.on("frame", ({ header, blob }) => this.receive(header, blob));
    editor.on("frames", (detail) => this.renew(detail));
    editor.on("time", () => this.scrub());
  }

  name(signature) {
    return `${signature}@${this.editor.height}`;
  }

  ready(frame) {
    const signature = this.signatures[frame];
    return signature !== undefined && this.blobs.has(this.name(signature));
  }

  /** The document or the size has changed: ask again; equal pictures are not sent twice. */
  renew(detail) {
    this.signatures = [];
    this.renewedAt = this.fillId + 1;
    this.decoded.clear();
    if (detail?.anew) {
      this.blobs.clear();
      this.bytes = 0;
    }
    this.editor.tell("ready");
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.fill(), this.editor.isPreviewing ? 400 : 120);
  }

  fill() {
    if (!this.editor.scene) return;
    const [start, end] = this.editor.range;
    this.first = Math.min(end - 1, Math.max(start, this.editor.frame));
    this.ask(0);
  }

  /** Asks for a stretch of frames that begins so many after the first, around the working range. */
  ask(offset) {
    const [start, end] = this.editor.range;
    const whole = end - start;
    this.asked = Math.min(whole, offset + STRETCH);
    this.filling = true;
    this.fillId += 1;
    const first = start + ((this.first - start + offset) % whole);
    this.editor.live.send({
      type: "fill",
      id: this.fillId,
      first,
      count: this.asked - offset,
      height: this.editor.height,
      ...this.editor.seeing.asked(),
    });
  }

  /** A stretch is there: the next one follows, as long as what was filled first is still kept. */
  filled(header) {
    if (header.error) note(header.error, { bad: true });
    if (header.id === this.fillId) this.filling = false;
    const [start, end] = this.editor.range;
    if (header.id !== this.fillId || header.error || this.asked >= end - start || !this.ready(this.first)) {
      return;
    }
    this.ask(this.asked);
  }

  receive(header, blob) {
    if (header.type === "filled") {
      this.filled(header);
      return;
    }
    if (blob) this.keep(header.signature, blob);
    if (header.id < this.renewedAt) return;
    this.signatures[header.frame] = header.signature;
    this.editor.tell("ready");
  }

  keep(signature, blob) {
    const name = this.name(signature);
    const old = this.blobs.get(name);
    if (old && !signature.endsWith("!")) return; // one with gaps is drawn anew each time
    if (old) this.bytes -= old.size;
    this.blobs.set(name, blob);
    this.bytes += blob.size;
    const gone = [];
    for (const [first, oldBlob] of this.blobs) {
      if (this.bytes <= KEPT_BYTES) break;
      this.blobs.delete(first);
      this.bytes -= oldBlob.size;
      gone.push(first.split("@")[0]);
    }
    if (gone.length) this.editor.live.send({ type: "forget", signatures: gone });
  }

  /** While the playhead is dragged, a frame that is there is shown at once. */
  async scrub() {
    if (this.playing || this.editor.isPreviewing) return;
    const frame = this.editor.frame;
    if (!this.ready(frame)) return;
    const asked = this.editor.stageId;
    const bitmap = await createImageBitmap(this.blobs.get(this.name(this.signatures[frame])));
    // The stage's own picture of this moment is the better one: it stays if it has come meanwhile.
    if (!this.playing && frame === this.editor.frame && this.editor.shownId <= asked) this.show(bitmap);
  }

  decode(frame) {
    if (this.decoded.has(frame) || !this.ready(frame)) return;
    const blob = this.blobs.get(this.name(this.signatures[frame]));
    const entry = { bitmap: null };
    this.decoded.set(frame, entry);
    createImageBitmap(blob).then(
      (bitmap) => (entry.bitmap = bitmap),
      () => this.decoded.delete(frame),
    );
  }

  /** Plays from one frame to before another, once, and goes back to where the playhead was. */
  playSpan(from, to) {
    const { editor } = this;
    const back = editor.frame;
    if (this.playing) this.pause();
    editor.goTo(Math.max(0, Math.min(editor.frameCount - 1, from)), { quiet: true });
    return this.play({ to: Math.max(from + 1, Math.min(editor.frameCount, to)), back });
  }

  /** Half, usual or double speed; playing goes on from where it is. */
  setSpeed(speed) {
    const { playing, span } = this;
    if (playing) this.pause();
    this.speed = speed;
    this.editor.tell("playing");
    if (playing) this.play(span);
  }

  toggle() {
    if (this.playing) this.pause();
    else this.play();
  }

  /** Plays the working range; or, with `span`, on to its frame `to`, and `back` to another. */
  async play(span = null) {
    const { editor } = this;
    const [start, end] = editor.range;
    this.span = span;
    if (!span && (editor.frame >= end - 1 || editor.frame < start)) editor.goTo(start, { quiet: true });
    this.playing = true;
    const turn = (this.turn += 1); // of two that wait for their first pictures the later one plays
    editor.tell("playing");
    await this.preroll();
    if (!this.playing || turn !== this.turn) return;
    const heard = this.speed === 1;
    this.bySound = heard && (await this.sounding.start(editor.frame, () => this.loop && !this.span));
    if (!this.playing || turn !== this.turn) return;
    this.startFrame = editor.frame;
    this.startTime = this.now();
    this.began = performance.now();
    this.shown = [];
    this.last = -1;
    this.tick();
  }

  async preroll() {
    const until = performance.now() + 2500;
    const { editor } = this;
    while (this.playing && performance.now() < until) {
      const end = this.span?.to ?? editor.range[1];
      const needed = Math.min(PREROLL_FRAMES, Math.max(1, end - editor.frame));
      let ready = 0;
      for (let i = 0; i < needed; i += 1) {
        this.decode(editor.frame + i);
        if (this.decoded.get(editor.frame + i)?.bitmap) ready += 1;
      }
      if (ready === needed) return;
      await new Promise((resolve) => setTimeout(resolve, 15));
    }
    if (this.playing) note("The preview is still being drawn: some frames are skipped.");
  }

  /** Milliseconds of the clock that pictures follow: what is heard, where anything is. */
  now() {
    return this.bySound && this.sounding.run ? this.sounding.seconds * 1000 : performance.now();
  }

  /** Seconds of the scene by that clock: what is heard now, however late its picture is. */
  get moment() {
    const { editor } = this;
    if (!this.playing || this.last === undefined || this.last < 0) return editor.time;
    const [start, end] = editor.range;
    const at_s = editor.timeOf(this.startFrame) + ((this.now() - this.startTime) / 1000) * this.speed;
    const over = at_s - editor.timeOf(end);
    if (over < 0) return at_s;
    return this.loop ? editor.timeOf(start) + (over % editor.timeOf(end - start)) : editor.timeOf(end - 1);
  }

  tick() {
    if (!this.playing) return;
    const { editor } = this;
    const pace = (editor.rate.num / editor.rate.den) * this.speed;
    const passed = Math.floor(((this.now() - this.startTime) / 1000) * pace);
    let frame = this.startFrame + passed;
    if (this.span && frame >= this.span.to) {
      if (this.last >= this.span.to - 1) {
        this.pause(this.span.back);
        return;
      }
      frame = this.span.to - 1; // what a span ends with is shown, however late
    }
    const [start, end] = editor.range;
    if (!this.span && frame >= end) {
      if (!this.loop) {
        this.pause(end - 1);
        return;
      }
      // What was played of the next round already counts: a loop keeps its pace.
      const over = frame - end;
      frame = start + (over % Math.max(1, end - start));
      this.startTime += ((passed - (frame - start)) / pace) * 1000;
      this.startFrame = start;
    }
    if (frame !== this.last) this.present(frame);
    requestAnimationFrame(() => this.tick());
  }

  present(frame) {
    const { editor } = this;
    this.last = frame;
    const entry = this.decoded.get(frame);
    if (entry?.bitmap) {
      this.show(entry.bitmap);
      this.shown.push(performance.now());
    }
    for (let i = 1; i <= DECODED_AHEAD; i += 1) {
      const [start, end] = editor.range;
      const ahead = this.loop && frame + i >= end ? start + ((frame + i - start) % (end - start)) : frame + i;
      if (ahead < end) this.decode(ahead);
    }
    this.lookAhead(frame);
    for (const old of this.decoded.keys()) {
      const [start, end] = editor.range;
      const length = end - start;
      const distance = (((old - frame) % length) + length) % length;
      if (distance > DECODED_AHEAD + 2) {
        this.decoded.get(old).bitmap?.close();
        this.decoded.delete(old);
      }
    }
    editor.frame = frame;
    editor.tell("time");
    this.measure();
  }

  /** A scene that is longer than what can be kept is filled again from where it plays. */
  lookAhead(frame) {
    const [start, end] = this.editor.range;
    const soon = start + ((frame - start + LOOKED_AHEAD) % Math.max(1, end - start));
    if (this.filling || this.ready(soon) || this.editor.isPreviewing) return;
    this.first = frame;
    this.ask(0);
  }

  /** The true rate over the last second. */
  measure() {
    const now = performance.now();
    while (this.shown.length && this.shown[0] < now - 1000) this.shown.shift();
    const span = Math.min(1000, now - this.began);
    this.rate = span > 300 ? (this.shown.length / span) * 1000 : 0;
    this.editor.tell("rate");
  }

  pause(frame = this.editor.frame) {
    this.playing = false;
    this.span = null;
    this.sounding.stop(frame);
    this.rate = 0;
    this.decoded.clear();
    this.editor.frame = frame;
    this.editor.tell("playing");
    this.editor.tell("time");
    this.editor.requestStage();
  }
}
