// Phrases tapped in: the scene plays, and each tap says when the next one begins.
import { note } from "../../notes.js";
import { Mode } from "./mode.js";

const SAID = 32;

/** Options: `phrases` in their order, `done(phrases)` takes them with the times (s) that they were given. */
export class TapMode extends Mode {
  static visits = true;
  times = [];

  get calls() {
    return true;
  }

  get hint() {
    const { phrases } = this.options;
    const at = this.times.length;
    if (at >= phrases.length) return "Enter, or a click, as the last one ends";
    const words = phrases[at].text.replace(/\s+/g, " ");
    const said = words.length > SAID ? `${words.slice(0, SAID - 1)}…` : words;
    return `Enter, or a click, as “${said}” begins (${at + 1} of ${phrases.length})`;
  }

  enter() {
    const { editor } = this;
    const { player } = this.hands;
    this.begins = editor.time;
    this.deafen = editor.on("playing", () => {
      if (this.heard && !player.playing) this.ended();
      this.heard = player.playing;
    });
    player.playSpan(editor.frame, editor.range[1]);
  }

  leave() {
    this.deafen();
    if (this.hands.player.playing) this.hands.player.pause();
  }

  press(_at, event) {
    if (event.button === 0) this.tap();
    return null;
  }

  finish() {
    this.tap();
    return true;
  }

  escape() {
    this.editor.modes.leave(this, false);
    return true;
  }

  tap() {
    const { editor } = this;
    const at = this.hands.player.moment;
    const least = (this.times.at(-1) ?? this.begins - editor.timeOf(1)) + editor.timeOf(1);
    if (at < least - 1e-6) return; // twice in one frame
    this.times.push(at);
    if (this.times.length > this.options.phrases.length) this.ended();
    else editor.tell("mode");
  }

  /** The scene has ended, or all is tapped: phrases that were given no time share what is left. */
  ended() {
    const { phrases, done } = this.options;
    const { times, editor } = this;
    editor.modes.leave(this, true);
    if (!times.length) {
      note("Nothing was tapped: press Enter, or click on the stage, as each phrase begins.", { bad: true });
      return;
    }
    const end = editor.timeOf(editor.range[1]);
    const last = times.at(-1);
    const missing = phrases.length - times.length;
    for (let n = 1; n <= missing; n += 1) times.push(last + ((end - last) * n) / (missing + 1));
    if (times.length === phrases.length) times.push(end);
    done(phrases.map((each, n) => ({ ...each, start_s: times[n], end_s: times[n + 1] })));
  }
}
