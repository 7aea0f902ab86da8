// What the fields of letters do: a typeface chosen by its looks, features turned on and off.
import { withFeature } from "./typefaces.js";

/** Methods of panels; `targets(field, valueOf)` and `commit(edit)` as the other fields use them. */
export function letterMethods(editor, targets, commit) {
  const siblingOf = (field, name) => {
    const [layer] = editor.selectedLayers;
    return editor.value(layer, field.id.replace(/font$/, name));
  };
  return {
    openTypefaces(field) {
      const [layer] = editor.selectedLayers;
      const run = layer.runs.find((each) => field.id.startsWith(`run.${each.id}.`));
      const letters = [...String(editor.value(layer, "text"))];
      editor.tell("open-typefaces", {
        words: (run ? letters.slice(run.first, run.last) : letters).join(""),
        weight: siblingOf(field, "weight"),
        font: field.value,
        choose: (font) => commit(editor.set(targets(field, () => font)), true),
      });
    },
    toggleFeature(field, feature) {
      commit(editor.set(targets(field, (index) => withFeature(String(field.values[index]), feature))), true);
    },
  };
}
