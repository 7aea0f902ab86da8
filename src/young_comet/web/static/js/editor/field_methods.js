// What property fields do: typing, dragging, keys, colours, curves. Panels that show fields take
// these methods `into` their components; a component has `update()` and `typing()`.
import { pasteKeys } from "./actions/key_clipboard.js";
import { slotItems } from "./nesting_panel.js";
import { expressionItems } from "./expression_editor.js";
import { afterPaint, trim } from "../formats.js";
import { note } from "../notes.js";
import { forgetTyped } from "../typed.js";
import { api } from "../api.js";
import { drawnMethods } from "./field_drawings.js";
import { letterMethods } from "./field_letters.js";
import { arrangedItems } from "./field_items.js";
import { MIXED, unitsOf, withPart } from "./fields.js";
import { openPicker, readColour } from "./picker.js";

let copied = null;

export function fieldMethods(editor) {
  const typing = { touched: false };
  const keptAligned = (settings) => ({
    kind: "keep-aligned",
    scene: editor.sceneId,
    layers: [...editor.selected],
    ...settings,
    keep_distance: Boolean(editor.keepDistance),
    time_s: editor.time,
  });
  // What is asked from the server first is for the layers that were selected when it was asked.
  const targets = (field, valueOf, layers = editor.selectedLayers) =>
    layers.map((layer, index) => ({
      layer: layer.id,
      property: field.id,
      value: valueOf(index),
    }));
  const plainTargets = (field) =>
    editor.selectedLayers.map((layer) => ({ layer: layer.id, property: field.id }));

  const methods = {
    ...drawnMethods(editor, typing, targets, commit),
    ...letterMethods(editor, targets, commit),
    waiting: false,

    /** Soon, but while something is dragged only a few times a second: the stage comes first. */
    schedule() {
      if (this.waiting) return;
      this.waiting = true;
      const later = () => {
        this.waiting = false;
        // A panel that is not seen is brought up to date when its tab is turned to.
        if (this.$root.offsetParent !== null) this.update();
      };
      if (editor.isPreviewing) setTimeout(later, 250);
      else afterPaint(later);
    },

    // Keys
    toggleKey(field) {
      const layers = editor.selectedLayers;
      if (field.keyState !== "here") {
        for (const layer of layers) editor.openLayers.add(layer.id);
        editor.edit({
          kind: "set-keys",
          scene: editor.sceneId,
          targets: plainTargets(field),
          time_s: editor.time,
        });
        return;
      }
      const half = editor.timeOf(1) / 2;
      const keys = layers.map((layer) => ({
        layer: layer.id,
        property: field.id,
        key: layer.properties[field.id].keys.find(
          (key) => Math.abs(layer.start_s + key.time_s - editor.time) < half,
        ).id,
      }));
      editor.edit({ kind: "remove-keys", scene: editor.sceneId, keys });
    },

    // Numbers
    openExpression(field) {
      const [layer] = editor.selectedLayers;
      editor.tell("edit-expression", {
        layer: layer.id,
        property: field.id,
        label: field.label,
        targets: plainTargets(field),
      });
    },
    focusNumber(event, part) {
      typing.touched = false;
      event.target.value = part.full;
      typing.from = part.full;
      event.target.addEventListener("input", () => (typing.touched = true), { once: true });
      event.target.select();
    },
    async typeNumber(field, part, event) {
      typing.touched = false;
      const layers = editor.selectedLayers;
      try {
        const value = await editor.meaning(
          api.parseNumber(event.target.value, unitsOf(editor, field.spec, part.index)),
        );
        this.checkRange(field, value);
        event.target.classList.remove("wrong");
        this.commitNumber(field, part, value, layers);
      } catch (error) {
        event.target.classList.add("wrong");
        note(`${field.label}: ${error.message.replace(/^value: /, "")}`, { bad: true });
      }
    },
    checkRange(field, value) {
      if (
        (field.minimum !== null && value < field.minimum) ||
        (field.maximum !== null && value > field.maximum)
      ) {
        throw new Error(
          `expected ${trim(field.minimum)} to ${trim(field.maximum)}${field.unit}, got ${trim(value)}`,
        );
      }
    },
    commitNumber(field, part, value, layers) {
      const valueOf = (index) => withPart(field, index, part.index, value, field.linked);
      editor.edit(editor.set(targets(field, valueOf, layers)));
    },
    stepNumber(field, part, event) {
      const direction = { ArrowUp: 1, ArrowDown: -1 }[event.key];
      // The value that is there already, on purpose: of what is animated it is a key here.
      if (
        event.key === "Enter" &&
        String(event.target.value) === String(typing.from) &&
        field.keyState === "animated"
      ) {
        this.typeNumber(field, part, event);
      }
      if (event.key === "Escape") {
        typing.touched = false;
        event.target.value = part.text;
        event.target.blur();
      }
      if (!direction || part.value === null) return;
      event.preventDefault();
      typing.touched = false;
      forgetTyped(event.target);
      const by = direction * field.step * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1);
      this.commitNumber(field, part, Math.round((part.value + by) * 1e4) / 1e4);
    },
    scrubLabel(field, event) {
      if (field.isNumbers && event.button === 0) this.scrub(field, 0, event);
    },
    /** A field that is not being typed in is dragged sideways; a press without moving types in it. */
    scrubField(field, part, event) {
      const input = event.currentTarget;
      if (event.button !== 0 || document.activeElement === input || part.value === null) return;
      event.preventDefault();
      this.scrub(field, part.index, event, () => {
        input.focus();
        input.select();
      });
    },
    scrub(field, part, event, click = () => {}) {
      const element = event.currentTarget;
      element.setPointerCapture(event.pointerId);
      const from = event.clientX;
      const before = document.activeElement;
      let edit = null;
      const move = (now) => {
        if (!edit && Math.abs(now.clientX - from) < 3) return;
        if (!edit) before?.blur?.();
        const by = (now.clientX - from) * field.step * (now.shiftKey ? 10 : now.altKey ? 0.1 : 1);
        const valueOf = (index) => {
          const old = field.kind === "number" ? field.values[index] : field.values[index][part];
          const wanted = Math.round((old + by) * 100) / 100;
          const value = Math.min(field.maximum ?? Infinity, Math.max(field.minimum ?? -Infinity, wanted));
          return withPart(field, index, part, value, field.linked);
        };
        edit = editor.set(targets(field, valueOf));
        editor.preview([edit]);
      };
      const up = () => {
        element.removeEventListener("pointermove", move);
        if (!edit) {
          click();
          return;
        }
        editor.commit();
        editor.edit(edit);
      };
      element.addEventListener("pointermove", move);
      element.addEventListener("pointerup", up, { once: true });
    },
    /** The wheel changes the number that has the focus, and no other. */
    wheelNumber(field, part, event) {
      if (document.activeElement !== event.currentTarget || part.value === null || !event.deltaY) return;
      event.preventDefault();
      typing.touched = false;
      forgetTyped(event.target);
      const by = -Math.sign(event.deltaY) * field.step * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1);
      const wanted = Math.round((part.value + by) * 1e4) / 1e4;
      const value = Math.min(field.maximum ?? Infinity, Math.max(field.minimum ?? -Infinity, wanted));
      this.commitNumber(field, part, value);
    },
    toggleLink() {
      editor.linked = !editor.linked;
      this.update();
    },

    // Colours, texts, choices
    openColour(field, event) {
      const now = field.value === MIXED ? "#ffffff" : field.value;
      const layers = editor.selectedLayers;
      const then = (colour, done) => commit(editor.set(targets(field, () => colour, layers)), done);
      openPicker(event.currentTarget, now, then, {
        before: givenTo(editor, field),
        layer: editor.selectedLayers.length === 1 ? editor.selectedLayers[0].id : "",
      });
    },
    async typeColour(field, event) {
      const input = event.target;
      const layers = editor.selectedLayers;
      const read = await editor.working(readColour(input.value));
      if (read) editor.edit(editor.set(targets(field, () => read.colour, layers)));
      else input.value = field.text;
    },
    choose(field, event) {
      const { value } = event.target;
      if (value === MIXED) return;
      if (field.id.startsWith("align.")) {
        // It goes there, or (when asked) keeps its distance; its position counts from there on.
        editor.edit(keptAligned({ [field.id.slice(6)]: value }));
        return;
      }
      const matte = field.id.match(/^matte\.(?:(\d)\.)?layer$/);
      if (matte) {
        editor.edit({
          kind: "set-matte",
          scene: editor.sceneId,
          layers: editor.selectedLayers.map((layer) => layer.id),
          number: Number(matte[1] ?? 1),
          matte: value,
          hide: editor.hidesMattes,
        });
        return;
      }
      if (field.id === "fit.layer" && value) {
        // What fits around a layer is where that layer is.
        const edits = [
          editor.set(targets(field, () => value)),
          keptAligned({ x: "centre", y: "centre", to: "layer", layer: value }),
        ];
        editor.edit({ kind: "together", title: "Fit around a layer", edits });
        return;
      }
      editor.edit(editor.set(targets(field, () => value)));
    },
    check(field, event) {
      const value = event.target.checked;
      if (field.id === "time.curve" && editor.selected.size === 1) {
        const [layer] = editor.selected;
        if (value) editor.openLayers.add(layer);
        editor.edit({ kind: "time-curve", scene: editor.sceneId, layer, on: value });
        return;
      }
      editor.edit(editor.set(targets(field, () => value)));
    },
    draftText(field, event) {
      typing.touched = true;
      if (field.id === "text") editor.preview([editor.textEdit(editor.selectedLayers, event.target.value)]);
    },
    typeText(field, event) {
      typing.touched = false;
      editor.commit();
      const { value } = event.target;
      editor.edit(
        field.id === "text"
          ? editor.textEdit(editor.selectedLayers, value)
          : editor.set(targets(field, () => value)),
      );
    },

    // Steps, dials, places
    stepChoice(field, by) {
      const index = field.options.findIndex((option) => option.chosen);
      const next = field.options[(index + by + field.options.length) % field.options.length];
      editor.edit(editor.set(targets(field, () => next.value)));
    },
    turnDial(field, event) {
      const element = event.currentTarget;
      element.setPointerCapture(event.pointerId);
      const box = element.getBoundingClientRect();
      const angle = (now) =>
        (Math.atan2(now.clientY - box.top - box.height / 2, now.clientX - box.left - box.width / 2) * 180) /
        Math.PI;
      let last = angle(event);
      let total = Number(field.values[0]);
      let edit = null;
      const move = (now) => {
        total += ((angle(now) - last + 540) % 360) - 180;
        last = angle(now);
        const value = now.shiftKey ? Math.round(total / 15) * 15 : Math.round(total);
        edit = editor.set(
          targets(field, () => Math.min(field.maximum ?? value, Math.max(field.minimum ?? value, value))),
        );
        editor.preview([edit]);
      };
      const up = () => {
        element.removeEventListener("pointermove", move);
        editor.commit();
        if (edit) editor.edit(edit);
      };
      element.addEventListener("pointermove", move);
      element.addEventListener("pointerup", up, { once: true });
    },
    showPlace(field) {
      if (editor.mode.place === field.id) editor.enter("select");
      else editor.enter("place", { property: field.id });
    },
    editPoints(field) {
      if (editor.mode.property === field.id) editor.modes.escape();
      else editor.enter("points", { property: field.id });
    },

    penPath(field) {
      if (field.drawing) {
        editor.enter("select");
        return;
      }
      const [layer] = editor.selectedLayers;
      editor.enter("pen", { into: { layer: layer.id, property: field.id, adds: field.adds } });
    },
    pathDeed(deed) {
      if (deed === "all") editor.mode.chooseAll();
      else editor.mode.deed?.(deed);
    },
    takeOutline(field, event) {
      const source = event.target.value;
      event.target.value = "";
      const [layer] = editor.selectedLayers;
      if (source) {
        editor.edit({
          kind: "take-shape",
          scene: editor.sceneId,
          layer: layer.id,
          property: field.id,
          source,
          in_place: true,
          time_s: editor.time,
        });
      }
    },
    showPathText(field) {
      if (!editor.typedPaths.delete(field.id)) editor.typedPaths.add(field.id);
      this.update();
    },
    removePath(field) {
      if (editor.mode.property === field.id) editor.modes.escape();
      editor.edit({ kind: "reset-properties", scene: editor.sceneId, targets: plainTargets(field) });
    },

    // A property's menu
    openProperty(field, event) {
      const box = event.currentTarget.getBoundingClientRect();
      const first = editor.selectedLayers[0].properties[field.id];
      const changed = editor.selectedLayers.some((layer) => layer.properties[field.id]);
      const keyed = field.keyState !== "constant";
      const fits = copied && copied.kind === field.kind;
      const items = [
        {
          id: "copy",
          label: "Copy value",
          off: field.value === MIXED,
          run: () => (copied = { kind: field.kind, value: field.value }),
        },
        ...(first?.expression
          ? [
              {
                id: "copy-expression",
                label: "Copy its expression",
                off: false,
                run: () => (copied = { kind: field.kind, value: field.value, expression: first.expression }),
              },
            ]
          : []),
        ...(fits && copied.expression
          ? [
              {
                id: "paste-expression",
                label: "Paste expression",
                off: false,
                run: () =>
                  editor.edit({
                    kind: "set-expression",
                    scene: editor.sceneId,
                    targets: plainTargets(field),
                    text: copied.expression,
                  }),
              },
            ]
          : []),
        {
          id: "paste",
          label: "Paste value",
          off: !fits,
          run: () => editor.edit(editor.set(targets(field, () => copied.value))),
        },
        {
          id: "reset",
          label: "Back to default",
          off: !changed,
          run: () =>
            editor.edit({ kind: "reset-properties", scene: editor.sceneId, targets: plainTargets(field) }),
        },
        {
          id: "clear",
          label: "Stop animating, keep this value",
          off: !keyed,
          run: () =>
            editor.edit({
              kind: "clear-keys",
              scene: editor.sceneId,
              targets: plainTargets(field),
              time_s: editor.time,
            }),
        },
        { id: "keys", label: "Choose its keys", off: !keyed, run: () => selectAllKeys(field) },
        {
          id: "paste-keys",
          label: "Paste keys into it",
          off: !field.animatable || !localStorage.getItem("key-clipboard"),
          run: () => pasteKeys(editor, { into: field.id }),
        },
        ...arrangedItems(editor, field, plainTargets(field)),
        ...splitItems(field),
        ...expressionItems(editor, field, plainTargets(field)),
        ...slotItems(editor, field),
      ];
      window.dispatchEvent(
        new CustomEvent("open-property", { detail: { x: box.right - 210, y: box.bottom + 2, items, first } }),
      );
    },
  };

  /** Taking a point apart and joining it, where the field is one. */
  function splitItems(field) {
    const whole = field.id.replace(/\.[xy]$/, "");
    const wholes = editor.selectedLayers.map((layer) => ({ layer: layer.id, property: whole }));
    const edit = (kind) => () => {
      for (const layer of editor.selectedLayers) editor.openLayers.add(layer.id);
      editor.edit({ kind, scene: editor.sceneId, targets: wholes });
    };
    if (whole !== field.id) {
      return [{ id: "join", label: "Join x and y", off: false, run: edit("join-property") }];
    }
    return field.spec.parts
      ? [{ id: "split", label: "Split into x and y", off: false, run: edit("split-property") }]
      : [];
  }

  function selectAllKeys(field) {
    const entries = editor.selectedLayers.flatMap((layer) =>
      (layer.properties[field.id]?.keys || []).map((key) => ({
        layer: layer.id,
        property: field.id,
        key: key.id,
      })),
    );
    for (const entry of entries) editor.openLayers.add(entry.layer);
    editor.selectKeys(entries);
  }

  /** While a colour or a stop is dragged the edit is only shown; at the end it is saved. */
  function commit(edit, done) {
    if (done) {
      editor.commit(edit);
    } else editor.preview([edit]);
  }

  /** A panel's own state and deeds with those of the fields; a name that both have is a mistake. */
  function into(own) {
    const twice = Object.keys(methods).filter((name) => Object.hasOwn(own, name));
    if (twice.length) throw new Error(`a panel and its fields both have ${twice.join(", ")}`);
    return Object.defineProperties(own, Object.getOwnPropertyDescriptors(methods));
  }

  return { into, methods, typing, targets, plainTargets };
}

/** The layer and the effect whose input a colour is found in; null for colours that are not. */
function givenTo(editor, field) {
  const [, effect] = field.id.split(".");
  return field.given ? { layer: editor.selectedLayers[0].id, effect } : null;
}
