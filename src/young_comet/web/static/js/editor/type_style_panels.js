// Type styles: what the selected texts wear, and those of the project.
import { Alpine } from "../common.js";
import { newId, trim } from "../formats.js";
import { MIXED } from "./fields.js";

const SAID = 4;
const same = (a, b) => JSON.stringify(a) === JSON.stringify(b);

/** Declarations of what a text has otherwise than its style. */
function differing(editor, layer, style) {
  return editor.catalog.styled
    .map((id) => editor.declared.of(layer, id))
    .filter((spec) => {
      const own = layer.properties[spec.id];
      if (own && (own.keys.length || own.expression)) return true;
      const said = style.properties[spec.id];
      return !same(own ? own.value : spec.default, said === undefined ? spec.default : said);
    });
}

function joined(labels) {
  const more = labels.length - SAID;
  return more > 0 ? `${labels.slice(0, SAID).join(", ")} and ${more} more` : labels.join(", ");
}

/** The name of a typeface as documents name it. */
function faceName(editor, id) {
  const asset = editor.project.assets.find((each) => id === `asset:${each.id}`);
  return asset ? asset.family : editor.catalog.fonts.find((font) => font.id === id)?.name || id;
}

function findStyle(editor, id) {
  return editor.project.type_styles.find((style) => style.id === id);
}

export function registerTypeStylePanels(editor) {
  const texts = () => editor.selectedLayers.filter((layer) => layer.kind === "text");

  Alpine.data("typeStylePanel", () => ({
    shown: false,
    options: [],
    worn: false,
    single: false,
    differs: "",
    differsTitle: "",

    init() {
      editor.on("selection document", () => this.update());
      if (editor.project) this.update();
    },
    update() {
      if (!editor.kinds) return;
      const layers = texts();
      this.shown = layers.length > 0 && layers.length === editor.selectedLayers.length;
      if (!this.shown) return;
      this.single = layers.length === 1;
      const ids = new Set(layers.map((layer) => layer.type_style || ""));
      const now = ids.size > 1 ? MIXED : [...ids][0];
      const style = findStyle(editor, now);
      const list = editor.project.type_styles.map(({ id, name }) => ({ value: id, label: name }));
      list.unshift({ value: "", label: "None" });
      if (now === MIXED) list.unshift({ value: MIXED, label: "mixed" });
      const chosen = style || now === MIXED ? now : "";
      this.options = list.map((each) => ({ ...each, chosen: each.value === chosen }));
      this.worn = Boolean(style);
      const specs = style ? layers.flatMap((layer) => differing(editor, layer, style)) : [];
      const labels = [...new Set(specs.map((spec) => spec.label))];
      this.differs = labels.length ? `Its own: ${joined(labels)}` : "";
      this.differsTitle = labels.join(", ");
    },
    wear(style) {
      const layers = texts().map((layer) => layer.id);
      editor.edit({ kind: "wear-type-style", scene: editor.sceneId, layers, style: style || null });
    },
    choose(event) {
      if (event.target.value !== MIXED) this.wear(event.target.value);
    },
    takeBack() {
      this.wear(texts()[0].type_style);
    },
    hand() {
      const [layer] = texts();
      const like = { scene: editor.sceneId, like: layer.id };
      editor.edit({ kind: "change-type-style", style: layer.type_style, ...like });
    },
    keep() {
      const [layer] = texts();
      const face = faceName(editor, editor.value(layer, "text.font"));
      const name = `${face} ${trim(editor.value(layer, "text.size"), 0)}`;
      const known = editor.project.type_styles.filter((style) => style.name.startsWith(name)).length;
      editor.edit({
        kind: "save-type-style",
        scene: editor.sceneId,
        layer: layer.id,
        id: newId(),
        name: known ? `${name} (${known + 1})` : name,
      });
    },
  }));

  Alpine.data("typeStylesList", () => ({
    styles: [],

    init() {
      editor.on("document", () => this.update());
      if (editor.project) this.update();
    },
    update() {
      if (!editor.catalog) return;
      const layers = editor.project.scenes.flatMap((scene) => scene.layers);
      const { specs } = editor.catalog.layer_kinds.find((kind) => kind.id === "text");
      const of = (style, id) => style.properties[id] ?? specs.find((spec) => spec.id === id).default;
      this.styles = editor.project.type_styles.map((style) => {
        const count = layers.filter((layer) => layer.type_style === style.id).length;
        return {
          ...style,
          colour: { background: editor.colourOf(of(style, "fill.colour")) },
          facts: `${faceName(editor, of(style, "text.font"))} ${trim(of(style, "text.size"), 0)} px`,
          worn: count === 1 ? "1 text" : `${count} texts`,
          nameLabel: `Name of the type style ${style.name}`,
          removeLabel: `Remove the type style ${style.name}`,
        };
      });
    },
    rename(style, event) {
      const name = event.target.value.trim();
      if (name && name !== style.name) editor.edit({ kind: "change-type-style", style: style.id, name });
      else this.update();
    },
    remove(style) {
      editor.edit({ kind: "remove-type-style", style: style.id });
    },
    /** Selects the texts of this scene that wear it. */
    find(style) {
      editor.select(editor.layers.filter((layer) => layer.type_style === style.id).map((layer) => layer.id));
    },
  }));
}
