// The Selection tab: fields, keys, easing, span of what is selected.
import { Alpine, complain, note, sentence, trim } from "../common.js";
import { api } from "../api.js";
import { MIXED, sectionsFor, unitsOf, withPart } from "./fields.js";

const KIND_LABEL = { backdrop: "backdrop", shape: "shape", text: "text", picture: "picture", clip: "clip" };
let copied = null;

export function registerSelectionPanel(editor) {
  const folded = new Set(["Drawn part"]);
  let touched = false;

  const targets = (field, valueOf) =>
    editor.selectedLayers.map((layer, index) => ({ layer: layer.id, property: field.id, value: valueOf(index) }));
  const plainTargets = (field) => editor.selectedLayers.map((layer) => ({ layer: layer.id, property: field.id }));

  Alpine.data("selectionPanel", () => ({
    waiting: false, count: 0, placed: true, name: "", iconRef: "", kindText: "", sections: [], alignTo: "frame",
    moving: false, even: false, canFly: false, flown: false, tolerance: "8", flySpeed: "1", flyBeats: "3", duration: "2", shapes: [], frozen: false, isClip: false, playedIn: "",
    span: { start: "", end: "", length: "" }, spanNote: "", others: [],
    newKeys: [], frameText: "", groundText: "", groundStyle: {},

    init() {
      editor.on("view selection document", () => this.schedule());
      editor.on("stop", (index) => {
        editor.chosenStop = index;
        this.update();
      });
      if (editor.project) this.update();
    },
    /** Soon, but while something is dragged only a few times a second: the stage comes first. */
    schedule() {
      if (this.waiting) return;
      this.waiting = true;
      const later = () => {
        this.waiting = false;
        this.update();
      };
      if (editor.drafts.length) setTimeout(later, 250);
      else requestAnimationFrame(later);
    },
    update() {
      if (!editor.kinds) return;
      const layers = editor.selectedLayers;
      this.count = layers.length;
      this.placed = layers.some((layer) => editor.kinds[layer.kind].placed);
      const { scene } = editor;
      this.frameText = `${scene.width} × ${scene.height}`;
      const easing = editor.project.settings.new_key_easing;
      const known = new Set([...editor.catalog.easings, easing]);
      this.newKeys = [...known].map((value) => ({ value, chosen: value === easing }));
      this.groundText = scene.ground ? scene.ground : "transparent";
      this.groundStyle = { background: scene.ground || "transparent" };
      if (!layers.length) return;
      const one = layers.length === 1 ? layers[0] : null;
      this.name = one ? one.name : `${layers.length} layers`;
      this.iconRef = `/static/vendor/icons.svg#${one ? one.kind : "group"}`;
      this.kindText = one ? KIND_LABEL[one.kind] || one.kind : "shared fields";
      if (!this.typing()) this.sections = sectionsFor(editor, folded);
      this.updateSpan(layers);
      this.updateMotion(layers);
    },
    /** While a number or a text is being typed its field is left alone. */
    typing() {
      const element = document.activeElement;
      return element && this.$root.contains(element) && element.matches(".prop input:not([type=checkbox]), .prop textarea") && touched;
    },
    updateSpan(layers) {
      const same = (pick) => layers.every((layer) => Math.abs(pick(layer) - pick(layers[0])) < 1e-9);
      const show = (pick) => (same(pick) ? `${trim(pick(layers[0]), 3)}s` : "");
      this.span = { start: show((l) => l.start_s), end: show((l) => l.end_s), length: show((l) => l.end_s - l.start_s) };
      this.spanNote = layers.length === 1 ? `${editor.frameAt(layers[0].end_s - layers[0].start_s)} frames` : "";
      const chosen = new Set(layers.map((layer) => layer.id));
      this.others = editor.layers.filter((layer) => !chosen.has(layer.id)).map(({ id, name }) => ({ id, name })).reverse();
    },
    updateMotion(layers) {
      const placed = layers.filter((layer) => editor.kinds[layer.kind].placed);
      this.moving = placed.length > 0 && placed.every((layer) => editor.isKeyed(layer, "position"));
      this.even = this.moving && placed.every((layer) => layer.properties.position?.pace === "even");
      this.canFly = layers.length === 1 && placed.length === 1;
      this.flown = this.canFly && Boolean(layers[0].properties.position?.flown);
      this.shapes = editor.layers.filter((layer) => layer.kind === "shape" && !editor.selected.has(layer.id)).map(({ id, name }) => ({ id, name })).reverse();
      this.isClip = layers.every((layer) => layer.kind === "clip");
      this.frozen = this.isClip && layers.every((layer) => layer.properties["time.frozen"]?.value);
      this.playedIn = this.isClip && layers.length === 1 ? this.passage(layers[0]) : "";
    },
    /** How long one passage of a clip takes at its speed. */
    passage(layer) {
      const asset = editor.project.assets.find((each) => each.id === editor.value(layer, "clip.asset"));
      if (!asset) return "";
      const end = editor.value(layer, "time.to") || asset.duration_s;
      return `${trim(((end - editor.value(layer, "time.from")) / editor.value(layer, "time.speed")) * 100, 3)}s`;
    },

    // Motion paths and clips
    toggleEven() {
      editor.edit({ kind: "set-pace", scene: editor.sceneId, targets: plainTargets({ id: "position" }), pace: this.even ? "keys" : "even" });
    },
    fly() {
      const [layer] = editor.selectedLayers;
      editor.tell("fly", { layerId: layer.id, speed: Number(this.flySpeed), beats: Number(this.flyBeats), tolerance: Number(this.tolerance) || 8 });
    },
    refit(event, done) {
      const [layer] = editor.selectedLayers;
      this.tolerance = event.target.value;
      const edit = { kind: "refit-path", scene: editor.sceneId, layer: layer.id, tolerance: Number(event.target.value) };
      if (done) {
        editor.drafts = [];
        editor.edit(edit);
      } else editor.draft([edit]);
    },
    drawPath() {
      editor.setTool("pencil");
      note("Draw the path on the stage. It starts at the playhead.", { seconds: 4 });
    },
    async takePath(event) {
      const source = event.target.value;
      event.target.value = "";
      if (!source) return;
      const [layer] = editor.selectedLayers;
      try {
        const duration_s = await editor.meaning(api.parseTime(this.duration, editor.rate, 0));
        editor.edit({ kind: "take-path", scene: editor.sceneId, layer: layer.id, source, start_s: Math.max(layer.start_s, editor.time), duration_s });
      } catch (error) {
        complain(error);
      }
    },
    typeDuration(event) {
      this.duration = event.target.value;
      api.parseTime(this.duration, editor.rate, 0).then(({ value }) => editor.tell("path-duration", value), complain);
    },
    freeze() {
      editor.edit({ kind: "freeze-layers", scene: editor.sceneId, layers: [...editor.selected], time_s: this.frozen ? null : editor.time });
    },
    fillSpan() {
      editor.edit({ kind: "fit-speed", scene: editor.sceneId, layers: [...editor.selected] });
    },
    async typePlayedIn(event) {
      try {
        const length_s = await editor.meaning(api.parseTime(event.target.value, editor.rate, 0));
        editor.edit({ kind: "fit-speed", scene: editor.sceneId, layers: [...editor.selected], length_s });
      } catch (error) {
        complain(error);
        this.update();
      }
    },

    // The scene
    openFrame() {
      window.dispatchEvent(new Event("change-frame"));
    },
    openGround(event) {
      const then = (colour, done) => done && editor.edit({ kind: "change-scene", scene: editor.sceneId, ground: colour.slice(0, 7) });
      openPicker(event.currentTarget, editor.scene.ground || "#000000", then, { inks: false, alpha: false });
    },
    chooseNewKeys(event) {
      editor.edit({ kind: "change-settings", new_key_easing: event.target.value });
    },
    toggleGround() {
      const ground = editor.scene.ground ? { transparent: true } : { ground: "#17181d" };
      editor.edit({ kind: "change-scene", scene: editor.sceneId, ...ground });
    },

    // Name, align, order
    rename() {
      const name = this.name.trim();
      const [layer] = editor.selectedLayers;
      if (this.count === 1 && name && name !== layer.name) editor.edit({ kind: "change-layers", scene: editor.sceneId, layers: [layer.id], name });
      else this.update();
    },
    clicked(event) {
      const { align, distribute } = event.target.closest("button")?.dataset || {};
      const layers = [...editor.selected];
      const time_s = editor.time;
      if (align) editor.edit({ kind: "align-layers", scene: editor.sceneId, layers, edge: align, to: this.alignTo, time_s });
      if (distribute) editor.edit({ kind: "distribute-layers", scene: editor.sceneId, layers, axis: distribute, time_s });
    },
    fold(section) {
      if (!folded.delete(section.id)) folded.add(section.id);
      this.update();
    },

    // Keys
    toggleKey(field) {
      const layers = editor.selectedLayers;
      if (field.keyState !== "here") {
        for (const layer of layers) editor.openLayers.add(layer.id);
        editor.edit({ kind: "set-keys", scene: editor.sceneId, targets: plainTargets(field), time_s: editor.time });
        return;
      }
      const half = editor.timeOf(1) / 2;
      const keys = layers.map((layer) => ({
        layer: layer.id,
        property: field.id,
        key: layer.properties[field.id].keys.find((key) => Math.abs(layer.start_s + key.time_s - editor.time) < half).id,
      }));
      editor.edit({ kind: "remove-keys", scene: editor.sceneId, keys });
    },

    // Numbers
    focusNumber(event, part) {
      touched = false;
      event.target.value = part.full;
      event.target.addEventListener("input", () => (touched = true), { once: true });
      event.target.select();
    },
    async typeNumber(field, part, event) {
      touched = false;
      try {
        const value = await editor.meaning(api.parseNumber(event.target.value, unitsOf(editor, field.spec, part.index)));
        this.checkRange(field, value);
        event.target.classList.remove("wrong");
        this.commitNumber(field, part, value);
      } catch (error) {
        event.target.classList.add("wrong");
        note(`${field.label}: ${error.message.replace(/^value: /, "")}`, { bad: true });
      }
    },
    checkRange(field, value) {
      if ((field.minimum !== null && value < field.minimum) || (field.maximum !== null && value > field.maximum)) {
        throw new Error(`expected ${trim(field.minimum)} to ${trim(field.maximum)}${field.unit}, got ${trim(value)}`);
      }
    },
    commitNumber(field, part, value) {
      editor.edit(editor.set(targets(field, (index) => withPart(field, index, part.index, value, field.linked))));
    },
    stepNumber(field, part, event) {
      const direction = { ArrowUp: 1, ArrowDown: -1 }[event.key];
      if (event.key === "Escape") {
        touched = false;
        event.target.value = part.text;
        event.target.blur();
      }
      if (!direction || part.value === null) return;
      event.preventDefault();
      touched = false;
      const by = direction * field.step * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1);
      this.commitNumber(field, part, Math.round((part.value + by) * 1e4) / 1e4);
    },
    scrubLabel(field, event) {
      if (!field.isNumbers || event.button !== 0) return;
      const element = event.currentTarget;
      element.setPointerCapture(event.pointerId);
      const from = event.clientX;
      let edit = null;
      const move = (now) => {
        const by = (now.clientX - from) * field.step * (now.shiftKey ? 10 : now.altKey ? 0.1 : 1);
        const valueOf = (index) => {
          const old = field.kind === "number" ? field.values[index] : field.values[index][0];
          return withPart(field, index, 0, Math.round((old + by) * 100) / 100, field.linked);
        };
        edit = editor.set(targets(field, valueOf));
        editor.draft([edit]);
      };
      const up = () => {
        element.removeEventListener("pointermove", move);
        editor.drafts = [];
        if (edit) editor.edit(edit);
      };
      element.addEventListener("pointermove", move);
      element.addEventListener("pointerup", up, { once: true });
    },
    toggleLink() {
      editor.linked = !editor.linked;
      this.update();
    },

    // Colours, texts, choices
    openColour(field, event) {
      const now = field.value === MIXED ? "#ffffff" : field.value;
      const then = (colour, done) => commit(editor.set(targets(field, () => colour)), done);
      openPicker(event.currentTarget, now, then);
    },
    typeColour(field, event) {
      editor.edit(editor.set(targets(field, () => hexOf(event.target.value))));
    },
    choose(field, event) {
      const { value } = event.target;
      if (value === MIXED) return;
      editor.edit(editor.set(targets(field, () => value)));
    },
    check(field, event) {
      const value = event.target.checked;
      if (field.id === "time.curve" && editor.selected.size === 1) {
        const [layer] = editor.selected;
        if (value) editor.openLayers.add(layer);
        editor.edit({ kind: "time-curve", scene: editor.sceneId, layer, on: value });
        return;
      }
      editor.edit(editor.set(targets(field, () => value)));
    },
    draftText(field, event) {
      touched = true;
      if (field.id === "text") editor.draft([editor.textEdit(editor.selectedLayers, event.target.value)]);
    },
    typeText(field, event) {
      touched = false;
      editor.drafts = [];
      const { value } = event.target;
      editor.edit(field.id === "text" ? editor.textEdit(editor.selectedLayers, value) : editor.set(targets(field, () => value)));
    },

    // Gradient stops
    stopsOf(field) {
      return field.values[0].map((stop) => [...stop]);
    },
    setStops(field, stops, done = true) {
      commit(editor.set(targets(field, () => stops)), done);
    },
    addStop(field, event) {
      const box = event.currentTarget.getBoundingClientRect();
      const offset = Math.min(1, Math.max(0, (event.clientX - box.left) / box.width));
      const stops = this.stopsOf(field);
      const near = [...stops].sort((a, b) => Math.abs(a[0] - offset) - Math.abs(b[0] - offset))[0];
      const at = stops.findIndex((stop) => stop[0] > offset);
      const index = at < 0 ? stops.length : at;
      stops.splice(index, 0, [Math.round(offset * 1e3) / 1e3, near[1]]);
      editor.chosenStop = index;
      this.setStops(field, stops);
    },
    dragStop(field, stop, event) {
      editor.chosenStop = stop.index;
      const button = event.currentTarget;
      const bar = button.parentElement.getBoundingClientRect();
      let stops = null;
      const move = (now) => {
        const offset = Math.min(1, Math.max(0, (now.clientX - bar.left) / bar.width));
        stops = this.stopsOf(field);
        stops[stop.index][0] = Math.round(offset * 1e3) / 1e3;
        this.setStops(field, stops, false);
      };
      const up = () => {
        window.removeEventListener("pointermove", move);
        if (stops) this.setStops(field, stops);
        else this.update();
      };
      window.addEventListener("pointermove", move);
      window.addEventListener("pointerup", up, { once: true });
    },
    typeStopOffset(field, event) {
      touched = false;
      const offset = Number(event.target.value.replace(",", ".")) / 100;
      const stops = this.stopsOf(field);
      stops[field.chosenStop][0] = offset;
      this.setStops(field, stops);
    },
    openStopColour(field, event) {
      const index = field.chosenStop;
      const then = (colour, done) => {
        const stops = this.stopsOf(field);
        stops[index][1] = colour;
        this.setStops(field, stops, done);
      };
      openPicker(event.currentTarget, field.values[0][index][1], then);
    },
    removeStop(field) {
      const stops = this.stopsOf(field);
      stops.splice(field.chosenStop, 1);
      this.setStops(field, stops);
    },
    reverseStops(field) {
      const stops = this.stopsOf(field).reverse().map(([offset, colour]) => [Math.round((1 - offset) * 1e4) / 1e4, colour]);
      this.setStops(field, stops);
    },

    // The span
    async typeSpan(which, event) {
      try {
        const value = await editor.meaning(api.parseTime(event.target.value, editor.rate, editor.time));
        const spans = editor.selectedLayers.map((layer) => spanWith(layer, which, value));
        editor.edit({ kind: "set-spans", scene: editor.sceneId, mode: which === "start" ? "slide" : "trim", spans });
      } catch (error) {
        note(sentence(error.message), { bad: true });
        this.update();
      }
    },
    takeSpan(event) {
      const other = editor.layer(event.target.value);
      event.target.value = "";
      if (!other) return;
      const { start_s, end_s } = other;
      const spans = editor.selectedLayers.map((layer) => ({ layer: layer.id, start_s, end_s }));
      editor.edit({ kind: "set-spans", scene: editor.sceneId, mode: "trim", spans });
    },

    // A property's menu
    openProperty(field, event) {
      const box = event.currentTarget.getBoundingClientRect();
      const first = editor.selectedLayers[0].properties[field.id];
      const changed = editor.selectedLayers.some((layer) => layer.properties[field.id]);
      const keyed = field.keyState !== "constant";
      const fits = copied && copied.kind === field.kind;
      const items = [
        { id: "copy", label: "Copy value", off: field.value === MIXED, run: () => (copied = { kind: field.kind, value: field.value }) },
        { id: "paste", label: "Paste value", off: !fits, run: () => editor.edit(editor.set(targets(field, () => copied.value))) },
        { id: "reset", label: "Back to default", off: !changed, run: () => editor.edit({ kind: "reset-properties", scene: editor.sceneId, targets: plainTargets(field) }) },
        { id: "clear", label: "Stop animating, keep this value", off: !keyed, run: () => editor.edit({ kind: "clear-keys", scene: editor.sceneId, targets: plainTargets(field), time_s: editor.time }) },
        { id: "keys", label: "Choose its keys", off: !keyed, run: () => selectAllKeys(field) },
        { id: "paste-keys", label: "Paste keys into it", off: !field.animatable || !localStorage.getItem("key-clipboard"), run: () => editor.tell("paste-keys", { into: field.id }) },
        ...splitItems(field),
      ];
      window.dispatchEvent(new CustomEvent("open-property", { detail: { x: box.right - 210, y: box.bottom + 2, items, first } }));
    },
  }));

  /** Taking a point apart and joining it, where the field is one. */
  function splitItems(field) {
    const whole = field.id.replace(/\.[xy]$/, "");
    const targets = editor.selectedLayers.map((layer) => ({ layer: layer.id, property: whole }));
    const edit = (kind) => () => {
      for (const layer of editor.selectedLayers) editor.openLayers.add(layer.id);
      editor.edit({ kind, scene: editor.sceneId, targets });
    };
    if (whole !== field.id) return [{ id: "join", label: "Join x and y", off: false, run: edit("join-property") }];
    return field.spec.parts ? [{ id: "split", label: "Split into x and y", off: false, run: edit("split-property") }] : [];
  }

  function selectAllKeys(field) {
    const entries = editor.selectedLayers.flatMap((layer) =>
      (layer.properties[field.id]?.keys || []).map((key) => ({ layer: layer.id, property: field.id, key: key.id })),
    );
    for (const entry of entries) editor.openLayers.add(entry.layer);
    editor.selectKeys(entries);
  }

  /** While a colour or a stop is dragged the edit is only shown; at the end it is saved. */
  function commit(edit, done) {
    if (done) {
      editor.drafts = [];
      editor.edit(edit);
    } else editor.draft([edit]);
  }
}

/** Opens the colour picker beside an element; `then(colour, done)` hears every change. */
export function openPicker(anchor, colour, then, options = {}) {
  window.dispatchEvent(new CustomEvent("open-picker", { detail: { anchor, colour, then, ...options } }));
}

export function hexOf(text) {
  const hex = text.trim().replace(/^#?/, "#").toLowerCase();
  return /^#([0-9a-f]{3}|[0-9a-f]{4})$/.test(hex) ? `#${[...hex.slice(1)].map((digit) => digit + digit).join("")}` : hex;
}

function spanWith(layer, which, value) {
  const { id, start_s, end_s } = layer;
  if (which === "start") return { layer: id, start_s: value, end_s: value + (end_s - start_s) };
  if (which === "end") return { layer: id, start_s, end_s: value };
  return { layer: id, start_s, end_s: start_s + value };
}
