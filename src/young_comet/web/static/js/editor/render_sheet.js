// The sheet that asks what is rendered.
import { Alpine } from "../common.js";
import { timecode, trim } from "../formats.js";
import { note, sentence } from "../notes.js";
import { api } from "../api.js";

// What a file is for, and what it is.
const PURPOSES = [
  { id: "mp4", label: "Web and players", file: "MP4, H.264", seen: true, moves: true },
  { id: "mov", label: "To lay over footage", file: "MOV, ProRes 4444", seen: true, moves: true, alpha: true },
  { id: "webm", label: "Over a web page", file: "WebM, VP9", seen: true, moves: true, alpha: true },
  { id: "frames", label: "Frames", file: "PNG, numbered, zipped", seen: true, alpha: true },
  { id: "png", label: "This frame", file: "PNG", seen: true, alpha: true },
  { id: "wav", label: "Sound alone", file: "WAV, 24 bits" },
  { id: "flac", label: "Sound alone, smaller", file: "FLAC, 24 bits" },
];

export function registerRenderSheet(editor) {
  Alpine.data("renderSheet", () => ({
    format: "mp4",
    from: "0s",
    to: "",
    scale: "1",
    quality: "good",
    odd: "pad",
    transparent: false,
    without: false,
    scene: "",
    heard: false,
    bare: false,
    ground: "#000000",
    sound: true,
    qualities: [],
    facts: "",
    notice: "",
    problem: "",
    where: "",
    open() {
      this.scene = editor.scene.name;
      this.qualities = editor.catalog.qualities;
      const [start, end] = editor.scene.range_s || [0, editor.scene.length_s];
      this.from = `${trim(start)}s`;
      this.to = `${trim(end)}s`;
      this.problem = "";
      this.$root.showModal();
      this.plan();
    },
    close() {
      this.$root.close();
    },
    get purposes() {
      return PURPOSES.filter((each) => this.heard || each.seen);
    },
    get purpose() {
      return PURPOSES.find((each) => each.id === this.format);
    },
    /** Whether the file has pictures, whether they move, whether they may be seen through. */
    get seen() {
      return Boolean(this.purpose.seen);
    },
    get moves() {
      return Boolean(this.purpose.moves);
    },
    get alpha() {
      return Boolean(this.purpose.alpha);
    },
    setFormat(format) {
      this.format = format;
      // What is laid over something else is to be seen through, unless told otherwise.
      this.transparent = ["mov", "webm"].includes(format);
      this.plan();
    },
    async settings() {
      const time = async (text) => (await api.parseTime(text, editor.rate, 0)).value;
      const common = { format: this.format, scale: Number(this.scale) };
      if (this.format === "png") {
        return {
          ...common,
          at_s: editor.time,
          ...this.clear(),
        };
      }
      return {
        ...common,
        from_s: await time(this.from),
        to_s: await time(this.to),
        quality: this.quality,
        odd: this.odd,
        sound: this.sound,
        ground: this.ground,
        ...this.clear(),
      };
    },
    clear() {
      const transparent = this.alpha && this.transparent;
      return { transparent, leave_out_backdrops: transparent && this.without };
    },
    async plan() {
      this.problem = "";
      try {
        const settings = await this.settings();
        const plan = await api.planRender(editor.projectId, editor.sceneId, settings);
        this.heard = plan.heard;
        this.bare = plan.bare;
        const still = this.format === "png";
        if (!still && !this.seen) {
          const length = (plan.frames * editor.rate.den) / editor.rate.num;
          this.facts = `${trim(length, 2)} s, stereo, 48 kHz, 24 bits`;
          this.notice = "";
          return;
        }
        const size = still
          ? [editor.scene.width, editor.scene.height].map((side) => Math.round(side * Number(this.scale)))
          : [plan.width, plan.height];
        this.facts = still
          ? `${size[0]} × ${size[1]}, the frame at ${timecode(editor.frame, editor.rate)}`
          : `${size[0]} × ${size[1]}, ${plan.frames} frames`;
        this.notice = still ? "" : plan.notice;
      } catch (error) {
        this.problem = sentence(error.message);
      }
    },
    async start() {
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
      }
    },
  }));
}
