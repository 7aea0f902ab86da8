// Scenes in scenes: going in and back, wrapping, slots.
import { Alpine, newId, note, trim } from "../common.js";
import { openPicker } from "./field_methods.js";

export const sceneOf = (editor, layer) => {
  const id = layer?.kind === "scene" ? layer.properties["scene.id"]?.value : null;
  return editor.project.scenes.find((scene) => scene.id === id) || null;
};

/** The scenes through which one has come here, the outermost first. */
export const visited = () => (new URLSearchParams(location.search).get("via") || "").split(",").filter(Boolean);

export function openInner(editor, layer) {
  const scene = sceneOf(editor, layer);
  if (!scene) {
    note("It shows no scene yet: choose one in the Selection tab.");
    return;
  }
  const via = [...visited().filter((id) => id !== scene.id), editor.sceneId].join(",");
  location.href = `/projects/${editor.projectId}/scenes/${scene.id}?via=${via}`;
}

export function placeScene(editor, scene) {
  const layer = editor.newLayer("scene", scene.name, { "scene.id": scene.id });
  layer.end_s = Math.min(editor.scene.length_s, layer.start_s + scene.length_s);
  if (layer.end_s <= layer.start_s) layer.end_s = layer.start_s + scene.length_s;
  return editor.addLayer(layer);
}

/** Scenes that can be placed in this one: all that do not show it themselves. */
export function placeable(editor) {
  const shows = (scene, wanted, seen = new Set()) => {
    if (scene.id === wanted) return true;
    if (seen.has(scene.id)) return false;
    seen.add(scene.id);
    return scene.layers.some((layer) => {
      const inner = sceneOf(editor, layer);
      return inner && shows(inner, wanted, seen);
    });
  };
  return editor.project.scenes.filter((scene) => !shows(scene, editor.sceneId));
}

export async function wrap(editor) {
  const layers = [...editor.selected];
  if (!layers.length) {
    note("Select the layers to wrap first.");
    return;
  }
  const order = editor.layers.map((layer) => layer.id);
  const at = layers.map((id) => order.indexOf(id));
  const between = Math.max(...at) - Math.min(...at) + 1 - layers.length;
  const first = editor.layer(order[Math.max(...at)]);
  const taken = new Set(editor.project.scenes.map((scene) => scene.name));
  let name = layers.length === 1 ? first.name : `${first.name} and more`;
  for (let n = 2; taken.has(name); n += 1) name = `${first.name} ${n}`;
  const id = newId();
  const done = await editor.edit({ kind: "wrap-layers", scene: editor.sceneId, layers, id, new_scene: newId(), name });
  if (!done) return;
  editor.select([id]);
  if (between) note(`${between === 1 ? "A layer" : `${between} layers`} that lay between came along, so that nothing changes.`);
}

export async function unwrap(editor) {
  const [layer] = editor.selectedLayers;
  if (layer?.kind !== "scene") {
    note("Select a placed scene first.");
    return;
  }
  const before = new Set(editor.layers.map((each) => each.id));
  const baked = bakedBy(editor, layer);
  if (await editor.edit({ kind: "unwrap-scene", scene: editor.sceneId, layer: layer.id })) {
    editor.select(editor.layers.filter((each) => !before.has(each.id)).map((each) => each.id));
    if (baked.length) note(`${baked.join(", ")}: no longer kept aligned to the scene's frame, which is not there any more. The place is as it was.`, { seconds: 9 });
  }
}

/** Names of inner layers that ride and are aligned to the inner frame: outside they keep the place only. */
function bakedBy(editor, placed) {
  const value = (layer, name, otherwise) => layer.properties[name]?.value ?? otherwise;
  const along = (layer) => ["align.x", "align.y"].some((name) => value(layer, name, "none") !== "none") && value(layer, "align.to", "frame") !== "layer";
  return (sceneOf(editor, placed)?.layers || []).filter((layer) => layer.rides && along(layer) && !value(layer, "align.pinned", false)).map((layer) => layer.name);
}

/** Items of a property's menu: declaring it as a slot. */
export function slotItems(editor, field) {
  if (editor.selected.size !== 1) return [];
  const [layer] = editor.selectedLayers;
  const slot = editor.scene.slots.find((each) => each.layer === layer.id && each.property === field.id);
  if (slot) return [{ id: "unslot", label: "No slot any more", off: false, run: () => editor.edit({ kind: "remove-slot", scene: editor.sceneId, slot: slot.id }) }];
  const run = async () => {
    const name = `${layer.name}${field.id === "text" ? "" : `: ${field.label.toLowerCase()}`}`.slice(0, 100);
    if (await editor.edit({ kind: "add-slot", scene: editor.sceneId, id: newId(), name, layer: layer.id, property: field.id })) {
      note(`Wherever this scene is placed, ${name} can now be set.`);
    }
  };
  return [{ id: "slot", label: "Make it a slot of the scene", off: false, run }];
}

export function registerNestingPanel(editor) {
  Alpine.data("nestingPanel", () => ({
    shown: false, placed: false, name: "", slots: [], own: [], inks: [], empty: false,

    init() {
      editor.on("selection document", () => this.update());
      if (editor.project) this.update();
    },
    update() {
      if (!editor.kinds || !editor.scene) return;
      const [layer] = editor.selectedLayers;
      this.placed = editor.selected.size === 1 && layer.kind === "scene";
      const inner = this.placed ? sceneOf(editor, layer) : null;
      this.empty = this.placed && !inner;
      this.name = inner ? inner.name : "";
      this.slots = inner ? inner.slots.map((slot) => slotRow(editor, inner, layer, slot)).filter(Boolean) : [];
      this.shown = this.placed || (editor.selected.size === 0 && editor.scene.slots.length > 0);
      this.own = editor.selected.size === 0 ? editor.scene.slots.map(({ id, name }) => ({ id, name })) : [];
    },
    open() {
      openInner(editor, editor.selectedLayers[0]);
    },
    unwrap: () => unwrap(editor),
    fill(row, value) {
      return editor.edit({ kind: "fill-slot", scene: editor.sceneId, layers: [...editor.selected], slot: row.id, value });
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
      if (on) edits.push({ kind: "set-keys", scene: sceneId, targets: layers.map((layer) => ({ layer, property: `slot.${row.id}` })), time_s: time });
      for (const layer of layers) if (on) editor.openLayers.add(layer);
      editor.edit({ kind: "together", title: on ? `Animate ${row.name}` : `Stop animating ${row.name}`, edits });
    },
    clear(row) {
      this.fill(row, null);
    },
    colour(row, event) {
      const then = (colour, done) => {
        const edit = { kind: "fill-slot", scene: editor.sceneId, layers: [...editor.selected], slot: row.id, value: row.ink ? colour.slice(0, 7) : colour };
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
  if (`slot.${slot.id}` in layer.properties) return { ...slot, set: false, animated: true, animateLabel: `Stop animating ${slot.name}`, ink: null, style: {}, options: [] };
  if (slot.ink) {
    const ink = editor.project.inks.find((each) => each.id === slot.ink);
    if (!ink) return null;
    const value = layer.slots[slot.id] ?? ink.colour;
    return { ...slot, set, value, isColour: true, canAnimate: true, animateLabel: `Animate ${slot.name}`, style: { background: editor.colourOf(value) } };
  }
  const inner = scene.layers.find((each) => each.id === slot.layer);
  const spec = inner && editor.spec(inner, slot.property);
  if (!spec) return null;
  const own = inner.properties[slot.property]?.value ?? spec.default;
  const value = layer.slots[slot.id] ?? own;
  const row = { ...slot, ink: null, set, value, canAnimate: spec.animatable, animateLabel: `Animate ${slot.name}`, text: String(value ?? ""), style: {} };
  if (["text", "words", "easing", "dash"].includes(spec.kind)) return { ...row, isText: true };
  if (spec.kind === "number") return { ...row, isNumber: true, text: trim(value, 3) };
  if (spec.kind === "colour") return { ...row, isColour: true, style: { background: editor.colourOf(value) } };
  if (spec.kind === "asset") {
    const options = editor.project.assets.filter((asset) => spec.assets.includes(asset.kind)).map((asset) => ({ value: asset.id, label: asset.name, chosen: asset.id === value }));
    return { ...row, isChoice: true, options };
  }
  if (spec.kind === "choice") return { ...row, isChoice: true, options: spec.options.map(([id, label]) => ({ value: id, label, chosen: id === value })) };
  return null;
}
