// Axes of a typeface's own: what its letters can be changed by besides weight, width, slant and size.
import { Alpine } from "../common.js";
import { newId } from "../formats.js";
import { fieldMethods } from "./field_methods.js";
import { fieldsOf } from "./fields.js";
import { addMembers, removeMembers } from "./member_edits.js";

export function registerAxesPanel(editor) {
  const fields = fieldMethods(editor);
  const only = () => (editor.selectedLayers.length === 1 ? editor.selectedLayers[0] : null);

  Alpine.data("axesPanel", () =>
    fields.into({
      shown: false,
      axes: [],
      others: [],

      init() {
        editor.on("view selection document typefaces", () => this.update());
        if (editor.project) this.update();
      },
      update() {
        if (!editor.kinds) return;
        const layer = only();
        this.shown = false;
        if (!layer || layer.kind !== "text") return;
        const face = editor.typefaces.of(editor.value(layer, "text.font"));
        const known = new Map(
          (face ? face.axes : []).filter((axis) => axis.own).map((axis) => [axis.tag, axis]),
        );
        this.shown = known.size > 0 || layer.axes.length > 0;
        if (!this.shown || this.typing()) return;
        const worn = new Set(layer.axes.map((axis) => axis.tag));
        this.others = [...known.values()].filter((axis) => !worn.has(axis.tag));
        this.axes = layer.axes.map((axis) => {
          const has = known.get(axis.tag);
          const specs = editor.specsOfMember(layer, "axis", axis);
          return {
            ...axis,
            label: has ? has.label : axis.tag,
            removeLabel: `Without the axis ${has ? has.label : axis.tag}`,
            fields: fieldsOf(editor, layer, specs).map((field) => ({
              ...field,
              label: has ? has.label : `${axis.tag} (not of this typeface)`,
              help: has ? `${has.label}: ${has.least} to ${has.most}` : field.help,
              minimum: has ? has.least : field.minimum,
              maximum: has ? has.most : field.maximum,
            })),
          };
        });
      },
      typing() {
        const element = document.activeElement;
        return element && this.$root.contains(element) && element.matches("input") && fields.typing.touched;
      },
      add(event) {
        const axis = this.others.find((each) => each.tag === event.target.value);
        event.target.value = "";
        if (!axis) return;
        const member = { id: newId(), tag: axis.tag };
        const properties = { value: { value: axis.usual } };
        editor.edit(addMembers(editor, "axis", [only().id], [{ member, properties }]));
      },
      remove(axis) {
        editor.edit(removeMembers(editor, "axis", only().id, [axis.id]));
      },
    }),
  );
}
