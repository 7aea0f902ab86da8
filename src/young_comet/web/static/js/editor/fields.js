// View models of the property fields: what the selection panel shows for the selected layers.
import { trim } from "../formats.js";
import { holds } from "./declarations.js";
import { placeable } from "./actions/nesting.js";
import { featuresOf } from "./typefaces.js";

// Units that need another room behind their number than their length says.
const UNIT_ROOM = { s: "unit-narrow", "°": "unit-narrow", "‰": "unit-wide" };
export const MIXED = "mixed";

const same = (a, b) => JSON.stringify(a) === JSON.stringify(b);

// Sections that the Looks tab shows.
export const LOOKS = new Set(["Blending", "Matte", "Motion blur"]);

/** Fields of some declarations of one layer. */
export function fieldsOf(editor, layer, specs) {
  return specs.filter((spec) => shown(editor, layer, spec)).map((spec) => fieldOf(editor, [layer], spec));
}

/** The sections with fields that all selected layers share, in the order of the declarations. */
export function sectionsFor(editor, folded) {
  const layers = editor.selectedLayers;
  if (!layers.length) return [];
  const shared = editor.specsOf(layers[0]).filter((spec) =>
    layers.every((layer) => {
      const other = editor.specsOf(layer).find((each) => each.id === spec.id);
      return (
        other && other.kind === spec.kind && other.section === spec.section && shown(editor, layer, other)
      );
    }),
  );
  const sections = [];
  for (const spec of shared) {
    if (LOOKS.has(spec.section)) continue;
    let section = sections.find((each) => each.label === spec.section);
    if (!section) {
      section = {
        id: spec.section,
        label: spec.section,
        note: "",
        open: !folded.has(spec.section),
        fields: [],
      };
      sections.push(section);
    }
    section.fields.push(fieldOf(editor, layers, spec));
  }
  return sections;
}

function shown(editor, layer, spec) {
  return holds(
    layer,
    spec.shown_when,
    (name) => editor.value(layer, name),
    (name) => editor.isKeyed(layer, name),
  );
}

function fieldOf(editor, layers, spec) {
  const values = layers.map((layer) => editor.value(layer, spec.id));
  const value = values.every((each) => same(each, values[0])) ? values[0] : MIXED;
  const state = keyState(editor, layers, spec);
  const changed = layers.some((layer) => layer.properties[spec.id]);
  const isFont = spec.kind === "font";
  return {
    ...spec,
    key: `${spec.id}:${layers.map((layer) => layer.id).join(",")}`,
    spec,
    values,
    value,
    keyState: state,
    keyClass: state === "here" ? "here" : "",
    keyTitle: {
      constant: `Animate ${spec.label}: set a key here`,
      animated: `Set a key for ${spec.label} here`,
      here: `Remove the key of ${spec.label} here`,
    }[state],
    ...expressed(editor, layers, spec),
    labelClass: [
      ["number", "point"].includes(spec.kind) ? "drag" : "",
      changed ? "set" : "",
      layers.some((layer) => editor.arranging.differs(layer, spec.id)) ? "arranged" : "",
    ].join(" "),
    menuLabel: `More about ${spec.label}`,
    hexLabel: `${spec.label} as hex`,
    isNumbers: spec.kind === "number" || spec.kind === "point",
    isSelect:
      spec.kind === "choice" ||
      isFont ||
      spec.kind === "asset" ||
      spec.kind === "layer" ||
      spec.kind === "scene",
    isLines: spec.kind === "words",
    isLine: ["text", "easing", "dash", "features"].includes(spec.kind),
    rowClass: spec.kind === "words" ? "wide" : spec.kind === "flag" ? "flag" : "",
    steps: spec.widget === "steps",
    given: spec.widget === "given",
    placed: spec.widget === "place",
    shownPlace: editor.mode.place === spec.id,
    ...dial(spec, values[0]),
    ...pathField(editor, layers, spec, value),
    ...curve(editor, spec, values[0]),
    ...spots(editor, spec, values[0]),
    text: value === MIXED ? "" : String(value),
    ink: null,
    style: {},
    parts: [],
    linkable: false,
    linked: false,
    ...numbers(editor, spec, values),
    ...colours(editor, spec, value),
    ...stops(editor, spec, values[0], layers[0]),
    isFont,
    ...featuresOf(editor, layers[0], spec, values[0]),
    options: options(editor, spec, value),
  };
}

/** Whether an expression works on the property, and what is wrong with it. */
function expressed(editor, layers, spec) {
  const texts = layers.map((layer) => layer.properties[spec.id]?.expression || "");
  const text = texts.find(Boolean) || "";
  const fault = layers.map((layer) => editor.view[layer.id]?.faults?.[spec.id]).find(Boolean) || "";
  return {
    expressed: Boolean(text),
    showKey: spec.animatable && !text,
    showGap: !spec.animatable && !text,
    expressionClass: fault ? "fault" : "",
    expressionTitle: fault ? `${text}\n${fault}` : text,
  };
}

function keyState(editor, layers, spec) {
  const keyed = layers.filter((layer) => editor.isKeyed(layer, spec.id));
  if (!keyed.length) return "constant";
  const half = editor.timeOf(1) / 2;
  const here = keyed.filter((layer) =>
    layer.properties[spec.id].keys.some((key) => Math.abs(layer.start_s + key.time_s - editor.time) < half),
  );
  return here.length === layers.length ? "here" : "animated";
}

function numbers(editor, spec, values) {
  if (spec.kind !== "number" && spec.kind !== "point") return {};
  const count = spec.kind === "point" ? 2 : 1;
  const names = spec.unit === "%" && spec.id === "scale" ? ["width", "height"] : ["x", "y"];
  const parts = [];
  for (let index = 0; index < count; index += 1) {
    const own = values.map((value) => (count === 1 ? value : value[index]));
    const equal = own.every((value) => Math.abs(value - own[0]) < 1e-9);
    parts.push({
      key: `${spec.id}.${index}`,
      index,
      value: equal ? own[0] : null,
      text: equal ? trim(own[0], spec.decimals) : "",
      full: equal ? trim(own[0], 4) : "",
      unit: index === count - 1 ? spec.unit : "",
      label: count === 1 ? spec.label : `${spec.label} ${names[index]}`,
      unitClass:
        !spec.unit || index < count - 1
          ? "bare"
          : (UNIT_ROOM[spec.unit] ?? ["", "", "unit-two"][spec.unit.length] ?? "unit-long"),
    });
  }
  const linkable = spec.widget === "linked" || spec.id === "shape.size";
  return { parts, linkable, linked: linkable && editor.linked };
}

function colours(editor, spec, value) {
  if (spec.kind !== "colour" || value === MIXED) return {};
  const ink =
    typeof value === "string" && value.startsWith("ink:")
      ? editor.project.inks.find((each) => each.id === value.slice(4))
      : null;
  const raw = editor.selectedLayers[0].properties[spec.id];
  const named = raw && !raw.keys.length && String(raw.value).startsWith("ink:") ? ink : null;
  return {
    ink: named ? named.name : null,
    style: { background: editor.colourOf(value) },
    text: editor.colourOf(value),
  };
}

/** How a gradient looks between its stops is the server's to say. */
function bar(editor, spec, sorted, layer) {
  const mixing = editor.value(layer, spec.id.replace(/stops$/, "mixing"));
  if (!/(fill|behind)\.stops$/.test(spec.id) || mixing === "plain") {
    const text = sorted.map(([offset, colour]) => `${editor.colourOf(colour)} ${offset * 100}%`).join(", ");
    return { background: `linear-gradient(90deg, ${text})` };
  }
  const query = new URLSearchParams({ mixing });
  for (const [offset, colour] of sorted) query.append("stop", `${offset} ${editor.colourOf(colour)}`);
  return { background: `url("/api/gradient.png?${query}") 0 0 / 100% 100%` };
}

function stops(editor, spec, value, layer) {
  if (spec.kind !== "stops") {
    return { barStyle: {}, stops: [], stopStyle: {}, stopOffset: "", stopText: "", fewStops: true };
  }
  const chosen = Math.min(editor.chosenStop ?? 0, value.length - 1);
  const sorted = [...value].sort((a, b) => a[0] - b[0]);
  return {
    barStyle: bar(editor, spec, sorted, layer),
    stops: value.map(([offset, colour], index) => ({
      index,
      chosen: index === chosen,
      label: `Stop at ${Math.round(offset * 100)} percent`,
      style: { left: `${offset * 100}%`, background: editor.colourOf(colour).slice(0, 7) },
    })),
    chosenStop: chosen,
    stopOffset: trim(value[chosen][0] * 100, 2),
    stopStyle: { background: editor.colourOf(value[chosen][1]) },
    stopText: inkName(editor, value[chosen][1]),
    fewStops: value.length <= 2,
  };
}

function dial(spec, value) {
  if (spec.widget !== "dial") return { dial: false, dialX: 0, dialY: 0 };
  const angle = (Number(value) * Math.PI) / 180;
  return { dial: true, dialX: Math.cos(angle) * 8, dialY: Math.sin(angle) * 8 };
}

/** Ways to a path: its points, the pen, another layer's outline, SVG path data as text. */
function pathField(editor, layers, spec, value) {
  if (spec.kind !== "path") return { outlines: [] };
  const [layer] = layers;
  const into = editor.mode.drawsInto;
  return {
    single: layers.length === 1,
    hasPath: Boolean(value),
    pointing: editor.mode.property === spec.id,
    drawing: into?.layer === layer.id && into.property === spec.id,
    adds: spec.widget === "strokes",
    drawTitle: spec.widget === "strokes" ? "Draw a line more with the pen" : "Draw it with the pen",
    typed: editor.typedPaths.has(spec.id),
    removable: spec.default === "" && value !== "",
    outlines: editor.layers
      .filter((each) => each.id !== layer.id && ["shape", "text"].includes(each.kind))
      .map(({ id, name }) => ({ id, name }))
      .reverse(),
  };
}

/** The curve comes from the server; until it is there the last one stands. */
function curve(editor, spec, value) {
  if (spec.kind !== "curve") return { curvePath: "", pointsPath: "" };
  const values = editor.toneCurve(value);
  const path = values
    .map((v, i) => `${i ? "L" : "M"}${(i / (values.length - 1)) * 100} ${100 - v * 100}`)
    .join(" ");
  return {
    curvePath: path,
    pointsPath: value
      .map(([x, y]) => `M${x * 100 - 2.6} ${100 - y * 100}a2.6 2.6 0 1 0 5.2 0a2.6 2.6 0 1 0-5.2 0`)
      .join(""),
  };
}

function spots(editor, spec, value) {
  if (spec.kind !== "spots") return { spots: [], fewSpots: true };
  return {
    spots: value.map(([, , softness, colour], index) => ({
      index,
      softness,
      colour,
      style: { background: editor.colourOf(colour) },
    })),
    fewSpots: value.length < 2,
  };
}

function inkName(editor, colour) {
  if (!String(colour).startsWith("ink:")) return colour;
  return editor.project.inks.find((ink) => ink.id === colour.slice(4))?.name ?? "lost ink";
}

function options(editor, spec, value) {
  let list = [];
  if (spec.kind === "choice") list = spec.options.map(([id, label]) => ({ value: id, label }));
  if (spec.kind === "font") {
    list = editor.catalog.fonts.map((font) => ({
      value: font.id,
      label: font.name,
      title: font.character,
    }));
    for (const asset of editor.project.assets) {
      if (asset.kind === "font") list.push({ value: `asset:${asset.id}`, label: asset.family || asset.name });
    }
  }
  if (spec.kind === "asset") {
    list = editor.project.assets
      .filter((asset) => spec.assets.includes(asset.kind))
      .map((asset) => ({ value: asset.id, label: asset.name }));
    if (!list.some((each) => each.value === value)) {
      list.unshift({
        value: "",
        label: { clip: "no footage", table: "no table" }[spec.assets[0]] || "no picture",
      });
    }
  }
  if (spec.kind === "scene") {
    list = placeable(editor).map((scene) => ({ value: scene.id, label: scene.name }));
    if (!list.some((each) => each.value === value)) list.unshift({ value: "", label: "none" });
  }
  if (spec.kind === "layer") {
    list = editor.layers
      .filter(
        (layer) =>
          !editor.selected.has(layer.id) &&
          layer.kind !== "treatment" &&
          (layer.kind !== "carrier" || spec.id === "align.layer"),
      )
      .map((layer) => ({ value: layer.id, label: layer.name }))
      .reverse();
    list.unshift({ value: "", label: "none" });
  }
  if (value === MIXED) list.unshift({ value: MIXED, label: "mixed" });
  return list.map((option) => ({ ...option, chosen: option.value === value }));
}

/** What the units mean that can be typed into one coordinate of a field. */
export function unitsOf(editor, spec, index) {
  const frame = index === 0 && !spec.id.endsWith(".y") ? editor.scene.width : editor.scene.height;
  const percent = spec.unit === "%" ? 1 : spec.percent_of === "frame" ? frame / 100 : null;
  const units = { px: 1, "°": 1, deg: 1, s: 1, f: editor.timeOf(1) };
  if (percent !== null) units["%"] = percent;
  return units;
}

/** New value of a field where one coordinate (of several layers) becomes a number. */
export function withPart(field, layerIndex, part, number, linked) {
  const old = field.values[layerIndex];
  const clamp = (value) => Math.min(field.maximum ?? value, Math.max(field.minimum ?? value, value));
  if (field.kind === "number") return clamp(number);
  const next = [...old];
  next[part] = clamp(number);
  if (linked && field.linkable) {
    const other = 1 - part;
    const factor = Math.abs(old[part]) > 1e-9 ? number / old[part] : null;
    next[other] = clamp(factor === null ? number : old[other] * factor);
  }
  return next.map((value) => Math.round(value * 1e4) / 1e4);
}
