// The typefaces of the project: what each has, as the server knows it.
import { api } from "../api.js";
import { complain } from "../notes.js";

/** Those of the list that are fonts of the project, as one text. */
const ownOf = (project) =>
  project.assets
    .filter((asset) => asset.kind === "font")
    .map((asset) => asset.id)
    .join(" ");

/** Asked for when a text is first looked at; "typefaces" is told when they have come. */
export class Typefaces {
  constructor(editor) {
    this.editor = editor;
    this.known = new Map();
    this.own = null; // the project's fonts when it was asked
  }

  /** What a typeface has (features, axes, scripts); null until that is known. */
  of(id) {
    const own = ownOf(this.editor.project);
    if (own !== this.own) {
      this.own = own;
      api
        .typefaces(this.editor.projectId)
        .then((found) => {
          this.known = new Map(found.typefaces.map((each) => [each.id, each]));
          this.editor.tell("typefaces");
        })
        .catch((error) => {
          this.own = null;
          complain(error);
        });
    }
    return this.known.get(id) || null;
  }

  /** Of the two that belong together, the italic of an upright one and the other way round; "" without. */
  sister(id) {
    const { fonts } = this.editor.catalog;
    const upright = fonts.find((font) => font.italic === id);
    return upright ? upright.id : fonts.find((font) => font.id === id)?.italic || "";
  }

  /** Whether it is the italic of another. */
  isItalic(id) {
    return this.editor.catalog.fonts.some((font) => font.italic === id);
  }
}

const parts = (text) =>
  text
    .split(",")
    .map((part) => part.trim())
    .filter(Boolean);
const tagOf = (part) => part.replace(/["']/g, "").split(/\s+/)[0];
const isOff = (part) => /\s(off|0)$/i.test(part);

/** The features of a field's typeface, each with whether the field's text has it on. */
export function featuresOf(editor, layer, spec, value) {
  if (spec.kind !== "features") return { features: [] };
  const face = editor.typefaces.of(editor.value(layer, spec.id.replace(/features$/, "font")));
  const said = new Map(parts(String(value)).map((part) => [tagOf(part), !isOff(part)]));
  return {
    features: (face ? face.features : []).map((each) => {
      const on = said.get(each.tag) ?? each.by_itself;
      return { ...each, on, class: on ? "on" : "", title: `OpenType: ${each.tag}` };
    }),
  };
}

/** The text of features with one of them turned on or off; nothing is said of what is so by itself. */
export function withFeature(text, feature) {
  const others = parts(text).filter((part) => tagOf(part) !== feature.tag);
  const on = !feature.on;
  if (on !== feature.by_itself) others.push(on ? feature.tag : `${feature.tag} off`);
  return others.join(", ");
}
