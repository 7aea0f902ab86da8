// The editor of expressions: completion, errors in words, a plot, what reads the property; links.
import { Alpine } from "../common.js";
import { complain, note } from "../notes.js";
import { api } from "../api.js";

const MEASURES = ["width", "height", "start", "end"];

// Functions whose first input is a name.
const NAMING = ["of", "rate", "mark", "level", "begins", "ends"];

export function registerExpressionEditor(editor) {
  Alpine.data("expressionEditor", () => ({
    shown: false,
    title: "",
    text: "",
    error: "",
    caret: "",
    value: "",
    path: "",
    zero: "",
    here: "0",
    ribbon: [],
    readers: [],
    offers: [],
    at: 0,
    target: null,
    saved: "",
    canBake: false,

    init() {
      editor.on("edit-expression", (target) => this.open(target));
      editor.on("selection", () => this.shown && !editor.selected.has(this.target.layer) && this.close());
      editor.on("time", () => this.shown && this.look());
    },
    open({ layer: layerId, property, label, targets }) {
      const layer = editor.layer(layerId);
      this.target = { layer: layerId, property };
      this.targets = targets;
      this.title = `${layer.name}: ${label}`;
      this.saved = layer.properties[property]?.expression || "";
      this.text = this.saved;
      this.canBake = Boolean(this.saved) && editor.spec(layer, property).animatable;
      this.shown = true;
      this.error = "";
      this.offers = [];
      this.look();
      this.$nextTick(() => {
        this.area.focus();
        this.area.setSelectionRange(this.text.length, this.text.length);
      });
    },
    get area() {
      return this.$root.querySelector("textarea");
    },
    typed() {
      this.offers = offersFor(editor, this.text, this.area.selectionStart);
      this.at = 0;
      clearTimeout(this.timer);
      this.timer = setTimeout(() => this.look(), 120);
    },
    /** Asks the server what the text gives; a good one is shown on the stage. */
    async look() {
      const asked = this.text;
      const { layer, property } = this.target;
      try {
        const answer = await api.expression(editor.projectId, editor.sceneId, {
          layer,
          property,
          text: asked,
          time_s: editor.time,
        });
        if (!this.shown || asked !== this.text) return;
        this.error = asked.trim() || this.saved ? answer.error || "" : "";
        this.caret =
          answer.error && answer.column !== null ? `${" ".repeat(columnIn(asked, answer.column))}^` : "";
        this.readers = answer.readers.map((each) => ({ ...each, key: `${each.layer}|${each.property}` }));
        if (answer.error && !answer.curves.length) return;
        this.value = answer.value;
        this.draw(answer);
        if (!answer.error && asked.trim() !== this.saved) editor.preview([this.edit()]);
        else if (asked.trim() === this.saved) editor.withdraw();
      } catch (error) {
        complain(error);
      }
    },
    draw({ curves, colours, low, high }) {
      const layer = editor.layer(this.target.layer);
      const span = layer.end_s - layer.start_s;
      this.here = String(Math.min(100, Math.max(0, ((editor.time - layer.start_s) / span) * 100)));
      this.ribbon = (colours || [])
        .filter((_, index) => index % 4 === 0)
        .map((colour, index) => ({ key: index, style: { background: colour } }));
      const range = high - low || 1;
      const y = (value) => 34 - ((value - low) / range) * 30;
      const place = (value, index, curve) => {
        const x = (index / (curve.length - 1)) * 100;
        return `${index ? "L" : "M"}${x.toFixed(2)} ${y(value).toFixed(2)}`;
      };
      this.path = curves.map((curve) => curve.map(place).join("")).join(" ");
    },
    edit() {
      return { kind: "set-expression", scene: editor.sceneId, targets: this.targets, text: this.text };
    },
    async save() {
      editor.commit();
      if (this.text.trim() === this.saved) {
        this.close();
        return;
      }
      if (await editor.edit(this.edit())) this.close();
    },
    async remove() {
      this.text = "";
      await this.save();
    },
    async bake() {
      editor.commit();
      if (await editor.edit({ kind: "bake-expressions", scene: editor.sceneId, targets: this.targets })) {
        editor.openLayers.add(this.target.layer);
        this.close();
      }
    },
    link() {
      const field = { ...this.target, targets: this.targets, title: this.title };
      this.close();
      editor.tell("link-property", field);
    },
    close() {
      this.shown = false;
      clearTimeout(this.timer);
      editor.withdraw();
    },
    key(event) {
      const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
      if (this.offers.length && step) {
        event.preventDefault();
        this.at = (this.at + step + this.offers.length) % this.offers.length;
        this.offers = this.offers.map((offer, index) => ({ ...offer, on: index === this.at }));
        return;
      }
      if (this.offers.length && (event.key === "Tab" || (event.key === "Enter" && !event.ctrlKey))) {
        event.preventDefault();
        this.take(this.offers[this.at]);
        return;
      }
      if (event.key === "Escape") {
        event.stopPropagation();
        if (this.offers.length) this.offers = [];
        else this.close();
      }
      if (event.key === "Enter" && !event.shiftKey) {
        event.preventDefault();
        this.save();
      }
    },
    take(offer) {
      const caret = this.area.selectionStart;
      this.text = this.text.slice(0, caret - offer.typed) + offer.insert + this.text.slice(caret);
      const next = caret - offer.typed + offer.insert.length - (offer.back || 0);
      this.offers = [];
      this.$nextTick(() => {
        this.area.focus();
        this.area.setSelectionRange(next, next);
        this.typed();
      });
    },
    insert(entry) {
      const caret = this.area.selectionStart;
      this.text = this.text.slice(0, caret) + entry + this.text.slice(caret);
      this.$nextTick(() => this.area.focus());
      this.typed();
    },
    goTo(reader) {
      this.close();
      editor.select([reader.layer]);
    },
  }));

  Alpine.data("linkSheet", () => ({
    title: "",
    layers: [],
    layer: "",
    properties: [],
    property: "",
    delay: "0",
    factor: "1",
    offset: "0",
    problem: "",
    targets: [],
    init() {
      editor.on("link-property", (field) => this.open(field));
    },
    open({ layer, property, targets, title }) {
      this.own = layer;
      this.kind = editor.spec(editor.layer(layer), property).kind;
      this.targets = targets;
      this.title = title;
      this.problem = "";
      this.layers = editor.layers
        .filter((each) => this.choices(each).some((entry) => each.id !== layer || entry.id !== property))
        .map(({ id, name }) => ({ id, name }))
        .reverse();
      this.layer = this.layers.find((each) => each.id !== layer)?.id || this.layers[0]?.id || "";
      this.list(property);
      this.$root.showModal();
    },
    /** Properties of the same kind; numbers can be read from points by their parts. */
    choices(layer) {
      const measures =
        this.kind === "number"
          ? MEASURES.slice(0, 2).map((id) => ({
              id,
              label: id === "width" ? "Width of what it shows" : "Height of what it shows",
            }))
          : [];
      const own = editor
        .specsOf(layer)
        .filter((spec) => spec.kind === this.kind && spec.expressive)
        .map((spec) => ({ id: spec.id, label: spec.name }));
      return [...own, ...measures];
    },
    list(wanted) {
      const layer = editor.layer(this.layer);
      this.properties = layer ? this.choices(layer) : [];
      this.property = this.properties.some((each) => each.id === wanted)
        ? wanted
        : this.properties[0]?.id || "";
    },
    chosen() {
      this.list(this.property);
    },
    close() {
      this.$root.close();
    },
    async start() {
      const numbers = [this.delay, this.factor, this.offset].map((text) =>
        Number(String(text).replace(",", ".")),
      );
      if (numbers.some((value) => !Number.isFinite(value))) {
        this.problem = "Delay, factor and offset are numbers.";
        return;
      }
      const [delay_s, factor, offset] = numbers;
      this.$root.close();
      await editor.edit({
        kind: "link-properties",
        scene: editor.sceneId,
        targets: this.targets,
        layer: this.layer,
        property: this.property,
        delay_s,
        factor,
        offset,
      });
    },
  }));
}

/** Where the caret of an error stands in its line. */
function columnIn(text, column) {
  const before = text.slice(0, column);
  return column - (before.lastIndexOf("\n") + 1);
}

/** What could be meant by what is being written at a place of the text. */
function offersFor(editor, text, caret) {
  const before = text.slice(0, caret);
  const layer = /\b(?:of|rate)\(\s*"([^"]*)$/.exec(before);
  if (layer) {
    const names = [...new Set(editor.layers.map((each) => each.name))].reverse();
    return offers(
      names.map((name) => ({ name, insert: `${name}", "`, help: "layer" })),
      layer[1],
    );
  }
  const property = /\b(?:of|rate)\(\s*"([^"]*)"\s*,\s*"([^"]*)$/.exec(before);
  if (property) {
    const found = editor.layers.find((each) => each.name === property[1]);
    if (!found) return [];
    const specs = editor
      .specsOf(found)
      .filter((spec) => ["number", "point", "colour", "words", "text"].includes(spec.kind));
    const list = [
      ...specs.map((spec) => ({ name: spec.id, help: spec.name })),
      ...MEASURES.map((name) => ({ name, help: "of the layer" })),
    ];
    return offers(
      list.map((each) => ({ ...each, insert: `${each.name}")` })),
      property[2],
    );
  }
  const mark = /\bmark\(\s*"([^"]*)$/.exec(before);
  if (mark) {
    return offers(
      editor.scene.marks.map(({ name }) => ({ name, insert: `${name}")`, help: "mark" })),
      mark[1],
    );
  }
  const held = /\b(?:begins|ends)\(\s*"([^"]*)$/.exec(before);
  if (held) {
    return offers(
      editor.scene.arrangements.map(({ name }) => ({ name, insert: `${name}")`, help: "arrangement" })),
      held[1],
    );
  }
  if ((before.match(/"/g) || []).length % 2) return [];
  const word = /[A-Za-z]+$/.exec(before)?.[0];
  if (!word) return [];
  const { names, functions } = editor.catalog.expressions;
  const all = [
    ...names.map((each) => ({ name: each.name, insert: each.name, help: each.help })),
    ...functions.map((each) => ({
      name: each.example,
      insert: `${each.name}(${NAMING.includes(each.name) ? '"' : ""}`,
      help: each.help,
      key: each.name,
    })),
  ];
  const found = offers(all, word);
  return found.length === 1 && found[0].name === word ? [] : found;
}

function offers(list, typed) {
  const wanted = typed.toLowerCase();
  return list
    .filter((each) => (each.key || each.name).toLowerCase().startsWith(wanted))
    .slice(0, 7)
    .map((each, index) => ({ ...each, key: `${index}:${each.name}`, typed: typed.length, on: index === 0 }));
}

/** Items of a property's menu that have to do with expressions. */
export function expressionItems(editor, field, targets) {
  if (!field.spec.expressive) return [];
  const [layer] = editor.selectedLayers;
  const has = editor.selectedLayers.some((each) => each.properties[field.id]?.expression);
  const target = {
    layer: layer.id,
    property: field.id,
    label: field.label,
    targets,
    title: `${layer.name}: ${field.label}`,
  };
  return [
    {
      id: "expression",
      label: has ? "Edit expression…" : "Expression…",
      off: false,
      run: () => editor.tell("edit-expression", target),
    },
    {
      id: "link",
      label: "Link to another property…",
      off: false,
      run: () =>
        editor.layers.length > 1
          ? editor.tell("link-property", target)
          : note("There is no other layer to link to."),
    },
    ...(has
      ? [
          {
            id: "bake",
            label: "Bake expression into keys",
            off: !field.spec.animatable,
            run: () => editor.edit({ kind: "bake-expressions", scene: editor.sceneId, targets }),
          },
          {
            id: "unexpress",
            label: "Remove expression",
            off: false,
            run: () => editor.edit({ kind: "set-expression", scene: editor.sceneId, targets, text: "" }),
          },
        ]
      : []),
  ];
}
