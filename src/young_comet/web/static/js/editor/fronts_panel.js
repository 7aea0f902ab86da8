// The fronts of a text: what goes over its letters, and how those look that it has not reached.
import { Alpine } from "../common.js";
import { fieldMethods } from "./field_methods.js";
import { fieldsOf } from "./fields.js";

// Of a front itself; all others tell how what it has not reached is displaced.
const SPREAD = ["progress", "by", "width", "order", "path", "seed", "profile", "pivot", "seen"];

/** Under "Not yet reached" it need not be said again that it is displaced. */
function shortly(field) {
  const label = field.label.replace(/^Displaced /, "");
  return { ...field, label: label[0].toUpperCase() + label.slice(1) };
}

export function registerFrontsPanel(editor) {
  const fields = fieldMethods(editor);
  const open = new Set();
  const more = new Set(); // properties that are shown although they are as at rest, by their addresses

  Alpine.data("frontsPanel", () =>
    fields.into({
      shown: false,
      cards: [],

      init() {
        editor.on("view selection document", () => this.update());
        editor.on("front-added", (id) => open.add(id));
        if (editor.project) this.update();
      },
      update() {
        if (!editor.kinds) return;
        const layers = editor.selectedLayers;
        this.shown = layers.length > 0 && layers.every((layer) => layer.kind === "text");
        if (!this.shown || this.typing()) return;
        this.cards =
          layers.length === 1 ? layers[0].fronts.map((front) => this.cardOf(layers[0], front)) : [];
      },
      typing() {
        const element = document.activeElement;
        return element && this.$root.contains(element) && element.matches("input") && fields.typing.touched;
      },
      cardOf(layer, front) {
        const isOpen = open.has(front.id);
        const prefix = `front.${front.id}.`;
        const by = editor.value(layer, `${prefix}by`);
        const specs = isOpen ? editor.specsOfMember(layer, "front", front) : [];
        const plain = (spec) => spec.id.slice(prefix.length);
        const isSet = (spec) => layer.properties[spec.id] !== undefined || more.has(spec.id);
        const displaced = specs.filter((spec) => !SPREAD.includes(plain(spec)));
        const worn = displaced.filter(isSet);
        // The colour goes with its tint.
        const tinted = worn.some((spec) => plain(spec) === "tint");
        const rest = (spec) => !worn.includes(spec) && plain(spec) !== "colour";
        return {
          id: front.id,
          on: front.on,
          name: front.name || "Front",
          open: isOpen,
          openLabel: `${isOpen ? "Close" : "Open"} ${front.name || "Front"}`,
          by,
          spread: fieldsOf(
            editor,
            layer,
            specs.filter((spec) => SPREAD.includes(plain(spec))),
          ),
          look: fieldsOf(
            editor,
            layer,
            displaced.filter((spec) => worn.includes(spec) || (tinted && plain(spec) === "colour")),
          ).map(shortly),
          others: displaced.filter(rest).map(({ id, label }) => shortly({ id, label })),
        };
      },
      openCard(card) {
        if (!open.delete(card.id)) open.add(card.id);
        this.update();
      },
      add() {
        editor.tell("open-fronts");
      },
      addProperty(event) {
        if (event.target.value) more.add(event.target.value);
        event.target.value = "";
        this.update();
      },
      memberEdit(card, kind, rest) {
        const [layer] = editor.selectedLayers;
        editor.edit({ kind, scene: editor.sceneId, family: "front", layer: layer.id, ...rest });
      },
      switchOn(card, event) {
        this.memberEdit(card, "change-member", { member: card.id, set: { on: event.target.checked } });
      },
      rename(card, event) {
        this.memberEdit(card, "change-member", { member: card.id, set: { name: event.target.value.trim() } });
      },
      remove(card) {
        this.memberEdit(card, "remove-members", { members: [card.id] });
      },
    }),
  );
}
