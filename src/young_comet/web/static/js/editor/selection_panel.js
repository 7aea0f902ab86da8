// The Selection tab: fields, keys, easing, span of what is selected.
import { Alpine } from "../common.js";
import { trim } from "../formats.js";
import { complain, note, sentence } from "../notes.js";
import { api } from "../api.js";
import { fieldMethods } from "./field_methods.js";
import { beatTimes } from "./beats_panel.js";
import { openPicker } from "./picker.js";
import { fieldsOf, sectionsFor } from "./fields.js";

const KIND_LABEL = {
  carrier: "carrier",
  scene: "placed scene",
  treatment: "treatment",
  backdrop: "backdrop",
  shape: "shape",
  text: "text",
  picture: "picture",
  clip: "clip",
  sound: "sound",
};

const SHUTTER_OPENS = [
  ["before", "before"],
  ["centred", "centred"],
  ["after", "after"],
  ["degrees", "from an angle"],
];

/** How long before a flight begins: by the beats of the scene where it has some, by seconds else. */
function flyCounts(byBeats) {
  const said = (count, what) => (count === 1 ? `after a ${what}` : `after ${count} ${what}s`);
  const counts = byBeats ? [[2, 3, 4], "beat"] : [[1, 2, 3], "second"];
  const options = counts[0].map((count) => ({
    value: `${count} ${counts[1]}s`,
    label: said(count, counts[1]),
  }));
  return [{ value: "0", label: "at once" }, ...options];
}

// Sections that are folded until somebody opens them.
const LESS_USED =
  "Drawn part|Perspective|Letters|Lines|Number|Shadow|Box behind|Slices|Copies|Alignment".split("|");

export function registerSelectionPanel(editor) {
  const folded = new Set(LESS_USED);

  /** A gradient is shaped on the stage while its fields are seen. */
  function tellFill() {
    const isOpen = (editor.shownTab ?? "selection") === "selection" && !folded.has("Fill");
    if (editor.fillOpen === isOpen) return;
    editor.fillOpen = isOpen;
    editor.tell("fill-open");
  }

  const fields = fieldMethods(editor);
  const { plainTargets } = fields;
  let openPart = null;

  Alpine.data("selectionPanel", () =>
    fields.into({
      count: 0,
      placed: true,
      name: "",
      iconRef: "",
      kindText: "",
      sections: [],
      alignTo: "frame",
      alignAsOne: false,
      alignSeen: false,
      keepDistance: false,
      moving: false,
      even: false,
      canFly: false,
      flown: false,
      tolerance: "8",
      flySpeed: "1",
      flyCount: "2 seconds",
      flyCounts: [],
      duration: "2",
      shapes: [],
      frozen: false,
      isClip: false,
      canFreeze: false,
      playedIn: "",
      span: { start: "", end: "", length: "" },
      spanNote: "",
      others: [],
      colours: [],
      parts: [],
      isDrawing: false,
      blurOn: false,
      blurAngle: "180",
      blurOffset: "-90",
      blurOpens: [],
      blurByDegrees: false,
      distance: "",
      newKeys: [],
      newLayers: "playhead",
      frameText: "",
      groundText: "",
      seeThrough: false,
      groundStyle: {},

      init() {
        editor.on("view selection document typefaces tool tab", () => this.schedule());
        editor.on("tab", tellFill);
        editor.on("show-property", (id) => {
          const layer = editor.selectedLayers[0];
          const spec = layer && editor.spec(layer, id);
          if (spec && folded.delete(spec.section)) this.update();
        });
        editor.on("stop", (index) => {
          editor.chosenStop = index;
          this.update();
        });
        if (editor.project) this.update();
      },
      update() {
        if (!editor.kinds) return;
        tellFill();
        const layers = editor.selectedLayers;
        this.count = layers.length;
        this.placed = layers.some((layer) => editor.kinds[layer.kind].placed);
        const { scene } = editor;
        this.frameText = `${scene.width} × ${scene.height}`;
        const easing = editor.project.settings.new_key_easing;
        const known = new Set([...editor.catalog.easings, easing]);
        this.newLayers = editor.project.settings.new_layers;
        this.newKeys = [...known].map((value) => ({ value, chosen: value === easing }));
        this.groundText = scene.ground || "";
        this.seeThrough = !scene.ground;
        this.groundStyle = { background: scene.ground || "transparent" };
        this.blurOn = scene.shutter.on;
        this.blurAngle = trim(scene.shutter.angle_deg, 1);
        this.blurOpens = SHUTTER_OPENS.map(([value, text]) => ({
          value,
          text,
          chosen: value === scene.shutter.opens,
        }));
        this.blurByDegrees = scene.shutter.opens === "degrees";
        this.blurOffset = trim(scene.shutter.offset_deg, 1);
        this.distance = scene.viewing_distance_px
          ? trim(scene.viewing_distance_px, 0)
          : trim(scene.width * 1.5, 0);
        if (!layers.length) return;
        const one = layers.length === 1 ? layers[0] : null;
        this.name = one ? one.name : `${layers.length} layers`;
        this.iconRef = `/static/vendor/icons.svg#${one ? one.kind : "group"}`;
        this.kindText = one ? KIND_LABEL[one.kind] || one.kind : "shared fields";
        if (!this.typing()) this.sections = sectionsFor(editor, folded);
        this.updateSpan(layers);
        this.updateMotion(layers);
        this.isDrawing = Boolean(one && one.parts.length);
        this.colours = this.isDrawing ? coloursOf(editor, one) : [];
        this.parts = this.isDrawing
          ? one.parts.map((part) => partCard(editor, one, part, openPart)).reverse()
          : [];
      },
      openPart(part) {
        openPart = openPart === part.id ? null : part.id;
        this.update();
      },
      recolour(entry, event) {
        let old = entry.colour;
        const [layer] = editor.selectedLayers;
        const then = (colour, done) => {
          const edit = { kind: "recolour", scene: editor.sceneId, layers: [layer.id], old, new: colour };
          if (!done) {
            editor.preview([edit]);
            return;
          }
          editor.commit(edit);
          old = colour;
        };
        openPicker(event.currentTarget, entry.colour, then);
      },
      /** While a number or a text is being typed its field is left alone. */
      typing() {
        const element = document.activeElement;
        return (
          element &&
          this.$root.contains(element) &&
          element.matches(".prop input:not([type=checkbox]), .prop textarea") &&
          fields.typing.touched
        );
      },
      updateSpan(layers) {
        const same = (pick) => layers.every((layer) => Math.abs(pick(layer) - pick(layers[0])) < 1e-9);
        const show = (pick) => (same(pick) ? `${trim(pick(layers[0]), 3)}s` : "");
        this.span = {
          start: show((l) => l.start_s),
          end: show((l) => l.end_s),
          length: show((l) => l.end_s - l.start_s),
        };
        this.spanNote =
          layers.length === 1 ? `${editor.frameAt(layers[0].end_s - layers[0].start_s)} frames` : "";
        const chosen = new Set(layers.map((layer) => layer.id));
        this.others = editor.layers
          .filter((layer) => !chosen.has(layer.id))
          .map(({ id, name }) => ({ id, name }))
          .reverse();
      },
      updateMotion(layers) {
        const placed = layers.filter((layer) => editor.kinds[layer.kind].placed);
        this.moving = placed.length > 0 && placed.every((layer) => editor.isKeyed(layer, "position"));
        this.even = this.moving && placed.every((layer) => layer.properties.position?.pace === "even");
        this.canFly = layers.length === 1 && placed.length === 1;
        this.listCounts();
        this.flown = this.canFly && Boolean(layers[0].properties.position?.flown);
        this.shapes = editor.layers
          .filter((layer) => layer.kind === "shape" && !editor.selected.has(layer.id))
          .map(({ id, name }) => ({ id, name }))
          .reverse();
        this.isClip = layers.every((layer) => ["clip", "sound"].includes(layer.kind));
        this.canFreeze = layers.every((layer) => layer.kind === "clip");
        this.frozen = this.isClip && layers.every((layer) => layer.properties["time.frozen"]?.value);
        this.playedIn = this.isClip && layers.length === 1 ? this.passage(layers[0]) : "";
      },
      /** How long one passage of a clip takes at its speed. */
      passage(layer) {
        const asset = editor.project.assets.find(
          (each) => each.id === editor.value(layer, `${layer.kind}.asset`),
        );
        if (!asset) return "";
        const end = editor.value(layer, "time.to") || asset.duration_s;
        const length = end - editor.value(layer, "time.from");
        return `${trim((length / editor.value(layer, "time.speed")) * 100, 3)}s`;
      },

      // Motion paths and clips
      toggleEven() {
        editor.edit({
          kind: "set-pace",
          scene: editor.sceneId,
          targets: plainTargets({ id: "position" }),
          pace: this.even ? "keys" : "even",
        });
      },
      listCounts() {
        const counts = flyCounts(beatTimes(editor).length > 1);
        if (!counts.some((each) => each.value === this.flyCount)) this.flyCount = counts[2].value;
        this.flyCounts = counts.map((each) => ({ ...each, on: each.value === this.flyCount }));
      },
      chooseCount(event) {
        this.flyCount = event.target.value;
        this.listCounts();
      },
      fly() {
        const [layer] = editor.selectedLayers;
        const tolerance = Number(this.tolerance) || 8;
        editor.enter("fly", {
          layer: layer.id,
          speed: Number(this.flySpeed),
          count: parseInt(this.flyCount, 10) || 0,
          by: this.flyCount.endsWith("beats") ? "beats" : "seconds",
          tolerance,
        });
      },
      refit(event, done) {
        const [layer] = editor.selectedLayers;
        this.tolerance = event.target.value;
        const edit = {
          kind: "refit-path",
          scene: editor.sceneId,
          layer: layer.id,
          tolerance: Number(event.target.value),
        };
        if (done) {
          editor.commit(edit);
        } else editor.preview([edit]);
      },
      drawPath() {
        editor.enter("pencil");
      },
      async takePath(event) {
        const source = event.target.value;
        event.target.value = "";
        if (!source) return;
        const [layer] = editor.selectedLayers;
        try {
          const duration_s = await editor.meaning(api.parseTime(this.duration, editor.rate, 0));
          editor.edit({
            kind: "take-path",
            scene: editor.sceneId,
            layer: layer.id,
            source,
            start_s: Math.max(layer.start_s, editor.time),
            duration_s,
          });
        } catch (error) {
          complain(error);
        }
      },
      typeDuration(event) {
        this.duration = event.target.value;
        api
          .parseTime(this.duration, editor.rate, 0)
          .then(({ value }) => (editor.wayLength_s = value), complain);
      },
      freeze() {
        editor.edit({
          kind: "freeze-layers",
          scene: editor.sceneId,
          layers: [...editor.selected],
          time_s: this.frozen ? null : editor.time,
        });
      },
      fillSpan() {
        editor.edit({ kind: "fit-speed", scene: editor.sceneId, layers: [...editor.selected] });
      },
      async typePlayedIn(event) {
        try {
          const length_s = await editor.meaning(api.parseTime(event.target.value, editor.rate, 0));
          editor.edit({ kind: "fit-speed", scene: editor.sceneId, layers: [...editor.selected], length_s });
        } catch (error) {
          complain(error);
          this.update();
        }
      },

      // The scene
      openFrame() {
        window.dispatchEvent(new Event("change-frame"));
      },
      toggleAsOne() {
        this.alignAsOne = !this.alignAsOne;
      },
      toggleDistance() {
        this.keepDistance = !this.keepDistance;
        editor.keepDistance = this.keepDistance;
      },
      toggleSeen() {
        this.alignSeen = !this.alignSeen;
      },
      openGround(event) {
        const then = (colour, done) =>
          done && editor.edit({ kind: "change-scene", scene: editor.sceneId, ground: colour.slice(0, 7) });
        openPicker(event.currentTarget, editor.scene.ground || "#000000", then, {
          inks: false,
          alpha: false,
        });
      },
      chooseNewKeys(event) {
        editor.edit({ kind: "change-settings", new_key_easing: event.target.value });
      },
      chooseNewLayers(event) {
        editor.edit({ kind: "change-settings", new_layers: event.target.value });
      },
      /** Motion blur of the scene; `which` is a field of the shutter. */
      async setShutter(which, event) {
        const { shutter } = editor.scene;
        try {
          const { target } = event;
          const value =
            which === "on"
              ? target.checked
              : which === "opens"
                ? target.value
                : await editor.meaning(api.parseNumber(target.value, { "°": 1 }));
          editor.edit({
            kind: "change-scene",
            scene: editor.sceneId,
            shutter: { ...shutter, [which]: value },
          });
        } catch (error) {
          complain(error);
          this.update();
        }
      },
      async setDistance(event) {
        try {
          const viewing_distance_px = await editor.meaning(api.parseNumber(event.target.value, { px: 1 }));
          editor.edit({ kind: "change-scene", scene: editor.sceneId, viewing_distance_px });
        } catch (error) {
          complain(error);
          this.update();
        }
      },
      toggleGround() {
        const ground = editor.scene.ground ? { transparent: true } : { ground: "#17181d" };
        editor.edit({ kind: "change-scene", scene: editor.sceneId, ...ground });
      },

      // Name, align, order
      rename() {
        const name = this.name.trim();
        const [layer] = editor.selectedLayers;
        if (this.count === 1 && name && name !== layer.name) {
          editor.edit({ kind: "change-layers", scene: editor.sceneId, layers: [layer.id], name });
        } else this.update();
      },
      clicked(event) {
        const { align, distribute } = event.target.closest("button")?.dataset || {};
        const layers = [...editor.selected];
        const time_s = editor.time;
        if (align) {
          editor.edit({
            kind: "align-layers",
            scene: editor.sceneId,
            layers,
            edge: align,
            to: this.alignTo,
            as_one: this.alignAsOne,
            by: this.alignSeen ? "seen" : "box",
            time_s,
          });
        }
        if (distribute) {
          editor.edit({
            kind: "distribute-layers",
            scene: editor.sceneId,
            layers,
            axis: distribute,
            as_one: this.alignAsOne,
            by: this.alignSeen ? "seen" : "box",
            time_s,
          });
        }
      },
      fold(section) {
        if (!folded.delete(section.id)) folded.add(section.id);
        this.update();
      },

      // The span
      async typeSpan(which, event) {
        try {
          const value = await editor.meaning(api.parseTime(event.target.value, editor.rate, editor.time));
          const spans = editor.selectedLayers.map((layer) => spanWith(layer, which, value));
          editor.edit({
            kind: "set-spans",
            scene: editor.sceneId,
            mode: which === "start" ? "slide" : "trim",
            spans,
          });
        } catch (error) {
          note(sentence(error.message), { bad: true });
          this.update();
        }
      },
      takeSpan(event) {
        const other = editor.layer(event.target.value);
        event.target.value = "";
        if (!other) return;
        const { start_s, end_s } = other;
        const spans = editor.selectedLayers.map((layer) => ({ layer: layer.id, start_s, end_s }));
        editor.edit({ kind: "set-spans", scene: editor.sceneId, mode: "trim", spans });
      },
    }),
  );
}

/** Every colour that a layer uses, with how often. */
function coloursOf(editor, layer) {
  const counts = new Map();
  const count = (value) => {
    if (typeof value === "string" && /^(#|ink:)/.test(value)) counts.set(value, (counts.get(value) || 0) + 1);
    else if (Array.isArray(value)) value.forEach(count);
  };
  for (const part of layer.parts) {
    for (const spec of editor.specsOfMember(layer, "part", part)) {
      if (!["colour", "stops"].includes(spec.kind)) continue;
      const name = (id) => `part.${part.id}.${id}`;
      const flat = editor.value(layer, name("fill.kind")) === "flat";
      if (spec.id.endsWith("fill.colour") && !(flat && editor.value(layer, name("fill.on")))) continue;
      if (spec.id.endsWith("fill.stops") && (flat || !editor.value(layer, name("fill.on")))) continue;
      if (spec.id.endsWith("stroke.colour") && !editor.value(layer, name("stroke.width"))) continue;
      count(layer.properties[spec.id]?.value ?? spec.default);
    }
  }
  return [...counts].map(([colour, times]) => {
    const ink = editor.project.inks.find((each) => `ink:${each.id}` === colour);
    return {
      colour,
      style: { background: editor.colourOf(colour) },
      label: `${ink ? ink.name : colour}, ${times === 1 ? "once" : `${times} times`}`,
    };
  });
}

function partCard(editor, layer, part, openId) {
  const open = openId === part.id;
  return {
    ...part,
    open,
    label: `${open ? "Close" : "Open"} ${part.name}`,
    fields: open ? fieldsOf(editor, layer, editor.specsOfMember(layer, "part", part)) : [],
  };
}

function spanWith(layer, which, value) {
  const { id, start_s, end_s } = layer;
  if (which === "start") return { layer: id, start_s: value, end_s: value + (end_s - start_s) };
  if (which === "end") return { layer: id, start_s, end_s: value };
  return { layer: id, start_s, end_s: start_s + value };
}
