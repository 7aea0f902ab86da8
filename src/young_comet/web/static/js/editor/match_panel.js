// The match finder: where two pictures agree, and whether a scene loops.
import { Alpine } from "../common.js";
import { timecode, trim } from "../formats.js";
import { note } from "../notes.js";
import { api } from "../api.js";

export function registerMatchPanel(editor) {
  Alpine.data("matchPanel", () => ({
    matchId: 0,
    how: "loop",
    one: "",
    other: "",
    scene: "",
    at: "0s",
    layers: [],
    scenes: [],
    running: false,
    progress: 0,
    left: "",
    result: null,
    best: [],
    curve: "",
    verdict: "",
    problem: "",
    init() {
      editor.on("document", () => this.update());
      editor.on("match", (header) => this.hear(header));
      if (editor.project) this.update();
    },
    update() {
      if (!editor.scene) return;
      this.layers = editor.layers.map(({ id, name }) => ({ id, name })).reverse();
      this.scenes = editor.project.scenes.map(({ id, name }) => ({ id, name }));
      if (!this.layers.some((each) => each.id === this.one)) this.one = this.layers[0]?.id || "";
      if (this.other === this.one || !this.layers.some((each) => each.id === this.other)) {
        this.other = this.layers.find((each) => each.id !== this.one)?.id || "";
      }
      if (!this.scenes.some((each) => each.id === this.scene)) this.scene = editor.sceneId;
    },
    chooseOne() {
      if (this.other === this.one) this.other = this.others[0]?.id || "";
    },
    async start() {
      const [first, end] = editor.range;
      this.problem = "";
      this.result = null;
      this.verdict = "";
      this.best = [];
      let number = 0;
      if (this.how === "moment") {
        try {
          number = editor.frameAt((await api.parseTime(this.at, editor.rate, editor.time)).value);
        } catch (error) {
          this.problem = error.message;
          return;
        }
      }
      this.matchId += 1;
      this.running = true;
      this.progress = 0;
      this.left = "";
      editor.live.send({
        type: "match",
        id: this.matchId,
        how: this.how,
        first,
        last: end - 1,
        one: this.one,
        other: this.other,
        scene: this.scene,
        number,
      });
    },
    cancel() {
      this.running = false;
      editor.live.send({ type: "cancel-match" });
    },
    /** A layer cannot hand over to itself. */
    get others() {
      return this.layers.filter((each) => each.id !== this.one);
    },
    get progressStyle() {
      return { width: `${this.progress * 100}%` };
    },
    hear(header) {
      if (header.id !== this.matchId || !this.running) return;
      if (header.done) {
        this.progress = header.done / header.total;
        this.left = `${trim(header.left_s, 1)} s left`;
        return;
      }
      this.running = false;
      if (header.error) this.problem = header.error;
      else if (header.loop) this.judge(header.loop);
      else this.show(header);
    },
    judge({ seam, usual, seamless }) {
      const [last, beside] = [trim(seam, 2), trim(usual, 2)];
      const figures = `From the last frame to the first it steps ${last} %, beside it at most ${beside} %.`;
      this.verdict = seamless ? `It loops without a jump. ${figures}` : `It jumps when it loops. ${figures}`;
    },
    show(header) {
      this.result = header;
      const most = Math.max(...header.values.map((value) => value ?? 0), 0.01);
      const last = Math.max(1, header.values.length - 1);
      // Where one of the two shows nothing, the curve has a gap.
      let pen = "M";
      this.curve = header.values
        .map((value, i) => {
          if (value === null) {
            pen = "M";
            return "";
          }
          const point = `${pen}${((i / last) * 250).toFixed(1)} ${(56 - (value / most) * 52).toFixed(1)}`;
          pen = "L";
          return point;
        })
        .join(" ");
      if (!header.best.length) {
        this.problem =
          "They show nothing together that could be compared, " +
          "or a cut would leave one of them without a frame.";
      }
      this.best = header.best.map(({ frame, difference }) => ({
        frame,
        difference: `${trim(difference, 2)} %`,
        time: timecode(frame, editor.rate),
        picture: api.frameUrl(editor.projectId, editor.sceneId, editor.timeOf(frame), 72, editor.revision),
        label: `Cut at ${timecode(frame, editor.rate)}`,
      }));
    },
    seek(event) {
      const box = event.currentTarget.getBoundingClientRect();
      const part = (event.clientX - box.left) / box.width;
      editor.goTo(this.result.first + Math.round(part * (this.result.values.length - 1)));
    },
    go(match) {
      editor.goTo(match.frame);
    },
    /** Puts the cut at a moment: one layer ends and the other starts, or the range begins. */
    cut(match) {
      const time = editor.timeOf(match.frame);
      if (this.how === "layers") {
        editor.edit({
          kind: "hand-over",
          scene: editor.sceneId,
          one: this.one,
          other: this.other,
          time_s: time,
        });
        return;
      }
      const end = (editor.scene.range_s || [0, editor.scene.length_s])[1];
      if (end - time < editor.timeOf(1)) note("That is the end of the scene.");
      else editor.edit({ kind: "set-range", scene: editor.sceneId, start_s: time, end_s: end });
    },
  }));
}
