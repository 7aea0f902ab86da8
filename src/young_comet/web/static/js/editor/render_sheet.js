// The sheet that asks what is rendered.
import { Alpine } from "../common.js";
import { timecode, trim } from "../formats.js";
import { note, sentence } from "../notes.js";
import { api } from "../api.js";

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
    /** Whether the file has pictures. */
    get seen() {
      return ["mp4", "png"].includes(this.format);
    },
    setFormat(format) {
      this.format = format;
      this.plan();
    },
    async settings() {
      const time = async (text) => (await api.parseTime(text, editor.rate, 0)).value;
      const common = { format: this.format, scale: Number(this.scale) };
      if (this.format === "png") {
        return {
          ...common,
          at_s: editor.time,
          transparent: this.transparent,
          leave_out_backdrops: this.transparent && this.without,
        };
      }
      return {
        ...common,
        from_s: await time(this.from),
        to_s: await time(this.to),
        quality: this.quality,
        odd: this.odd,
        sound: this.sound,
      };
    },
    async plan() {
      this.problem = "";
      try {
        const settings = await this.settings();
        const plan = await api.planRender(editor.projectId, editor.sceneId, settings);
        this.heard = plan.heard;
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
