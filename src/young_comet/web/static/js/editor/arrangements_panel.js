// The Timing tab's arrangement: its name and hold, and the step to the next; and on the Selection tab in
// which arrangements the chosen layers are.
import { Alpine } from "../common.js";
import { api } from "../api.js";
import { trim } from "../formats.js";
import { complain, note } from "../notes.js";

const ORDERS = [
  ["lowest", "lowest first"],
  ["highest", "highest first"],
  ["rightwards", "from left to right"],
  ["leftwards", "from right to left"],
  ["downwards", "from the top down"],
  ["upwards", "from the bottom up"],
  ["outwards", "from the middle"],
  ["inwards", "from outside"],
  ["shuffled", "shuffled"],
];
const PATHS = [
  ["straight", "Straight", "The shortest way"],
  ["arc", "Arc", "Along an arc of a circle"],
  ["drawn", "Drawn", "Along the path of a layer, turned and scaled onto the way"],
];
const UNITS = { "%": 1 };

const chosen = (options, value) => options.map(([id, label]) => ({ id, label, chosen: id === value }));

export function registerArrangementsPanel(editor) {
  const { arranging } = editor;

  Alpine.data("arrangementPanel", () => ({
    on: false,
    id: "",
    name: "",
    hold: "",
    isLast: false,
    stepText: "",
    length: "",
    easings: [],
    stagger: "",
    orders: [],
    paths: [],
    bend: "",
    isArc: false,
    isDrawn: false,
    rails: [],
    comings: [],
    goings: [],
    beyond: false,
    init() {
      editor.on("document arrangements time", () => this.update());
      if (editor.project) this.update();
    },
    update() {
      if (!editor.scene || !editor.catalog) return;
      this.on = arranging.on;
      if (!this.on) return;
      const { list } = arranging;
      const shown = list.find((each) => each.id === arranging.stepOf) || arranging.here || list[0];
      const next = list[list.indexOf(shown) + 1];
      const { step } = shown;
      const hold = arranging.hold(shown.id);
      this.id = shown.id;
      this.isLast = !next;
      this.beyond = Boolean(hold?.beyond);
      if (!this.$root.contains(document.activeElement) || !document.activeElement.matches("input")) {
        this.name = shown.name;
        this.hold = hold ? `${trim(hold.end_s - hold.begin_s, 3)}s` : "";
        this.length = `${trim(step.length_s, 3)}s`;
        this.stagger = trim(step.stagger_pct, 1);
        this.bend = trim(step.bend * 100, 1);
      }
      this.stepText = next ? `to ${next.name}` : "";
      const easings = [...new Set([...editor.catalog.easings, step.easing])];
      const own = editor.project.easings.map((each) => [`easing:${each.id}`, each.name]);
      const plain = easings.filter((each) => !each.startsWith("easing:")).map((each) => [each, each]);
      this.easings = chosen([...own, ...plain], step.easing);
      this.orders = chosen(ORDERS, step.order);
      this.paths = PATHS.map(([id, label, title]) => ({
        id,
        label,
        title,
        cls: id === step.path ? "on" : "",
      }));
      this.isArc = step.path === "arc";
      this.isDrawn = step.path === "drawn";
      this.rails = chosen(railsOf(editor), step.along);
      const moves = (phase) =>
        editor.catalog.moves
          .filter((kind) => kind.phases.includes(phase) && !kind.id.startsWith("own:"))
          .map((kind) => [kind.id, editor.moveName(kind.id, phase)]);
      this.comings = chosen(moves("arrive"), step.appears);
      this.goings = chosen(moves("leave"), step.vanishes);
    },
    change(more) {
      return arranging.edit("change-arrangement", { arrangement: this.id, ...more });
    },
    step(set) {
      return this.change({ step: set });
    },
    rename(event) {
      const name = event.target.value.trim();
      if (name && name !== this.name) this.change({ name });
    },
    async typed(event, ask, then) {
      try {
        await then(await editor.meaning(ask(event.target.value)));
      } catch (error) {
        complain(error);
      }
      event.target.blur();
      this.update();
    },
    typeHold(event) {
      const ask = (text) => api.parseTime(text, editor.rate, 0);
      this.typed(event, ask, (hold_s) => this.change({ hold_s: Math.max(0, hold_s) }));
    },
    typeLength(event) {
      const ask = (text) => api.parseTime(text, editor.rate, 0);
      this.typed(event, ask, (length_s) => this.step({ length_s: Math.min(60, Math.max(0, length_s)) }));
    },
    typeStagger(event) {
      const ask = (text) => api.parseNumber(text, UNITS);
      this.typed(event, ask, (value) => this.step({ stagger_pct: Math.min(90, Math.max(0, value)) }));
    },
    typeBend(event) {
      const ask = (text) => api.parseNumber(text, UNITS);
      this.typed(event, ask, (value) => this.step({ bend: Math.min(2, Math.max(-2, value / 100)) }));
    },
    choose(what, event) {
      this.step({ [what]: event.target.value });
    },
    choosePath(path) {
      if (path.id !== "drawn") {
        this.step({ path: path.id });
        return;
      }
      const rails = railsOf(editor);
      const { along } = arranging.list.find((each) => each.id === this.id).step;
      if (!along && !rails.length) {
        note("Draw a path first: a shape with a path, whose ends are the ends of the way.", { bad: true });
        return;
      }
      this.step({ path: "drawn", along: along || rails[0][0] });
    },
    play() {
      editor.tell("play-step", this.id);
    },
    toKeys() {
      editor.commands.runById("arrangements-to-keys");
    },
    remove() {
      arranging.remove(this.id);
    },
  }));

  Alpine.data("standsPanel", () => ({
    shown: false,
    cards: [],
    differs: "",
    keyed: [],
    init() {
      editor.on("document arrangements selection time view", () => this.update());
      if (editor.project) this.update();
    },
    update() {
      const layers = editor.selectedLayers;
      const told = layers.map((layer) => arranging.of(layer.id)).filter(Boolean);
      this.shown = arranging.on && told.length > 0 && told.every((each) => each.seen);
      if (!this.shown) return;
      const { here } = arranging;
      this.cards = arranging.list.map((each) => {
        const there = told.filter((one) => one.there.includes(each.id)).length;
        const state = there === told.length ? "there" : there ? "some" : "away";
        return {
          id: each.id,
          name: each.name,
          there: there === told.length,
          cls: `${state} ${each === here ? "here" : ""}`,
          title:
            there === told.length
              ? `There in ${each.name}: click to leave out`
              : `Not there in ${each.name}: click to put in`,
        };
      });
      const [layer] = layers;
      const labels = [...new Set(told.flatMap((each) => each.said))].map(
        (name) => editor.spec(layer, name)?.name || name,
      );
      this.differs = labels.length > 4 ? `${labels.slice(0, 4).join(", ")} …` : labels.join(", ");
      this.keyed =
        layers.length === 1
          ? [...told[0].keyed.map((name) => [name, false]), ...told[0].added.map((name) => [name, true])].map(
              ([name, adds]) => ({
                name,
                adds,
                label: editor.spec(layer, name)?.name || name,
                text: adds ? "keys add to it" : "keys take over",
              }),
            )
          : [];
    },
    toggle(card) {
      arranging.stand(!card.there, card.id);
    },
    same() {
      arranging.sameInAll();
    },
    toggleAdds(each) {
      const [layer] = editor.selectedLayers;
      const targets = [{ layer: layer.id, property: each.name }];
      arranging.edit("add-to-arrangements", { targets, adds: !each.adds });
    },
  }));
}

/** Layers with a path that a way may follow. */
function railsOf(editor) {
  const drawn = (layer) =>
    (layer.kind === "shape" && (layer.parts.length || editor.value(layer, "shape.kind") === "path")) ||
    (layer.kind === "text" && editor.value(layer, "text.path"));
  return editor.layers
    .filter(drawn)
    .map((layer) => [layer.id, layer.name])
    .reverse();
}
