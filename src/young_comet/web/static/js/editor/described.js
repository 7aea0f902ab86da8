// What lies under the pointer, in words.
import { seconds, timecode, trim } from "../formats.js";
import { insideCorners } from "./points.js";

const NOTHING = { name: "", more: "" };

/** { name, more } for where a pointer (or the focus) is. */
export function describe(editor, stage, timeline, event) {
  const target = event.target;
  if (!target?.closest) return NOTHING;
  const field = target.closest(".prop[data-property]");
  if (field) return ofField(editor, field.dataset.property);
  const told = target.closest("button, select, input, a, [role=separator]");
  if (told && !told.closest(".row-line")) return ofControl(told);
  if (target.closest("#rows")) return ofRow(editor, timeline, event);
  if (target.closest("#ruler, #filmstrip")) return ofRuler(editor, timeline, event);
  if (event.clientX !== undefined && stage.element.contains(target)) return ofStage(editor, stage, event);
  return NOTHING;
}

function ofField(editor, property) {
  const [layer] = editor.selectedLayers;
  const spec = layer && editor.spec(layer, property);
  return spec ? { name: spec.name, more: spec.help } : NOTHING;
}

function ofControl(element) {
  const name = element.getAttribute("aria-label") || element.textContent.trim();
  const title = element.title || "";
  return { name: name.length < 60 ? name : "", more: title === name ? "" : title };
}

function at(editor, time) {
  return timecode(editor.frameAt(time), editor.rate);
}

function ofRow(editor, timeline, event) {
  const line = event.target.closest(".row-line");
  const time = event.clientX === undefined ? null : timeline.timeAt(timeline.pointing.xOf(event));
  const when = event.target.closest(".row-track") && time !== null ? `  at ${at(editor, time)}` : "";
  if (!line) return { name: "", more: when.trim() };
  const { layer: id, lane, laneLayer, group } = line.dataset;
  if (lane) return ofLane(editor, laneLayer, lane, event, when);
  if (group) {
    const found = editor.scene.groups.find((each) => each.id === group);
    return { name: found?.name || "", more: "A group: chosen and moved in time together" };
  }
  const layer = editor.layer(id);
  if (!layer) return NOTHING;
  const { name, more } = describeLayer(editor, layer);
  return { name, more: more + (PARTS[barPart(event)] || when) };
}

/** A layer: its kind, and when it is on. */
export function describeLayer(editor, layer) {
  const { start_s, end_s } = layer;
  const span = `${at(editor, start_s)} to ${at(editor, end_s)} · ${seconds(end_s - start_s)}`;
  return { name: layer.name, more: `${editor.kinds[layer.kind].label.toLowerCase()} · ${span}` };
}

const PARTS = {
  start: " · drag: its start",
  end: " · drag: its end",
  arrive: " · drag: how long it arrives",
  leave: " · drag: how long it leaves",
  "joint-start": " · drag: how long they cross",
  "joint-end": " · drag: how long they cross",
  gain: " · drag: its gain",
};

const barPart = (event) => event.target.closest("[data-bar]")?.dataset.bar;

function ofLane(editor, layerId, property, event, when) {
  const lane = editor.lane(layerId, property);
  const layer = editor.layer(layerId);
  if (!lane || !layer) return NOTHING;
  const name = `${lane.label} of ${layer.name}`;
  const id = event.target.closest("[data-key]")?.dataset.key;
  const index = id ? layer.properties[property]?.keys.findIndex((each) => each.id === id) : -1;
  return index < 0 ? { name, more: when.trim() } : describeKey(editor, layerId, property, index);
}

/** A key of a lane by its place among them; the lane itself where there is none such. */
export function describeKey(editor, layerId, property, index) {
  const layer = editor.layer(layerId);
  const name = `${editor.lane(layerId, property)?.label || property} of ${layer.name}`;
  const keys = layer.properties[property]?.keys || [];
  const key = keys[index];
  if (!key) return { name, more: keys.length ? `${keys.length} keys` : "no keys" };
  const when = `${saidValue(key.value)} at ${at(editor, layer.start_s + key.time_s)} · ${key.easing}`;
  return { name: `Key ${index + 1} of ${keys.length}: ${name}`, more: when };
}

function saidValue(value) {
  if (typeof value === "number") return trim(value, 2);
  if (Array.isArray(value) && value.every((part) => typeof part === "number")) {
    return value.map((part) => trim(part, 2)).join(", ");
  }
  return typeof value === "string" && value.length < 40 ? value : "";
}

function ofRuler(editor, timeline, event) {
  const pennant = event.target.closest("[data-mark]");
  const mark = pennant && editor.scene.marks.find((each) => each.id === pennant.dataset.mark);
  if (mark) return { name: `Mark ${mark.name}`, more: `${at(editor, mark.time_s)}  ${mark.note || ""}` };
  if (event.clientX === undefined || !event.target.closest("#ruler")) return NOTHING;
  return { name: "", more: at(editor, Math.max(0, timeline.timeAt(timeline.pointing.xOf(event)))) };
}

/** The topmost layer whose outline is there, and where in the frame. */
function ofStage(editor, stage, event) {
  const [x, y] = stage.toScene(event);
  const more = `${Math.round(x)}, ${Math.round(y)} px`;
  const found = [...editor.layers].reverse().find((layer) => {
    const view = editor.view[layer.id];
    return !layer.hidden && view?.on && view.corners && insideCorners(view.corners, [x, y]);
  });
  return { name: found?.name || "", more };
}
