// Beats of the music: found, tapped, corrected, and where they are heard in the scene.
import { Alpine } from "../common.js";
import { trim } from "../formats.js";
import { complain, note } from "../notes.js";
import { api } from "../api.js";

// Taps that come later than this begin anew.
const PAUSE_MS = 2500;
// So many taps say how fast it is.
const ENOUGH = 4;

/** Keeps `editor.beats`, what is heard of each layer's beats, and tells "beats" when it changed. */
export function followBeats(editor) {
  editor.beats = {};
  let asked = 0;
  let known = "";
  const load = async () => {
    if (!editor.scene) return;
    const sounds = editor.layers.filter((layer) => ["sound", "clip"].includes(layer.kind));
    const ids = new Set(editor.project.assets.filter((asset) => asset.beats).map((asset) => asset.id));
    const facts = JSON.stringify([editor.sceneId, sounds, editor.project.assets.map((asset) => asset.beats)]);
    if (facts === known) return;
    known = facts;
    const number = (asked += 1);
    try {
      const found =
        ids.size && sounds.length ? (await api.beats(editor.projectId, editor.sceneId)).layers : {};
      if (number !== asked) return;
      editor.beats = found;
      editor.tell("beats");
    } catch {
      known = ""; // asked again with the next change
    }
  };
  editor.on("document", () => !editor.isPreviewing && load());
}

/** Moments of beats in the scene, each once. */
export function beatTimes(editor) {
  return Object.values(editor.beats || {}).flatMap((layer) => layer.beats.map((beat) => beat.at_s));
}

export function registerBeatsPanel(editor) {
  Alpine.data("beatsPanel", () => ({
    layers: [],
    layer: "",
    taken: "", // what was chosen by hand
    asset: null,
    found: false,
    facts: "",
    busy: false,
    taps: [],
    init() {
      editor.on("document selection beats", () => this.update());
      if (editor.project) this.update();
    },
    update() {
      if (!editor.scene) return;
      this.layers = editor.layers
        .filter((layer) => this.assetOf(layer))
        .map((layer) => ({ id: layer.id, name: layer.name }));
      const chosen = [...editor.selected].find((id) => this.layers.some((each) => each.id === id));
      if (chosen) this.layer = this.taken = chosen;
      else if (!this.layers.some((each) => each.id === this.taken)) this.layer = this.musical();
      this.asset = this.assetOf(editor.layer(this.layer));
      this.describe();
    },
    /** The layer that is likeliest music: one with beats, else the longest. */
    musical() {
      const withBeats = this.layers.find((each) => editor.beats[each.id]);
      if (withBeats) return withBeats.id;
      const long = (id) => editor.layer(id).end_s - editor.layer(id).start_s;
      return [...this.layers].sort((a, b) => long(b.id) - long(a.id))[0]?.id || "";
    },
    assetOf(layer) {
      const name = { sound: "sound.asset", clip: "clip.asset" }[layer?.kind];
      const id = name && layer.properties[name]?.value;
      const asset = editor.project.assets.find((each) => each.id === id);
      return asset?.channels ? asset : null;
    },
    get shown() {
      return this.layers.length > 0;
    },
    describe() {
      const beats = this.asset?.beats;
      this.found = Boolean(beats);
      if (!beats) {
        this.facts = "Not found yet";
        return;
      }
      const heard = editor.beats[this.layer]?.beats.length || 0;
      const parts = beats.sections.length > 1 ? ` · ${beats.sections.length} parts` : "";
      this.facts = `${trim(beats.tempo, 1)} a minute · ${heard} heard here${parts}`;
    },
    get tapText() {
      return this.taps.length ? `Tap (${this.taps.length})` : "Tap";
    },
    choose(event) {
      this.layer = event.target.value;
      editor.select([this.layer]);
    },
    async find() {
      this.busy = true;
      try {
        await editor.working(api.findBeats(editor.projectId, this.asset.id));
        await editor.refresh();
      } catch (error) {
        complain(error);
      }
      this.busy = false;
    },
    count(how) {
      editor.edit({ kind: "count-beats", asset: this.asset.id, ...how });
    },
    /** The beat that is heard at the playhead, or last before it, becomes a strong one. */
    strongHere() {
      const heard = editor.beats[this.layer]?.beats || [];
      const near = heard.reduce(
        (best, beat) =>
          Math.abs(beat.at_s - editor.time) < Math.abs((best?.at_s ?? 1e9) - editor.time) ? beat : best,
        null,
      );
      if (near) this.count({ strong: near.number });
    },
    forget() {
      editor.edit({ kind: "set-beats", asset: this.asset.id, beats: null });
    },
    marks(which) {
      editor.edit({ kind: "beats-to-marks", scene: editor.sceneId, layer: this.layer, which });
    },
    /** Taps while it plays: what is heard just then, whatever picture is shown. */
    tap() {
      const now = performance.now();
      const before = this.taps.at(-1);
      const at_s = editor.player.moment;
      const again = before && at_s < before.at_s; // it has begun from its start
      if (again && this.taps.length >= ENOUGH) return;
      if (!before || again || now - before.now > PAUSE_MS) this.taps = [];
      this.taps.push({ now, at_s });
      clearTimeout(this.waiting);
      this.waiting = setTimeout(() => this.tapped(), PAUSE_MS);
    },
    tapped() {
      const at_s = this.taps.map((tap) => tap.at_s);
      this.taps = [];
      if (at_s.length < ENOUGH) {
        note(`Tap at least ${ENOUGH} beats while it plays.`, { bad: true });
        return;
      }
      const heard = { scene: editor.sceneId, layer: this.layer, at_s };
      editor.edit({ kind: "tap-beats", asset: this.asset.id, heard });
    },
  }));
}
