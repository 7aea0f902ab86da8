// The card of the tour beside the stage: the task, whether it is done, the way on.
import { Alpine } from "../common.js";
import { api } from "../api.js";
import { complain } from "../notes.js";
import { keepTour, tourOf } from "../tour.js";
import { isDone, tasks } from "./tour_tasks.js";

const NEXT_MS = 1400;

export function registerTour(editor) {
  const all = tasks();
  let tour = tourOf(editor.projectId);

  Alpine.data("tourCard", () => ({
    shown: false,
    over: false,
    done: false,
    title: "",
    text: "",
    step: "",
    init() {
      if (!tour) return;
      editor.on("document", () => this.check());
      if (editor.project) this.check();
    },
    check() {
      if (!tour || !editor.scene) return;
      tour.before ||= structuredClone(editor.scene);
      const task = all[tour.at];
      this.shown = true;
      this.over = !task;
      if (!task) return;
      this.title = task.title;
      this.text = task.text;
      this.step = `${tour.at + 1} of ${all.length}`;
      if (!this.done && isDone(tour.at, tour.before, editor.scene)) {
        this.done = true;
        setTimeout(() => this.next(), NEXT_MS);
      }
    },
    next() {
      this.done = false;
      tour = { ...tour, at: tour.at + 1, before: structuredClone(editor.scene) };
      keepTour(tour);
      this.check();
    },
    end() {
      tour = null;
      keepTour(null);
      this.shown = false;
    },
    /** The project that was made for the tour is not needed any more. */
    async remove() {
      try {
        await api.deleteProject(editor.projectId);
        this.end();
        location.href = "/";
      } catch (error) {
        complain(error);
      }
    },
  }));
}
