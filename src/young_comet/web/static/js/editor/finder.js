// The finder (Ctrl+K): everything by its name. Commands, layers, scenes, marks, assets, inks, effects and
// moves to put on, and the properties of what is selected.
import { Alpine } from "../common.js";
import { newId, timecode } from "../formats.js";
import { note } from "../notes.js";
import { placeAsset } from "./actions/files.js";
import { addMembers } from "./member_edits.js";

const MOST = 40;
// What is put after what, where two fit as well.
// Where labels fit equally the first of these comes first: who types what a thing is called wants the thing,
// not its help.
const KINDS = ["property", "layer", "command", "effect", "move", "scene", "mark", "asset", "ink", "help"];
const WORDS = {
  property: "Property",
  layer: "Layer",
  command: "",
  effect: "Effect",
  move: "Move",
  scene: "Scene",
  mark: "Mark",
  asset: "Asset",
  ink: "Ink",
  help: "Help",
};

const entry = (kind, id, label, run, more = {}) => ({
  id: `${kind}-${id}`,
  kind,
  label,
  run,
  keys: "",
  ...more,
});

/** To the field of a property, wherever its tab is. */
function goToField(editor, spec) {
  editor.tell("show-tab", "selection");
  editor.tell("show-property", spec.id);
  setTimeout(() => {
    const row = document.querySelector(`.prop[data-property="${CSS.escape(spec.id)}"]`);
    if (!row) {
      note(`${spec.name} is not shown for this layer as it is now.`);
      return;
    }
    row.scrollIntoView({ block: "center" });
    (row.querySelector("input, textarea, select") || row.querySelector("button"))?.focus();
    row.classList.add("found");
    setTimeout(() => row.classList.remove("found"), 1600);
  }, 80);
}

/** Effects and moves are put on what is selected. */
function wearable(editor) {
  const layers = [...editor.selected].filter((id) => !editor.layer(id).locked);
  const off = layers.length ? {} : { off: true, why: "Select a layer first." };
  const effects = editor.catalog.effects.map((kind) =>
    entry(
      "effect",
      kind.id,
      kind.label,
      () => {
        const members = [{ member: { id: newId(), kind: kind.id } }];
        editor.edit(addMembers(editor, "effect", layers, members));
        editor.tell("show-tab", "looks");
      },
      off,
    ),
  );
  const moves = editor.catalog.moves.flatMap((kind) =>
    kind.phases.map((phase) =>
      entry(
        "move",
        `${kind.id}-${phase}`,
        `${kind.label}: ${{ arrive: "arriving", dwell: "dwelling", leave: "leaving" }[phase]}`,
        () =>
          editor.edit({
            kind: "wear-move",
            scene: editor.sceneId,
            layers,
            id: newId(),
            move: kind.id,
            phase,
          }),
        off,
      ),
    ),
  );
  return [...effects, ...moves];
}

/** Everything that can be found now. */
function everything(editor, commands) {
  const { project, scene } = editor;
  const [layer] = editor.selectedLayers;
  const properties = layer
    ? editor
        .specsOf(layer)
        .map((spec) => entry("property", spec.id, spec.name, () => goToField(editor, spec)))
    : [];
  return [
    ...properties,
    ...editor.layers
      .map((each) => entry("layer", each.id, each.name, () => editor.select([each.id])))
      .reverse(),
    ...commands.offered().map((command) => ({ ...command, kind: "command" })),
    ...wearable(editor),
    ...project.scenes
      .filter((each) => each.id !== scene.id)
      .map((each) =>
        entry("scene", each.id, each.name, () => {
          location.href = `/projects/${editor.projectId}/scenes/${each.id}`;
        }),
      ),
    ...scene.marks.map((mark) => {
      const frame = editor.frameAt(mark.time_s);
      return entry("mark", mark.id, mark.name, () => editor.goTo(frame), {
        keys: timecode(frame, editor.rate),
      });
    }),
    ...project.assets
      .filter((asset) => !["font", "table"].includes(asset.kind))
      .map((asset) => entry("asset", asset.id, asset.name, () => placeAsset(editor, asset))),
    ...project.inks.map((ink) => entry("ink", ink.id, ink.name, () => editor.tell("show-tab", "inks"))),
    ...editor.catalog.terms.map((term) =>
      entry("help", term.id, `What is: ${term.name}`, () => window.open(`/help#term-${term.id}`, "_blank")),
    ),
  ];
}

/** How well a label fits what is wanted: 0 not at all, more is better. */
function fit(label, words) {
  const text = label.toLowerCase();
  if (!words.every((word) => text.includes(word))) return 0;
  const whole = words.join(" ");
  if (text === whole) return 4;
  if (text.startsWith(whole)) return 3;
  return words.every((word) => new RegExp(`(^|[^\\p{L}])${escaped(word)}`, "u").test(text)) ? 2 : 1;
}

const escaped = (word) => word.replace(/[.*+?^${}()|[\]\\]/g, "\\$&");

/** How many letters must be changed to make one word of another, counted up to 3. */
function apart(one, other) {
  if (Math.abs(one.length - other.length) > 2) return 3;
  let row = Array.from({ length: other.length + 1 }, (_, n) => n);
  for (let i = 1; i <= one.length; i += 1) {
    const next = [i];
    for (let j = 1; j <= other.length; j += 1) {
      const changed = row[j - 1] + (one[i - 1] === other[j - 1] ? 0 : 1);
      next.push(Math.min(changed, row[j] + 1, next[j - 1] + 1));
    }
    row = next;
  }
  return Math.min(3, row.at(-1));
}

/** Labels in which a word is nearly what is wanted. */
const isNear = (label, words) =>
  words.every((word) =>
    label
      .toLowerCase()
      .split(/[^\p{L}\p{N}]+/u)
      .some((each) => word.length > 2 && apart(each, word) < 3 && apart(each, word) <= word.length / 3),
  );

export function registerFinder(editor, commands) {
  Alpine.data("finderSheet", () => ({
    wanted: "",
    shown: [],
    at: 0,
    said: "",
    open() {
      this.wanted = "";
      this.at = 0;
      this.$root.showModal();
      this.search();
    },
    search() {
      const words = this.wanted.toLowerCase().trim().split(/\s+/).filter(Boolean);
      const all = everything(editor, commands);
      let found;
      this.said = "";
      if (!words.length) found = all.filter((each) => each.kind === "command");
      else {
        const rank = (each) => fit(each.label, words) * 20 - KINDS.indexOf(each.kind) - (each.off ? 10 : 0);
        found = all.filter((each) => fit(each.label, words)).sort((a, b) => rank(b) - rank(a));
        if (!found.length) {
          found = all.filter((each) => isNear(each.label, words));
          this.said = found.length ? "Nothing is called so. Near to it:" : "Nothing is called so.";
        }
      }
      found = found.slice(0, MOST);
      this.at = Math.min(this.at, Math.max(0, found.length - 1));
      this.shown = found.map((each, index) => ({ ...each, on: index === this.at, word: WORDS[each.kind] }));
      this.$nextTick(() =>
        this.$root.querySelector(".finder-list .on")?.scrollIntoView({ block: "nearest" }),
      );
    },
    key(event) {
      const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
      if (step && this.shown.length) {
        event.preventDefault();
        this.at = (this.at + step + this.shown.length) % this.shown.length;
        this.search();
      } else if (event.key === "Enter") {
        event.preventDefault();
        if (this.shown[this.at]) this.run(this.shown[this.at]);
      } else this.at = 0;
    },
    run(found) {
      if (found.off) return;
      this.$root.close();
      found.run();
    },
  }));
}
