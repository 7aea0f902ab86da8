// The table of chosen keys, and the gallery of easings.
import { Alpine } from "../common.js";
import { newId, timecode, trim } from "../formats.js";
import { note, sentence } from "../notes.js";
import { api } from "../api.js";
import { curvePath, describe } from "./easings.js";

export function registerKeySheets(editor) {
  Alpine.data("keyTable", () => ({
    rows: [],
    open() {
      this.update();
      this.$root.showModal();
    },
    close() {
      this.$root.close();
    },
    init() {
      editor.on("document", () => this.$root.open && this.update());
    },
    update() {
      this.rows = editor.chosenKeys.slice(0, 400).map((entry) => {
        const key = editor.keyOf(entry);
        const spec = editor.spec(editor.layer(entry.layer), entry.property);
        const time = editor.keyTime(entry);
        return {
          ...entry,
          id: `${entry.layer}|${entry.property}|${entry.key}`,
          name: `${editor.layer(entry.layer).name} · ${spec.name}`,
          time: trim(time, 4),
          frame: trim(time * (editor.rate.num / editor.rate.den), 3),
          code: timecode(editor.frameAt(time), editor.rate),
          value: Array.isArray(key.value)
            ? key.value
                .map((part) => (typeof part === "number" ? trim(part, 3) : JSON.stringify(part)))
                .join(", ")
            : String(typeof key.value === "number" ? trim(key.value, 4) : key.value),
          kind: spec.kind,
          easing: editor.easingText(key.easing),
          unit: spec.unit,
        };
      });
    },
    async change(row, more) {
      const { layer, property, key } = row;
      const done = await editor.edit({
        kind: "change-keys",
        scene: editor.sceneId,
        rows: [{ layer, property, key, ...more }],
      });
      if (!done) this.update();
    },
    /** The key goes; the others stay chosen. */
    remove(row) {
      const { layer, property, key } = row;
      editor.edit({ kind: "remove-keys", scene: editor.sceneId, keys: [{ layer, property, key }] });
    },
    /** Keys at the playhead on the properties of the table, chosen with the others. */
    async add() {
      const names = new Set(this.rows.map(({ layer, property }) => `${layer}|${property}`));
      const targets = [...names].map((name) => {
        const [layer, property] = name.split("|");
        return { layer, property };
      });
      const set = { kind: "set-keys", scene: editor.sceneId, targets, time_s: editor.time };
      if (!targets.length || !(await editor.edit(set))) return;
      const half = editor.timeOf(1) / 2;
      const here = targets.flatMap(({ layer, property }) => {
        const { start_s, properties } = editor.layer(layer);
        return (properties[property]?.keys || [])
          .filter((key) => Math.abs(start_s + key.time_s - editor.time) < half)
          .map((key) => ({ layer, property, key: key.id }));
      });
      editor.selectKeys(here, { add: true });
      this.update();
    },
    /** The easing of one row for all of them. */
    easeAll(row) {
      editor.edit({
        kind: "ease-keys",
        scene: editor.sceneId,
        keys: editor.chosenKeys,
        easing: editor.keyOf(row).easing,
      });
    },
    async typeTime(row, event) {
      try {
        const value = await editor.meaning(api.parseTime(event.target.value, editor.rate, Number(row.time)));
        await this.change(row, { time_s: value });
      } catch (error) {
        note(sentence(error.message), { bad: true });
        this.update();
      }
    },
    async typeValue(row, event) {
      try {
        const parts =
          row.kind === "point"
            ? event.target.value.split(/[,;]\s*|\s+/).filter(Boolean)
            : [event.target.value];
        const numbers = await editor.working(
          Promise.all(
            parts.map(async (part) => (await api.parseNumber(part, { px: 1, "%": 1, "°": 1, s: 1 })).value),
          ),
        );
        if (row.kind === "point" && numbers.length !== 2) {
          throw new Error("Type two numbers, for example 640, 360.");
        }
        await this.change(row, { value: row.kind === "point" ? numbers : numbers[0] });
      } catch (error) {
        if (row.kind === "colour") await this.change(row, { value: event.target.value.trim() });
        else {
          note(sentence(error.message), { bad: true });
          this.update();
        }
      }
    },
    async typeEasing(row, event) {
      await this.change(row, { easing: event.target.value.trim() });
    },
  }));

  Alpine.data("easingGallery", () => ({
    sections: [],
    own: [],
    then: null,
    now: "",
    name: "",
    typed: "",
    open(event) {
      this.then = event.detail.then;
      this.now = event.detail.easing;
      this.typed = event.detail.typed;
      this.update();
      this.$root.showModal();
      this.run();
    },
    close() {
      this.$root.close();
    },
    async update() {
      const groups = new Map();
      for (const entry of editor.catalog.gallery) {
        if (!groups.has(entry.section)) groups.set(entry.section, []);
        groups.get(entry.section).push({
          ...entry,
          path: curvePath(entry.samples),
          cls: entry.easing === this.now ? "on" : "",
          title: entry.easing,
        });
      }
      this.sections = [...groups].map(([label, entries]) => ({ label, entries }));
      const own = await Promise.all(
        editor.project.easings.map(async (each) => ({
          ...each,
          ...(await describe(each.easing)),
          id: each.id,
        })),
      );
      this.own = own.map((each) => ({
        ...each,
        path: curvePath(each.samples),
        cls: `easing:${each.id}` === this.now ? "on" : "",
      }));
    },
    /** The balls run along all curves while the gallery is open. */
    run() {
      if (matchMedia("(prefers-reduced-motion: reduce)").matches) return;
      const began = performance.now();
      const step = () => {
        if (!this.$root.open) return;
        const round = ((performance.now() - began) / 1400) % 1.35;
        const at = Math.min(1, round);
        for (const ball of this.$root.querySelectorAll("[data-samples]")) {
          const samples = ball.samples || (ball.samples = JSON.parse(ball.dataset.samples));
          const place = at * (samples.length - 1);
          const low = Math.floor(place);
          const value =
            samples[low] + (samples[Math.min(samples.length - 1, low + 1)] - samples[low]) * (place - low);
          ball.style.transform = `translateX(${(value * 62).toFixed(1)}px)`;
        }
        requestAnimationFrame(step);
      };
      requestAnimationFrame(step);
    },
    samplesOf: (entry) => JSON.stringify(entry.samples),
    choose(entry) {
      this.then(entry.easing);
      this.close();
    },
    refer(entry) {
      this.then(`easing:${entry.id}`);
      this.close();
    },
    copy(entry) {
      this.then(entry.easing);
      this.close();
    },
    async save() {
      const name = this.name.trim() || "My easing";
      try {
        const { easing } = await editor.working(describe(this.typed.trim()));
        await editor.edit({ kind: "add-easing", id: newId(), name, easing });
        this.name = "";
        this.update();
      } catch (error) {
        note(sentence(error.message), { bad: true });
      }
    },
    async rename(entry, event) {
      await editor.edit({
        kind: "change-easing",
        id: entry.id,
        name: event.target.value.trim() || entry.name,
      });
      this.update();
    },
    async reshape(entry, event) {
      await editor.edit({ kind: "change-easing", id: entry.id, easing: event.target.value.trim() });
      this.update();
    },
    async remove(entry) {
      await editor.edit({ kind: "remove-easing", id: entry.id });
      this.update();
    },
  }));
}
