// The sheet of typefaces: each in its own design, with the artist's words.
import { api } from "../api.js";
import { Alpine } from "../common.js";
import { remembered } from "../formats.js";
import { complain } from "../notes.js";
import { upload } from "./actions/files.js";

const LATELY = "lately-used-typefaces";
const MOST_LATELY = 3;

// What a typeface may be asked to have.
const WISHES = [
  { id: "", label: "whatever it has", fits: () => true },
  { id: "weight", label: "any weight", fits: (face) => hasAxis(face, "Weight") },
  { id: "width", label: "any letter width", fits: (face) => hasAxis(face, "Letter width") },
  { id: "optical", label: "optical sizes", fits: (face) => hasAxis(face, "Optical size") },
  { id: "italic", label: "an italic", fits: (face, all) => face.italic || all.some(italicIs(face)) },
  { id: "smcp", label: "small capitals", fits: (face) => hasFeature(face, "smcp") },
  { id: "tnum", label: "figures of one width", fits: (face) => hasFeature(face, "tnum") },
  { id: "onum", label: "old-style figures", fits: (face) => hasFeature(face, "onum") },
  { id: "ss01", label: "other letters in sets", fits: (face) => hasFeature(face, "ss01") },
];

const hasAxis = (face, label) => face.axes.some((axis) => axis.label === label);
const hasFeature = (face, tag) => face.features.some((feature) => feature.tag === tag);
const italicIs = (face) => (other) => other.italic === face.id;

/** Fonts that texts of the project wear, by how many times. */
function worn(project) {
  const counts = new Map();
  for (const layer of project.scenes.flatMap((scene) => scene.layers)) {
    for (const [name, { value }] of Object.entries(layer.properties)) {
      if (/(^text|^run\.[^.]+)\.font$/.test(name) && value) counts.set(value, (counts.get(value) || 0) + 1);
    }
  }
  return [...counts.keys()].sort((a, b) => counts.get(b) - counts.get(a));
}

export function registerTypefacesSheet(editor) {
  let asked = null; // what it was opened for: words, weight, font, choose(font)
  let all = [];

  Alpine.data("typefacesSheet", () => ({
    query: "",
    group: "",
    script: "",
    wish: "",
    groups: [],
    scripts: [],
    wishes: WISHES,
    sections: [],
    found: 0,
    busy: false,

    init() {
      editor.on("open-typefaces", (wanted) => this.open(wanted));
    },
    async open(wanted) {
      asked = wanted;
      this.query = this.group = this.script = this.wish = "";
      this.sections = [];
      this.$root.showModal();
      this.$root.querySelector("input").focus();
      await this.load();
    },
    async load() {
      this.busy = true;
      try {
        const { words, weight } = asked;
        const told = await api.typefaces(editor.projectId, { words, weight });
        all = told.typefaces;
        const used = new Set(all.map((face) => face.group));
        this.groups = [{ id: "", label: "All" }, ...told.groups.filter(({ id }) => used.has(id))];
        this.scripts = [...new Set(all.flatMap((face) => face.scripts))].filter((name) => name !== "Latin");
      } catch (error) {
        complain(error);
      } finally {
        this.busy = false;
      }
      this.filter();
    },
    filter() {
      const words = this.query.toLowerCase().split(/\s+/).filter(Boolean);
      const wish = WISHES.find((each) => each.id === this.wish);
      const fits = (face) =>
        words.every((word) => `${face.name} ${face.character} ${face.group}`.toLowerCase().includes(word)) &&
        (!this.group || face.group === this.group) &&
        (!this.script || face.scripts.includes(this.script)) &&
        wish.fits(face, all);
      const matching = all.filter(fits).map((face) => this.entryOf(face));
      this.found = matching.length;
      const known = this.groups.filter((group) => group.id);
      const byGroup = known.map((group) => ({
        ...group,
        entries: matching.filter((face) => face.group === group.id),
      }));
      this.sections = [{ id: "lately", label: "Used lately", entries: this.lately(matching) }, ...byGroup]
        .filter((section) => section.entries.length)
        .map((section) => ({
          ...section,
          entries: section.entries.map((entry) => ({ ...entry, key: `${section.id} ${entry.id}` })),
        }));
    },
    /** Those of the project and those chosen last, where nothing is looked for. */
    lately(matching) {
      if (this.query || this.group || this.script || this.wish) return [];
      const chosen = remembered(LATELY, []);
      const ids = [...new Set([asked.font, ...chosen, ...worn(editor.project)])].slice(0, MOST_LATELY);
      return ids.map((id) => matching.find((face) => face.id === id)).filter(Boolean);
    },
    entryOf(face) {
      const [left, top, width, height] = face.box;
      const axes = face.axes.map(({ label, least, most }) => `${label} ${least} to ${most}`);
      return {
        ...face,
        viewBox: `${left} ${top} ${Math.max(1, width)} ${Math.max(1, height)}`,
        class: face.id === asked.font ? "on" : "",
        current: face.id === asked.font,
        title: face.fault || [face.scripts.join(", "), ...axes].filter(Boolean).join(" · "),
      };
    },
    choose(face) {
      this.$root.close();
      const others = remembered(LATELY, []).filter((id) => id !== face.id);
      localStorage.setItem(LATELY, JSON.stringify([face.id, ...others].slice(0, MOST_LATELY)));
      asked.choose(face.id);
    },
    first() {
      const [section] = this.sections;
      if (section) this.choose(section.entries[0]);
    },
    toGroup(group) {
      this.group = group.id;
      this.filter();
    },
    groupClass(group) {
      return group.id === this.group ? "on" : "";
    },
    async add(event) {
      const files = [...event.target.files];
      event.target.value = "";
      await upload(editor, files);
      await this.load();
    },
    close() {
      this.$root.close();
    },
  }));
}
