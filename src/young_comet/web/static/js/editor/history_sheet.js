// The history: every step with where and when it was done, the picture that a step leaves behind, and the
// way back to it.
import { Alpine } from "../common.js";
import { ago } from "../formats.js";
import { complain } from "../notes.js";
import { api } from "../api.js";

export function registerHistory(editor) {
  Alpine.data("historySheet", () => ({
    steps: [],
    here: false, // only what was done in this scene
    looked: null, // the step whose picture is shown
    picture: "",
    missing: false,
    lookedLabel: "",
    goText: "",
    away: false, // whether it is another step than the one that is in effect
    busy: false,
    async open() {
      this.$root.showModal();
      this.looked = null;
      this.picture = "";
      await this.load();
      const last = this.steps.find((step) => step.in_effect);
      if (last) this.look(last);
    },
    async load() {
      try {
        const steps = await api.history(editor.projectId);
        const beginning = { number: 0, label: "The beginning", scenes: [], in_effect: true };
        this.steps = [...(steps.length ? [beginning] : []), ...steps]
          .map((step) => ({
            ...step,
            when: step.made_at ? ago(step.made_at) : "",
            where: step.number ? this.whereOf(step) : "",
          }))
          .reverse();
      } catch (error) {
        complain(error);
      }
    },
    whereOf(step) {
      const [first, ...more] = step.scenes;
      if (!first) return "the project";
      const name = editor.project.scenes.find((scene) => scene.id === first)?.name || "a scene that is gone";
      return more.length ? `${name} and more` : name;
    },
    get shown() {
      return this.here
        ? this.steps.filter((step) => !step.number || step.scenes.includes(editor.sceneId))
        : this.steps;
    },
    /** The number of the last step in effect. */
    get position() {
      return this.steps.find((step) => step.in_effect)?.number ?? 0;
    },
    classOf(step) {
      const now = step.number === this.position ? "now" : step.in_effect ? "" : "undone";
      return `${now} ${step.number === this.looked?.number ? "looked" : ""}`;
    },
    /** Shows what a step leaves behind, in the scene that it was done in. */
    look(step) {
      this.looked = step;
      this.lookedLabel = step.label;
      this.missing = false;
      const elsewhere = step.scenes.length && !step.scenes.includes(editor.sceneId);
      const scene = elsewhere ? step.scenes[0] : editor.sceneId;
      const other = editor.project.scenes.find((each) => each.id === scene);
      const time = elsewhere ? (other?.length_s ?? 0) / 2 : editor.time;
      this.picture = api.frameUrl(editor.projectId, scene, time, 270, editor.revision, step.number);
      const way = step.number - this.position;
      this.away = way !== 0;
      const many = Math.abs(way) === 1 ? "a step" : `${Math.abs(way)} steps`;
      this.goText = way ? `Go ${way < 0 ? "back" : "on"} to here, ${many}` : "This is how it is now";
    },
    unseen() {
      this.missing = true;
    },
    close() {
      this.$root.close();
    },
    /** Undoes or redoes up to and including a step. */
    async go(step) {
      if (this.busy || !step || step.number === this.position) return;
      this.busy = true;
      const way = step.number - this.position;
      for (let i = 0; i < Math.abs(way); i += 1) {
        if (!(await (way < 0 ? editor.undo() : editor.redo()))) break;
      }
      this.busy = false;
      await this.load();
      this.look(step);
    },
  }));
}
