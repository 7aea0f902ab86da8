// The Timing tab: chosen keys, their easing and repeats.
import { Alpine } from "../common.js";
import { afterPaint, trim } from "../formats.js";
import { complain, note, sentence } from "../notes.js";
import { api } from "../api.js";
import { curvePath, describe, withNumbers } from "./easings.js";
import { openPicker } from "./picker.js";

const QUICK = [
  "linear",
  "ease",
  "ease-in",
  "ease-out",
  "ease-in-out",
  "hold",
  "back-out(0.1)",
  "spring(0.45)",
  "bounce-out",
];
const short = (easing) => easing.replace(/\(.*$/, "");

export function registerTimingPanel(editor) {
  const keyEdit = (kind, more = {}) =>
    editor.edit({ kind, scene: editor.sceneId, keys: editor.chosenKeys, ...more });
  const keyed = () => {
    const seen = new Map();
    for (const entry of editor.chosenKeys) {
      seen.set(`${entry.layer}|${entry.property}`, { layer: entry.layer, property: entry.property });
    }
    return [...seen.values()];
  };

  Alpine.data("keysPanel", () => ({
    waiting: false,
    described: null,
    late: 0,
    count: 0,
    what: "",
    timeText: "",
    how: "set",
    values: [],
    colour: "",
    hasColour: false,
    style: {},
    join: "",
    manyTimes: false,
    side: "after",
    sides: [
      { id: "after", label: "To next" },
      { id: "leave", label: "Leave" },
      { id: "arrive", label: "Arrive" },
      { id: "around", label: "Both" },
    ],
    quick: [],
    easing: "",
    easingName: "",
    path: "",
    bezier: false,
    h: { x1: 0, y1: 100, x2: 100, y2: 0 },
    parameters: [],
    settleNote: "",
    mode: "",
    times: "",
    canRepeat: false,
    stretchBy: "100",
    about: "start",
    isPath: false,
    typed: "",
    init() {
      editor.on("selection document view tab", () => this.schedule());
      if (editor.project) this.update();
    },
    schedule() {
      if (this.waiting || editor.isPreviewing) return;
      this.waiting = true;
      afterPaint(() => {
        this.waiting = false;
        if (this.$root.offsetParent !== null) this.update();
      });
    },
    update() {
      if (!editor.kinds || !editor.scene) return;
      const chosen = editor.chosenKeys;
      this.count = chosen.length;
      if (!chosen.length || this.$root.contains(document.activeElement?.closest?.("input.field, textarea"))) {
        return;
      }
      const keys = chosen.map((entry) => editor.keyOf(entry));
      const names = keyed().map(
        ({ layer, property }) =>
          `${editor.spec(editor.layer(layer), property).label} of ${editor.layer(layer).name}`,
      );
      this.what =
        names.length === 1
          ? `${keys.length === 1 ? "1 key" : `${keys.length} keys`} · ${names[0]}`
          : `${keys.length} keys · ${names.length} properties`;
      this.timeText = keys.length === 1 ? `${trim(editor.keyTime(chosen[0]), 4)}s` : "";
      this.manyTimes = keys.length > 1;
      this.updateValues(chosen, keys);
      const joins = new Set(keys.map((key) => key.join));
      this.join = joins.size === 1 ? keys[0].join : "";
      this.isPath = chosen.every((entry) => entry.property === "position");
      this.updateRepeat();
      this.updateEasing(chosen, keys);
    },
    updateValues(chosen, keys) {
      const specs = chosen.map((entry) => editor.spec(editor.layer(entry.layer), entry.property));
      const kind = specs.every((spec) => spec.kind === specs[0].kind) ? specs[0].kind : "";
      this.hasColour = kind === "colour";
      this.values = [];
      if (kind === "number" || kind === "point") {
        const count = kind === "point" ? 2 : 1;
        const all = keys.map((key) => (count === 1 ? [key.value] : key.value));
        for (let index = 0; index < count; index += 1) {
          const same = all.every((value) => Math.abs(value[index] - all[0][index]) < 1e-9);
          this.values.push({
            index,
            text: same && this.how === "set" ? trim(all[0][index], 3) : "",
            hint: same ? trim(all[0][index], 2) : "mixed",
            label: count === 1 ? "Value" : `Value ${index ? "y" : "x"}`,
          });
        }
      }
      if (this.hasColour) {
        this.colour = keys[0].value;
        this.style = { background: editor.colourOf(this.colour) };
      }
    },
    updateRepeat() {
      const repeats = keyed().map(({ layer, property }) => editor.layer(layer).properties[property]);
      this.canRepeat = repeats.every((property) => property.keys.length > 1);
      const [first] = repeats;
      this.mode = first.repeat?.mode || "";
      this.times = first.repeat?.times ? String(first.repeat.times) : "";
    },
    async updateEasing(chosen, keys) {
      const equal = keys.every((key) => key.easing === keys[0].easing);
      this.easing = equal ? keys[0].easing : "";
      const saved = editor.project.easings.find((each) => `easing:${each.id}` === this.easing);
      this.easingName = equal ? (saved ? saved.name : this.easing) : "different easings";
      this.typed = equal ? editor.easingText(this.easing) : "";
      const own = editor.project.easings.map((each) => ({
        easing: `easing:${each.id}`,
        label: each.name,
        own: true,
      }));
      const list = [...QUICK.map((each) => ({ easing: each, label: short(each), own: false })), ...own];
      this.quick = list.map((each) => ({
        ...each,
        on: each.easing === this.easing,
        cls: `${each.easing === this.easing ? "on" : ""} ${each.own ? "own" : ""}`,
      }));
      if (!equal) {
        this.path = "";
        this.bezier = false;
        this.parameters = [];
        return;
      }
      const length = segmentLength(chosen[0]);
      try {
        this.show(await describe(editor.easingText(this.easing), length), length);
      } catch (error) {
        complain(error);
      }
    },
    show(description, length) {
      this.described = description;
      this.path = curvePath(description.samples);
      this.bezier = Boolean(description.handles) && !this.easing.startsWith("easing:");
      const [x1, y1, x2, y2] = description.handles || [0, 0, 1, 1];
      this.h = { x1: x1 * 100, y1: 100 - y1 * 100, x2: x2 * 100, y2: 100 - y2 * 100 };
      const handles = this.bezier
        ? [x1, y1, x2, y2].map((value, index) => ({
            id: `h${index}`,
            index,
            label: ["x1", "y1", "x2", "y2"][index],
            title: `Handle ${["x1", "y1", "x2", "y2"][index]}`,
            text: trim(value, 3),
            handle: true,
          }))
        : [];
      const numbers = this.easing.startsWith("easing:")
        ? []
        : description.parameters.map((each, index) => ({
            id: `p${index}`,
            index,
            label: each.label,
            title: each.label,
            text: trim(each.value, 4),
            handle: false,
          }));
      this.parameters = [...handles, ...numbers];
      const late = description.settles_s !== null && length && description.settles_s > length;
      this.settleNote =
        description.settles_s === null
          ? ""
          : late
            ? `Settles ${trim(description.settles_s - length, 2)} s after the next key`
            : `Settles in ${trim(description.settles_s, 2)} s`;
      this.late = late ? description.settles_s : 0;
    },
    get settleAction() {
      return this.late && this.count === 1 ? "Move the next key there" : "";
    },
    settle() {
      const [entry] = editor.chosenKeys;
      const keys = editor.layer(entry.layer).properties[entry.property].keys;
      const next = keys[keys.findIndex((key) => key.id === entry.key) + 1];
      if (next) {
        editor.edit({
          kind: "move-keys",
          scene: editor.sceneId,
          moves: [{ ...entry, key: next.id, time_s: editor.keyTime(entry) + this.late }],
        });
      }
    },

    // Changing
    ease(easing) {
      keyEdit("ease-keys", { easing, side: this.side });
    },
    async typeEasing(event) {
      try {
        const { easing } = await editor.working(describe(event.target.value.trim()));
        event.target.blur();
        this.ease(easing);
      } catch (error) {
        note(sentence(error.message), { bad: true });
      }
    },
    async typeParameter(part, event) {
      const value = Number(event.target.value.replace(",", "."));
      if (!Number.isFinite(value)) {
        note(`${part.label} is a number.`, { bad: true });
        return;
      }
      const numbers = part.handle
        ? [...this.described.handles]
        : this.described.parameters.map((each) => each.value);
      numbers[part.index] = value;
      event.target.blur();
      const text = part.handle
        ? `cubic-bezier(${numbers.map((number) => trim(number, 5)).join(", ")})`
        : withNumbers(this.described, numbers);
      try {
        const { easing } = await editor.working(describe(text));
        keyEdit("ease-keys", { easing });
      } catch (error) {
        note(sentence(error.message), { bad: true });
        this.update();
      }
    },
    dragHandle(index, event) {
      const svg = event.target.ownerSVGElement;
      const numbers = [...this.described.handles];
      let edit = null;
      const move = (now) => {
        const point = new DOMPoint(now.clientX, now.clientY).matrixTransform(svg.getScreenCTM().inverse());
        numbers[index] = Math.min(1, Math.max(0, point.x / 100));
        numbers[index + 1] = Math.min(4, Math.max(-3, 1 - point.y / 100));
        const easing = `cubic-bezier(${numbers.map((value) => trim(value, 3)).join(", ")})`;
        edit = { kind: "ease-keys", scene: editor.sceneId, keys: editor.chosenKeys, easing };
        const [x1, y1, x2, y2] = numbers;
        this.h = { x1: x1 * 100, y1: 100 - y1 * 100, x2: x2 * 100, y2: 100 - y2 * 100 };
        describe(easing).then(
          (description) => edit && (this.path = curvePath(description.samples)),
          () => {},
        );
        editor.preview([edit]);
      };
      const up = () => {
        window.removeEventListener("pointermove", move);
        editor.commit();
        if (edit) editor.edit(edit);
      };
      window.addEventListener("pointermove", move);
      window.addEventListener("pointerup", up, { once: true });
    },
    openGallery() {
      const then = (easing) => keyEdit("ease-keys", { easing, side: this.side });
      window.dispatchEvent(
        new CustomEvent("open-gallery", { detail: { easing: this.easing, typed: this.typed, then } }),
      );
    },
    setSide(side) {
      this.side = side.id;
    },
    setJoin(join) {
      keyEdit("join-keys", { join });
    },
    setHow(event) {
      this.how = event.target.value;
      this.update();
    },
    async typeValue(part, event) {
      const entry = editor.chosenKeys[0];
      const spec = editor.spec(editor.layer(entry.layer), entry.property);
      try {
        const frame = part.index ? editor.scene.height : editor.scene.width;
        const units = { px: 1, "°": 1, s: 1, "%": spec.unit === "%" ? 1 : frame / 100 };
        const value = await editor.meaning(
          api.parseNumber(event.target.value, this.how === "multiply" ? {} : units),
        );
        event.target.blur();
        keyEdit("change-key-values", {
          how: this.how,
          value,
          part: this.values.length > 1 ? part.index : null,
        });
      } catch (error) {
        note(sentence(error.message.replace(/^value: /, "")), { bad: true });
      }
    },
    openColour(event) {
      const edit = (value) => ({
        kind: "change-key-values",
        scene: editor.sceneId,
        keys: editor.chosenKeys,
        how: "set",
        value,
      });
      openPicker(event.currentTarget, this.colour, (colour, done) => {
        if (done) {
          editor.commit(edit(colour));
        } else editor.preview([edit(colour)]);
      });
    },
    async typeTime(event) {
      const chosen = editor.chosenKeys;
      try {
        const value = await editor.meaning(
          api.parseTime(event.target.value, editor.rate, editor.keyTime(chosen[0])),
        );
        event.target.blur();
        const by = value - editor.keyTime(chosen[0]);
        const rows = chosen.map((entry) => ({ ...entry, time_s: editor.keyTime(entry) + by }));
        editor.edit({ kind: "change-keys", scene: editor.sceneId, rows });
      } catch (error) {
        note(sentence(error.message), { bad: true });
      }
    },
    reverse: () => keyEdit("reverse-keys"),
    distribute: () => keyEdit("distribute-keys"),
    mirror: () => keyEdit("mirror-keys"),
    mirrorX: () => keyEdit("mirror-keys", { axis: "x" }),
    mirrorY: () => keyEdit("mirror-keys", { axis: "y" }),
    round: () => keyEdit("round-path", { round: true }),
    corner: () => keyEdit("round-path", { round: false }),
    takeOut: () => keyEdit("take-keys"),
    remove: () => keyEdit("remove-keys"),
    table: () => window.dispatchEvent(new Event("open-key-table")),
    stretch() {
      const factor = Number(this.stretchBy.replace(",", ".").replace("%", "")) / 100;
      const times = editor.chosenKeys.map((entry) => editor.keyTime(entry));
      const about_s = { start: Math.min(...times), end: Math.max(...times), playhead: editor.time }[
        this.about
      ];
      if (factor > 0) keyEdit("stretch-keys", { about_s, factor });
      else note("Stretch by a percentage above 0.", { bad: true });
    },
    setRepeat() {
      const times = Number(this.times) >= 2 ? Math.round(Number(this.times)) : null;
      editor.edit({
        kind: "repeat-keys",
        scene: editor.sceneId,
        targets: keyed(),
        mode: this.mode || null,
        times,
      });
    },
  }));

  function segmentLength(entry) {
    const keys = editor.layer(entry.layer).properties[entry.property].keys;
    const index = keys.findIndex((key) => key.id === entry.key);
    return keys[index + 1] ? keys[index + 1].time_s - keys[index].time_s : 1;
  }
}
