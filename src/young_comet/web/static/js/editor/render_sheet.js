// The sheet that asks what is rendered.
import { Alpine } from "../common.js";
import { megabytes, newId, timecode, trim } from "../formats.js";
import { note, sentence } from "../notes.js";
import { api } from "../api.js";

/** About how long, in words. */
const about = (seconds) =>
  seconds < 90 ? `${Math.max(1, Math.round(seconds))} s` : `${Math.round(seconds / 60)} min`;

export function registerRenderSheet(editor) {
  Alpine.data("renderSheet", () => ({
    format: "mp4",
    also: [],
    from: "0s",
    to: "",
    scale: "1",
    width: "1280",
    name: "{scene}",
    names: "",
    quality: "good",
    odd: "pad",
    step: "1",
    rates: [],
    alone: false,
    chosen: [],
    transparent: false,
    without: false,
    scene: "",
    heard: false,
    bare: false,
    ground: "#000000",
    sound: true,
    loudness: "",
    measured: "",
    loops: "0",
    colours: "256",
    dither: "ordered",
    formats: [],
    qualities: [],
    presets: [],
    preset: "",
    naming: false,
    newName: "",
    facts: "",
    odds: "",
    notes: [],
    problem: "",
    starting: false,
    turn: 0,
    open() {
      this.scene = editor.scene.name;
      this.rates = editor.catalog.rates.map((rate, place) => ({ ...rate, id: `rate:${place}` }));
      this.qualities = editor.catalog.qualities;
      this.formats = editor.catalog.formats;
      const [start, end] = editor.scene.range_s || [0, editor.scene.length_s];
      this.from = `${trim(start)}s`;
      this.to = `${trim(end)}s`;
      this.chosen = editor.layers.filter((layer) => editor.selected.has(layer.id));
      this.alone = false;
      this.naming = false;
      this.listPresets();
      this.problem = this.measured = "";
      this.$root.showModal();
      this.plan();
    },
    close() {
      this.$root.close();
    },
    listPresets() {
      this.presets = editor.project.presets.map(({ id, name }) => ({ id, name }));
      if (!this.presets.some((each) => each.id === this.preset)) this.preset = "";
    },
    /** Everything as a preset has it; range and layers stay. */
    take() {
      const chosen = editor.project.presets.find((each) => each.id === this.preset)?.settings;
      if (!chosen) return;
      Object.assign(this, {
        format: chosen.format,
        also: [...chosen.also],
        name: chosen.name,
        ...this.sizeOf(chosen.scale),
        quality: chosen.quality,
        odd: chosen.odd,
        transparent: chosen.transparent,
        without: chosen.leave_out_backdrops,
        ground: chosen.ground,
        sound: chosen.sound,
        loudness: chosen.loudness === null ? "" : String(chosen.loudness),
        loops: String(chosen.loops),
        colours: String(chosen.colours),
        dither: chosen.dither,
        step: this.stepOf(chosen),
      });
      this.plan();
    },
    sizeOf(scale) {
      const known = ["0.25", "0.5", "1", "2"].includes(String(scale));
      if (known) return { scale: String(scale) };
      return { scale: "own", width: String(Math.round(scale * editor.scene.width)) };
    },
    stepOf({ rate, every }) {
      const own = rate && this.rates.find((each) => each.num === rate.num && each.den === rate.den);
      return own ? own.id : String(every);
    },
    async keep() {
      const name = this.newName.trim();
      if (!this.naming || !name) {
        this.naming = !this.naming;
        return;
      }
      const id = newId();
      if (await editor.edit({ kind: "save-preset", id, name, settings: await this.settings() })) {
        this.naming = false;
        this.newName = "";
        this.listPresets();
        this.preset = id;
      }
    },
    async forget() {
      await editor.edit({ kind: "remove-preset", preset: this.preset });
      this.listPresets();
    },
    get keepTitle() {
      return this.naming ? "Keep under this name" : "Keep what is chosen as a preset of the project";
    },
    /** What can be made, with whether it is, and whether it may be made beside the others. */
    get purposes() {
      return this.formats
        .filter((each) => this.heard || each.holds !== "sound")
        .map((each) => ({
          ...each,
          on: each.id === this.format || this.also.includes(each.id),
          beside: each.id !== this.format && this.fits(each),
          title: this.also.includes(each.id) ? `Leave ${each.label} out` : `Make ${each.label} as well`,
        }));
    },
    get wanted() {
      return this.formats.filter((each) => each.id === this.format || this.also.includes(each.id));
    },
    fits(each) {
      const first = this.formats.find((one) => one.id === this.format);
      return (each.holds === "still") === (first.holds === "still") && each.ending !== first.ending;
    },
    any(test) {
      return this.wanted.some(test);
    },
    /** What the files hold, and so which rows are asked for. */
    get still() {
      return this.any((each) => each.holds === "still");
    },
    get seen() {
      return this.any((each) => each.holds === "film" || each.holds === "still");
    },
    get moves() {
      return this.any((each) => each.holds === "film");
    },
    get alpha() {
      return this.any((each) => each.alpha);
    },
    get opaque() {
      return this.any((each) => (each.holds === "film" || each.holds === "still") && !each.alpha);
    },
    get asksQuality() {
      return this.any((each) => each.qualities);
    },
    get asksLoops() {
      return this.any((each) => each.animation);
    },
    get asksColours() {
      return this.any((each) => each.id === "gif");
    },
    get hasSound() {
      return this.heard && this.any((each) => each.heard);
    },
    get asksLoudness() {
      return this.heard && this.any((each) => each.holds === "sound" || (each.heard && this.sound));
    },
    get asksGround() {
      return (this.opaque && this.bare) || (this.asksColours && this.transparent);
    },
    get aloneText() {
      const names = this.chosen.map((layer) => layer.name);
      return names.length > 2 ? `only the ${names.length} selected layers` : `only ${names.join(" and ")}`;
    },
    choose(format) {
      this.format = format;
      this.also = this.also.filter((id) => id !== format && this.fits(this.formats.find((f) => f.id === id)));
      // What is laid over something else is to be seen through, unless told otherwise.
      this.transparent = ["mov", "webm"].includes(format);
      this.plan();
    },
    beside(format) {
      const known = this.also.includes(format);
      this.also = known ? this.also.filter((id) => id !== format) : [...this.also, format];
      this.plan();
    },
    async settings() {
      const time = async (text) => (await api.parseTime(text, editor.rate, 0)).value;
      const transparent = this.alpha && this.transparent;
      const settings = {
        format: this.format,
        also: this.also,
        scale: this.scale === "own" ? Number(this.width) / editor.scene.width : Number(this.scale),
        name: this.name || "{scene}",
        quality: this.quality,
        ground: this.ground,
        transparent,
        leave_out_backdrops: transparent && this.without,
        layers: this.alone ? this.chosen.map((layer) => layer.id) : [],
      };
      if (this.still) return { ...settings, at_s: editor.time };
      return {
        ...settings,
        from_s: await time(this.from),
        to_s: await time(this.to),
        odd: this.odd,
        ...this.pace(),
        sound: this.sound,
        loudness: this.asksLoudness && this.loudness ? Number(this.loudness) : null,
        loops: Number(this.loops),
        colours: Number(this.colours),
        dither: this.dither,
      };
    },
    /** Which frames: every so many of the scene, or at a rate of the file's own. */
    pace() {
      const rate = this.rates.find((each) => each.id === this.step);
      return rate ? { rate: { num: rate.num, den: rate.den } } : { every: Number(this.step) };
    },
    async plan() {
      const turn = (this.turn += 1); // of answers that overtake each other the last one counts
      this.problem = "";
      try {
        const plan = await api.planRender(editor.projectId, editor.sceneId, await this.settings());
        if (turn !== this.turn) return;
        this.heard = plan.heard;
        this.bare = plan.bare;
        this.odds = plan.notice;
        this.notes = plan.notes;
        this.names = plan.names.join(", ");
        this.facts = this.told(plan);
      } catch (error) {
        if (turn !== this.turn) return;
        this.problem = sentence(error.message);
        this.facts = "";
      }
    },
    /** What comes of it: size, frames, and about how large and how long in coming. */
    told(plan) {
      const size = `${plan.width} × ${plan.height}`;
      const coming = `about ${megabytes(plan.about.size_bytes)}, ready in about ${about(plan.about.seconds)}`;
      if (this.still) return `${size}, the frame at ${timecode(editor.frame, editor.rate)}`;
      if (this.seen) return `${size}, ${plan.frames} frames · ${coming}`;
      if (this.wanted.every((each) => each.holds === "sound")) {
        return `${trim(plan.seconds, 2)} s, stereo, 48 kHz, 24 bits`;
      }
      return `${trim(plan.seconds, 2)} s`;
    },
    async measure() {
      this.measured = "Listening…";
      try {
        this.measured = (await api.loudness(editor.projectId, editor.sceneId)).told;
      } catch (error) {
        this.measured = sentence(error.message);
      }
    },
    async start() {
      if (this.starting) return;
      this.starting = true;
      try {
        await api.startRender(editor.projectId, editor.sceneId, await this.settings());
        this.close();
        note(`${this.scene} is being rendered.`, {
          action: "Show renders",
          seconds: 9,
          run: () => (location.href = "/renders"),
        });
      } catch (error) {
        this.problem = sentence(error.message);
      } finally {
        this.starting = false;
      }
    },
  }));
}
