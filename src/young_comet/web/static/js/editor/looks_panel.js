// The Looks tab: blending, masks and effects of the selected layer.
import { Alpine } from "../common.js";
import { api } from "../api.js";
import { newId } from "../formats.js";
import { note } from "../notes.js";
import { addHalfPlane } from "./actions/shapes.js";
import { showBare } from "./actions/views.js";
import { fieldMethods } from "./field_methods.js";
import { openPicker } from "./picker.js";
import { LOOKS, fieldsOf } from "./fields.js";
import { addMembers, changeMember, copyMembers, removeMembers } from "./member_edits.js";

const MODES = {
  union: "added",
  minus: "taken away",
  intersect: "where both are",
  exclude: "where only one is",
};

export function registerLooksPanel(editor) {
  const folded = new Set(["Matte", "Motion blur"]);
  const open = new Set();
  const shownAt = new Map(); // of effects whose settings are shown: the moment and the revision
  const fields = fieldMethods(editor);
  const scene = () => editor.sceneId;
  const only = () => (editor.selected.size === 1 ? editor.selectedLayers[0] : null);
  const change = (card, set) => editor.edit(changeMember(editor, card.family, only().id, card.id, set));
  const edit = (kind, more) => editor.edit({ kind, scene: scene(), layer: only().id, ...more });
  const held = (name) => JSON.parse(localStorage.getItem(name) || "null");

  Alpine.data("looksPanel", () =>
    fields.into({
      count: 0,
      sections: [],
      masks: [],
      maskNote: "",
      effects: [],
      outlined: [],
      sets: [],
      hasSets: false,
      hasEffects: false,
      noEffects: true,
      canPaste: false,
      drawing: "",

      init() {
        editor.on("view selection document mode tab", () => this.schedule());
        editor.on("effect-added", (id) => {
          open.add(`effect.${id}`);
          this.update();
        });
        editor.on("mask-added", (id) => {
          open.add(`mask.${id}`);
          editor.enter("mask", { mask: id });
          this.update();
        });
        if (editor.project) this.update();
      },
      update() {
        if (!editor.kinds) return;
        this.count = editor.selected.size;
        const layer = only();
        this.drawing = editor.mode.drawsMask ? editor.mode.tool : "";
        if (!layer || this.typing()) return;
        this.sections = this.looksOf(layer);
        this.masks = layer.masks.map((mask) => maskCard(layer, mask));
        this.maskNote = layer.masks.length ? `${layer.masks.length}, joined from above down` : "";
        this.effects = layer.effects.map((effect) => effectCard(layer, effect));
        this.hasEffects = layer.effects.length > 0;
        this.noEffects = !this.hasEffects;
        this.outlined = editor.layers
          .filter((each) => each.id !== layer.id && ["shape", "text"].includes(each.kind))
          .map(({ id, name }) => ({ id, name }))
          .reverse();
        this.sets = editor.project.effect_sets.map(({ id, name }) => ({ id, name }));
        this.hasSets = this.sets.length > 0;
        const copied = held("mask-clipboard");
        this.canPaste = Boolean(copied && copied.scene === editor.sceneId && editor.layer(copied.layer));
      },
      looksOf(layer) {
        const specs = editor.kinds[layer.kind].specs.filter((spec) => LOOKS.has(spec.section));
        const names = [...new Set(specs.map((spec) => spec.section))];
        return names.map((name) => ({
          id: name,
          label: name,
          note: "",
          open: !folded.has(name),
          fields: fieldsOf(
            editor,
            layer,
            specs.filter((spec) => spec.section === name),
          ),
        }));
      },
      typing() {
        const element = document.activeElement;
        return (
          element &&
          this.$root.contains(element) &&
          element.matches(".prop input:not([type=checkbox]), .prop textarea") &&
          fields.typing.touched
        );
      },
      get hidesMattes() {
        return editor.hidesMattes;
      },
      set hidesMattes(value) {
        editor.hidesMattes = value;
      },
      fold(section) {
        if (!folded.delete(section.id)) folded.add(section.id);
        this.update();
      },
      async give(offer) {
        const { property, value } = offer;
        await editor.edit(editor.set([{ layer: only().id, property, value }]));
      },
      async useSetting(card, setting) {
        const place = { scene: editor.sceneId, layer: only().id, effect: card.id };
        await editor.edit({ kind: "use-setting", ...place, setting: setting.id });
      },
      openCard(card) {
        const name = `${card.family}.${card.id}`;
        if (!open.delete(name)) open.add(name);
        shownAt.delete(card.id); // opened again, its settings are seen on the layer as it is then
        if (card.family === "mask") {
          if (open.has(name)) editor.enter("mask", { mask: card.id });
          else if (editor.mode.mask === card.id) editor.enter("select");
        }
        this.update();
      },
      // Masks
      isDrawing(tool) {
        return this.drawing === tool ? "on" : "";
      },
      drawMask(tool) {
        if (this.drawing === tool) editor.enter("select");
        else editor.enter(tool, { mask: true });
      },
      addHalfPlane: () => addHalfPlane(editor),
      async takeMask(event) {
        const source = event.target.value;
        event.target.value = "";
        if (!source) return;
        const id = newId();
        if (await edit("take-mask", { source, id, time_s: editor.time })) editor.tell("mask-added", id);
      },
      renameMask(card, event) {
        const name = event.target.value.trim();
        if (name && name !== card.name) change(card, { name });
        else this.update();
      },
      joinMask(card, event) {
        change(card, { mode: event.target.value });
      },
      invertMask(card) {
        change(card, { inverted: !card.inverted });
      },
      switchMask(card, event) {
        change(card, { on: event.target.checked });
      },
      tieMask(card, event) {
        const { value } = event.target;
        const place =
          value === "layer" || value === "scene" ? { space: value } : { space: "follow", follows: value };
        edit("tie-mask", { mask: card.id, ...place, time_s: editor.time });
      },
      openMaskColour(card, event) {
        const then = (colour, done) => done && change(card, { colour: colour.slice(0, 7) });
        openPicker(event.currentTarget, card.colour, then, { inks: false, alpha: false });
      },
      pointMask(card) {
        if (card.pointing) editor.modes.escape();
        else editor.enter("points", { property: `mask.${card.id}.path` });
      },
      copyMask(card) {
        localStorage.setItem(
          "mask-clipboard",
          JSON.stringify({ scene: editor.sceneId, layer: only().id, masks: [card.id] }),
        );
        note("The mask is on the clipboard: select another layer to paste it.", { seconds: 3 });
        this.update();
      },
      pasteMasks(inPlace) {
        const copied = held("mask-clipboard");
        editor.edit({
          kind: "copy-masks",
          scene: scene(),
          layer: copied.layer,
          members: copied.masks,
          targets: [only().id],
          in_place: inPlace,
          time_s: editor.time,
        });
      },
      removeMask(card) {
        editor.edit(removeMembers(editor, "mask", only().id, [card.id]));
      },

      // Effects
      openEffects() {
        window.dispatchEvent(new Event("open-effects"));
      },
      switchEffect(card, event) {
        change(card, { on: event.target.checked });
      },
      duplicateEffect(card) {
        editor.edit(copyMembers(editor, "effect", only().id, [card.id], [only().id]));
      },
      removeEffect(card) {
        editor.edit(removeMembers(editor, "effect", only().id, [card.id]));
      },
      applySet(event) {
        const set = event.target.value;
        event.target.value = "";
        if (set) editor.edit({ kind: "apply-effects", scene: scene(), layers: [...editor.selected], set });
      },
      showBare(on) {
        showBare(editor, on);
      },
      /** Cards make room while one is dragged; it lands before the card it is let go on. */
      dragEffect(card, event) {
        const list = event.currentTarget.closest(".section");
        const cards = [...list.querySelectorAll("[data-effect]")];
        const from = cards.findIndex((each) => each.dataset.effect === card.id);
        let to = from;
        const move = (now) => {
          const middles = cards
            .map((each) => each.getBoundingClientRect())
            .map((box) => box.top + box.height / 2);
          to = middles.filter((middle, index) => index !== from && middle < now.clientY).length;
          cards.forEach((each, index) => {
            each.classList.toggle("dragged", index === from);
            each.classList.toggle("lands", index !== from && index - (index > from ? 1 : 0) === to);
          });
        };
        const up = () => {
          window.removeEventListener("pointermove", move);
          cards.forEach((each) => each.classList.remove("dragged", "lands"));
          if (to !== from) editor.edit(changeMember(editor, "effect", only().id, card.id, {}, to));
        };
        window.addEventListener("pointermove", move);
        window.addEventListener("pointerup", up, { once: true });
      },
      openMore(event) {
        const box = event.currentTarget.getBoundingClientRect();
        const layer = only();
        const all = layer.effects.map((effect) => effect.id);
        const copied = held("effect-clipboard");
        const fits = Boolean(
          copied &&
          copied.scene === editor.sceneId &&
          editor.layer(copied.layer) &&
          copied.layer !== layer.id,
        );
        const items = [
          {
            id: "copy",
            label: "Copy all effects",
            off: !all.length,
            run: () =>
              localStorage.setItem(
                "effect-clipboard",
                JSON.stringify({ scene: editor.sceneId, layer: layer.id, effects: all }),
              ),
          },
          {
            id: "paste",
            label: "Paste effects",
            off: !fits,
            run: () => editor.edit(copyMembers(editor, "effect", copied.layer, copied.effects, [layer.id])),
          },
          {
            id: "save",
            label: "Save as a set",
            off: !all.length,
            run: () => edit("save-effects", { effects: all, id: newId(), name: setName(layer) }),
          },
          ...editor.project.effect_sets.map((each) => ({
            id: `drop-${each.id}`,
            label: `Remove the set ${each.name}`,
            off: false,
            run: () => editor.edit({ kind: "change-effect-set", set: each.id, remove: true }),
          })),
          {
            id: "clear",
            label: "Remove all effects",
            off: !all.length,
            run: () => editor.edit(removeMembers(editor, "effect", only().id, all)),
          },
        ];
        window.dispatchEvent(
          new CustomEvent("open-property", { detail: { x: box.right - 210, y: box.bottom + 2, items } }),
        );
      },
    }),
  );

  function setName(layer) {
    const taken = new Set(editor.project.effect_sets.map((each) => each.name));
    const base = `${layer.name} looks`;
    let name = base;
    for (let number = 2; taken.has(name); number += 1) name = `${base} ${number}`;
    return name;
  }

  function maskCard(layer, mask) {
    const isOpen = open.has(`mask.${mask.id}`);
    const others = editor.layers.filter((each) => each.id !== layer.id && editor.kinds[each.kind].placed);
    const spaces = [
      { value: "layer", label: "the layer", chosen: mask.space === "layer" },
      { value: "scene", label: "the scene", chosen: mask.space === "scene" },
      ...others
        .map((each) => ({ value: each.id, label: `follows ${each.name}`, chosen: mask.follows === each.id }))
        .reverse(),
    ];
    return {
      ...mask,
      family: "mask",
      open: isOpen,
      cls: `${mask.on ? "" : "off"} ${editor.mode.mask === mask.id ? "chosen" : ""}`,
      dot: { backgroundColor: mask.colour },
      isPath: mask.form === "path",
      pointing: editor.mode.property === `mask.${mask.id}.path`,
      openLabel: `${isOpen ? "Close" : "Open"} ${mask.name}`,
      modes: Object.entries(MODES).map(([value, label]) => ({ value, label, chosen: mask.mode === value })),
      spaces: isOpen ? spaces : [],
      fields: isOpen ? fieldsOf(editor, layer, editor.specsOfMember(layer, "mask", mask)) : [],
    };
  }

  /** The settings of an effect as pictures of the layer; they stay while the playhead moves. */
  function settingsOf(layer, effect, kind) {
    const place = { project: editor.projectId, scene: editor.sceneId, layer: layer.id, effect: effect.id };
    const seen = layer.start_s <= editor.time && editor.time < layer.end_s;
    if (!shownAt.has(effect.id)) {
      const middle = (layer.start_s + Math.min(layer.end_s, editor.scene.length_s)) / 2;
      shownAt.set(effect.id, { time_s: seen ? editor.time : middle, r: editor.revision });
    }
    return kind.settings.map((each) => ({
      ...each,
      title: `${kind.label}: ${each.label}`,
      picture: api.settingSample({ ...place, setting: each.id }, shownAt.get(effect.id)),
    }));
  }

  function effectCard(layer, effect) {
    const kind = editor.effects[effect.kind];
    const isOpen = open.has(`effect.${effect.id}`);
    const label = effect.name || kind.label;
    return {
      ...effect,
      family: "effect",
      open: isOpen,
      label,
      help: kind.help,
      cls: effect.on ? "" : "off",
      openLabel: `${isOpen ? "Close" : "Open"} ${label}`,
      fields: isOpen ? fieldsOf(editor, layer, editor.specsOfMember(layer, "effect", effect)) : [],
      settings: isOpen ? settingsOf(layer, effect, kind) : [],
      ...wantedBy(layer, effect),
    };
  }

  /** What an effect lacks before it does anything, and layers or tables that it could be given. */
  function wantedBy(layer, effect) {
    const wanted = editor.view[layer.id]?.wants?.[effect.id];
    if (!wanted) return { wants: "", offers: [] };
    const property = `effect.${effect.id}.${wanted.parameter}`;
    return {
      wants: wanted.says,
      offers: wanted.offers.map(([value, label]) => ({ value, label, property, title: `Use ${label}` })),
    };
  }
}

/** The sheet that adds an effect: by search, with a picture of each. */
export function registerEffectSheet(editor) {
  Alpine.data("effectSheet", () => ({
    query: "",
    families: [],
    found: 0,
    init() {
      window.addEventListener("open-effects", () => this.open());
    },
    open() {
      if (!editor.selected.size) {
        note("Select a layer first.");
        return;
      }
      this.query = "";
      this.filter();
      this.$root.showModal();
      this.$root.querySelector("input").focus();
    },
    close() {
      this.$root.close();
    },
    filter() {
      const words = this.query.toLowerCase().split(/\s+/).filter(Boolean);
      const fits = (kind) =>
        words.every((word) => `${kind.label} ${kind.family} ${kind.help}`.toLowerCase().includes(word));
      const matching = editor.catalog.effects.filter(fits);
      this.found = matching.length;
      this.families = editor.catalog.effect_families
        .map((family) => ({
          ...family,
          entries: matching
            .filter((kind) => kind.family === family.id)
            .map((kind) => ({
              id: kind.id,
              label: kind.label,
              help: kind.help,
              picture: `/api/effects/${kind.id}/sample.jpg`,
            })),
        }))
        .filter((family) => family.entries.length);
    },
    first() {
      const [family] = this.families;
      if (family) this.add(family.entries[0]);
    },
    async add(entry) {
      this.$root.close();
      const id = newId();
      const layers = [...editor.selected];
      const done = await editor.edit(
        addMembers(editor, "effect", layers, [{ member: { id, kind: entry.id } }]),
      );
      if (done) {
        editor.tell("show-tab", "looks");
        editor.tell("effect-added", id);
      }
    },
  }));
}
