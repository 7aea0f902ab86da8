// The kit of sounds in the Assets tab: heard, varied, placed.
import { Alpine } from "../common.js";
import { trim } from "../formats.js";
import { complain } from "../notes.js";
import { api } from "../api.js";
import { takeSound } from "./actions/sounds.js";

const ICONS = "/static/vendor/icons.svg#";
const signed = (number) => `${number > 0 ? "+" : ""}${number}`;

export function registerKitPanel(editor) {
  let player = null;

  Alpine.data("kitPanel", () => ({
    families: [],
    chosen: "whoosh",
    playing: "",
    wish: { length: 0, pitch: 0, brightness: 0, seed: 0 },
    async open() {
      if (this.families.length) return;
      try {
        this.families = await api.kit();
      } catch (error) {
        complain(error);
      }
    },
    choose(family) {
      this.chosen = family.id;
    },
    get sounds() {
      const family = this.families.find((each) => each.id === this.chosen);
      return (family?.sounds || []).map((sound) => ({
        ...sound,
        facts: this.factsOf(sound),
        icon: `${ICONS}${this.playing === sound.id ? "pause" : "play"}`,
        listenTitle: this.playing === sound.id ? `Stop ${sound.label}` : `Listen to ${sound.label}`,
        title: `Place ${sound.label}: its moment at the playhead`,
      }));
    },
    factsOf(sound) {
      const length = `${trim(this.lengthOf(sound), 2)} s`;
      return sound.tempo ? `${trim(sound.tempo / 2 ** this.wish.length, 1)} bpm, ${length}` : length;
    },
    /** The slider doubles the length, or halves it, at each whole step. */
    lengthOf(sound) {
      return Math.min(60, sound.length_s * 2 ** this.wish.length);
    },
    wished(sound) {
      const { pitch, brightness, seed } = this.wish;
      return { length_s: Math.round(this.lengthOf(sound) * 1000) / 1000, pitch, brightness, seed };
    },
    get lengthText() {
      return `\u00d7 ${trim(2 ** this.wish.length, 2)}`;
    },
    get pitchText() {
      return `${signed(this.wish.pitch)} st`;
    },
    get brightText() {
      return signed(this.wish.brightness);
    },
    another() {
      this.wish.seed += 1;
    },
    hush() {
      player?.pause();
      this.playing = "";
    },
    listen(sound) {
      const stops = this.playing === sound.id;
      this.hush();
      if (stops) return;
      player = new Audio(api.kitUrl(sound.id, this.wished(sound)));
      player.onended = () => this.hush();
      this.playing = sound.id;
      player.play().catch((error) => {
        if (error.name !== "AbortError") complain(error);
        this.playing = "";
      });
    },
    place(sound) {
      this.hush();
      return takeSound(editor, { sound: sound.id, ...this.wished(sound) }, { at_s: editor.time });
    },
  }));
}
