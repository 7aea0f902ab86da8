// What a placed scene shows and its slots; the slots of the open scene.
import { Alpine } from "../common.js";
import { newId, trim, soon } from "../formats.js";
import { note } from "../notes.js";
import { openInner, sceneOf, unwrap } from "./actions/nesting.js";
import { openPicker } from "./picker.js";

/** Items of a property's menu: declaring it as a slot. */
export function slotItems(editor, field) {
  if (editor.selected.size !== 1) return [];
  const [layer] = editor.selectedLayers;
  const slot = editor.scene.slots.find((each) => each.layer === layer.id && each.property === field.id);
  if (slot) {
    return [
      {
        id: "unslot",
        label: "No slot any more",
        off: false,
        run: () => editor.edit({ kind: "remove-slot", scene: editor.sceneId, slot: slot.id }),
      },
    ];
  }
  const run = async () => {
    const name = `${layer.name}${field.id === "text" ? "" : `: ${field.label.toLowerCase()}`}`.slice(0, 100);
    if (
      await editor.edit({
        kind: "add-slot",
        scene: editor.sceneId,
        id: newId(),
        name,
        layer: layer.id,
        property: field.id,
      })
    ) {
      note(`Wherever this scene is placed, ${name} can now be set.`);
    }
  };
  return [{ id: "slot", label: "Make it a slot of the scene", off: false, run }];
}

export function registerNestingPanel(editor) {
  Alpine.data("nestingPanel", () => ({
    shown: false,
    placed: false,
    name: "",
    slots: [],
    own: [],
    inks: [],
    empty: false,

    init() {
      editor.on(
        "selection document",
        soon(() => this.update()),
      );
      if (editor.project) this.update();
    },
    update() {
      if (!editor.kinds || !editor.scene) return;
      const [layer] = editor.selectedLayers;
      this.placed = editor.selected.size === 1 && layer.kind === "scene";
      const inner = this.placed ? sceneOf(editor, layer) : null;
      this.empty = this.placed && !inner;
      this.name = inner ? inner.name : "";
      this.slots = inner
        ? inner.slots.map((slot) => slotRow(editor, inner, layer, slot)).filter(Boolean)
        : [];
      this.shown = this.placed || (editor.selected.size === 0 && editor.scene.slots.length > 0);
      this.own = editor.selected.size === 0 ? editor.scene.slots.map(({ id, name }) => ({ id, name })) : [];
    },
    open() {
      openInner(editor, editor.selectedLayers[0]);
    },
    unwrap: () => unwrap(editor),
    fill(row, value) {
      return editor.edit({
        kind: "fill-slot",
        scene: editor.sceneId,
        layers: [...editor.selected],
        slot: row.id,
        value,
      });
    },
    typeText(row, event) {
      this.fill(row, event.target.value);
    },
    typeNumber(row, event) {
      const value = Number(event.target.value.replace(",", "."));
      if (Number.isFinite(value)) this.fill(row, value);
      else this.update();
    },
    choose(row, event) {
      this.fill(row, event.target.value);
    },
    animate(row) {
      const { sceneId, time } = editor;
      const on = !row.animated;
      const layers = [...editor.selected];
      const edits = [{ kind: "animate-slot", scene: sceneId, layers, slot: row.id, on, time_s: time }];
      if (on) {
        edits.push({
          kind: "set-keys",
          scene: sceneId,
          targets: layers.map((layer) => ({ layer, property: `slot.${row.id}` })),
          time_s: time,
        });
      }
      for (const layer of layers) if (on) editor.openLayers.add(layer);
      editor.edit({
        kind: "together",
        title: on ? `Animate ${row.name}` : `Stop animating ${row.name}`,
        edits,
      });
    },
    clear(row) {
      this.fill(row, null);
    },
    colour(row, event) {
      const then = (colour, done) => {
        const edit = {
          kind: "fill-slot",
          scene: editor.sceneId,
          layers: [...editor.selected],
          slot: row.id,
          value: row.ink ? colour.slice(0, 7) : colour,
        };
        if (!done) {
          editor.preview([edit]);
          return;
        }
        editor.commit(edit);
      };
      openPicker(event.currentTarget, row.value, then, row.ink ? { alpha: false, inks: false } : {});
    },
    remove(slot) {
      editor.edit({ kind: "remove-slot", scene: editor.sceneId, slot: slot.id });
    },
  }));
}

/** A slot as a field: what the place of use sets, or what the inner scene has. */
function slotRow(editor, scene, layer, slot) {
  const set = slot.id in layer.slots;
  // An animated one is a field of its own, above.
  if (`slot.${slot.id}` in layer.properties) {
    return {
      ...slot,
      set: false,
      animated: true,
      animateLabel: `Stop animating ${slot.name}`,
      ink: null,
      style: {},
      options: [],
    };
  }
  if (slot.ink) {
    const ink = editor.project.inks.find((each) => each.id === slot.ink);
    if (!ink) return null;
    const value = layer.slots[slot.id] ?? ink.colour;
    return {
      ...slot,
      set,
      value,
      isColour: true,
      canAnimate: true,
      animateLabel: `Animate ${slot.name}`,
      style: { background: editor.colourOf(value) },
    };
  }
  const inner = scene.layers.find((each) => each.id === slot.layer);
  const spec = inner && editor.spec(inner, slot.property);
  if (!spec) return null;
  const own = inner.properties[slot.property]?.value ?? spec.default;
  const value = layer.slots[slot.id] ?? own;
  const row = {
    ...slot,
    ink: null,
    set,
    value,
    canAnimate: spec.animatable,
    animateLabel: `Animate ${slot.name}`,
    text: String(value ?? ""),
    style: {},
  };
  if (["text", "words", "easing", "dash"].includes(spec.kind)) return { ...row, isText: true };
  if (spec.kind === "number") return { ...row, isNumber: true, text: trim(value, 3) };
  if (spec.kind === "colour") {
    return { ...row, isColour: true, style: { background: editor.colourOf(value) } };
  }
  if (spec.kind === "asset") {
    const options = editor.project.assets
      .filter((asset) => spec.assets.includes(asset.kind))
      .map((asset) => ({ value: asset.id, label: asset.name, chosen: asset.id === value }));
    return { ...row, isChoice: true, options };
  }
  if (spec.kind === "choice") {
    return {
      ...row,
      isChoice: true,
      options: spec.options.map(([id, label]) => ({ value: id, label, chosen: id === value })),
    };
  }
  return null;
}
