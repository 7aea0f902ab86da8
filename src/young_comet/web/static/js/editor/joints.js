// Transitions on the timeline: an arc over the joint of two layers, as long as they cross.
import { el, html } from "./markup.js";

const TYPE = "application/x-young-comet-transition";
// How near a joint a transition is let go, px.
const REACH = 60;
const ARC = 9; // how far it rises above the bar, px

/** The arc of a layer that takes over from another, over its bar. Where its layers do not meet, a broken
 *  line at its start says so. */
export function jointMark(timeline, layer, bar) {
  const [transition] = layer.transitions;
  if (!transition) return "";
  const { editor } = timeline;
  const seen = editor.view[layer.id]?.transition;
  const name = editor.transitions[transition.kind]?.label || "Transition";
  const middle = timeline.x(layer.start_s);
  const [top, low] = [bar.top, bar.top + bar.height];
  if (!seen?.end_s) {
    const said = seen?.idle || "It does not happen now.";
    const title = el("title", {}, html(`${name}: ${said}`));
    return el("path", { class: "joint idle", d: `M${middle} ${top - 2}V${low + 2}` }, title);
  }
  const draft = timeline.joints.get(layer.id) || seen;
  const [a, b] = [timeline.x(draft.begin_s), timeline.x(draft.end_s)];
  const [from, to, up] = [a.toFixed(1), b.toFixed(1), (top - ARC + 4).toFixed(1)];
  const arc = `M${from} ${low}C${from} ${up} ${to} ${up} ${to} ${low}`;
  const length = Math.round((draft.end_s - draft.begin_s) * 100) / 100;
  const title = el("title", {}, html(`${name}, ${length} s: drag an end to change how long it takes`));
  const grip = (x, side) =>
    el(
      "rect",
      { class: "joint-grip", "data-bar": side, x: x - 6, y: top, width: 12, height: bar.height },
      title,
    );
  const said = b - a > name.length * 6 + 16 ? name : "";
  const text = { class: "joint-text", x: (a + b) / 2, y: low - 4, "text-anchor": "middle" };
  return [
    el("path", { class: "joint", d: `${arc}Z`, "data-joint": layer.id }, title),
    said ? el("text", text, html(said)) : "",
    grip(a, "joint-start"),
    grip(b, "joint-end"),
  ].join("");
}

/** An end of an arc is dragged: how long a transition takes. */
export function jointDrag(pointing, part, layer, click) {
  const { editor, timeline } = pointing;
  const [transition] = layer.transitions;
  const seen = editor.view[layer.id]?.transition;
  if (!transition || !seen?.end_s) return null;
  const lies = editor.value(layer, `transition.${transition.id}.lies`);
  const sign = part === "joint-end" ? 1 : -1;
  const from = part === "joint-end" ? seen.end_s : seen.begin_s;
  const points = pointing.snapTimes(new Set([layer.id]), new Set());
  const frame = editor.timeOf(1);
  const edits = (by, free) => {
    const moved = sign * pointing.snapShift(by, [from], points, free);
    const grown = lies === "centred" ? 2 * moved : moved;
    const length = Math.min(60, Math.max(2 * frame, seen.end_s - seen.begin_s + grown));
    const half = (length - (seen.end_s - seen.begin_s)) / 2;
    const ends = {
      centred: [seen.begin_s - half, seen.end_s + half],
      before: [seen.end_s - length, seen.end_s],
      after: [seen.begin_s, seen.begin_s + length],
    }[lies];
    timeline.joints.set(layer.id, { begin_s: ends[0], end_s: ends[1] });
    timeline.draw();
    const set = { length_s: Math.round(length * 1e6) / 1e6 };
    const what = { kind: "change-member", family: "transition", scene: editor.sceneId };
    return [{ ...what, layer: layer.id, member: transition.id, set }];
  };
  return { edits, click };
}

/** When transitions happen comes with the view, after the document: then they are drawn anew. */
export function watchJoints(timeline) {
  const { editor } = timeline;
  let drawn = "";
  editor.on("view", () => {
    const held = editor.layers.filter((layer) => layer.transitions.length);
    const now = JSON.stringify(held.map((layer) => [layer.id, editor.view[layer.id]?.transition]));
    if (now === drawn) return;
    drawn = now;
    timeline.draw();
  });
}

/** Layers joined by a transition; what it does at the last of their joints is shown. */
export async function joinBy(editor, transition, layers) {
  const edit = { kind: "join-layers", scene: editor.sceneId, layers, transition };
  if (!(await editor.edit(edit)) || editor.isPlaying()) return;
  const [, second] = layers.map((id) => editor.layer(id));
  const reach = second.transitions[0].length_s;
  const span = [second.start_s - reach, second.start_s + reach];
  const [from, to] = span.map((time) => Math.min(editor.scene.length_s, Math.max(0, time)));
  editor.player.playSpan(editor.frameAt(from), editor.frameAt(to));
}

/** A transition is taken out of its gallery. */
export function beginJointDrag(event, kind) {
  event.dataTransfer.setData(TYPE, kind.id);
  event.dataTransfer.setData("text/plain", kind.label);
  event.dataTransfer.effectAllowed = "copy";
}

/** Transitions are let go on the joint of two layers, in the row of either. */
export function takeJointDrops(editor, timeline) {
  const { rows } = timeline;
  const carries = (event) => [...event.dataTransfer.types].includes(TYPE);
  const clear = () => rows.querySelectorAll(".joins").forEach((each) => each.classList.remove("joins"));
  const rowOf = (id) => rows.querySelector(`.row-line[data-layer="${CSS.escape(id)}"]`);
  rows.addEventListener("dragover", (event) => {
    if (!carries(event)) return;
    clear();
    const joint = jointAt(editor, timeline, event);
    if (!joint) return;
    event.preventDefault();
    event.dataTransfer.dropEffect = "copy";
    for (const id of joint) rowOf(id)?.classList.add("joins");
  });
  rows.addEventListener("dragleave", clear);
  rows.addEventListener("drop", (event) => {
    clear();
    const joint = carries(event) && jointAt(editor, timeline, event);
    if (!joint) return;
    event.preventDefault();
    editor.select([joint[1]]);
    joinBy(editor, event.dataTransfer.getData(TYPE), joint);
  });
}

/** The two layers that meet nearest to the pointer, one of them that of its row; null where none do. */
function jointAt(editor, timeline, event) {
  const id = event.target.closest?.(".row-line[data-layer]")?.dataset.layer;
  const own = id && editor.layer(id);
  if (!own) return null;
  const x = event.clientX - timeline.ruler.getBoundingClientRect().left;
  const near = 0.51 * editor.timeOf(1);
  let found = null;
  let least = REACH;
  for (const other of editor.layers) {
    if (other.id === id || other.locked || own.locked) continue;
    for (const [first, second] of [
      [own, other],
      [other, own],
    ]) {
      const away = Math.abs(timeline.x(second.start_s) - x);
      const meets = Math.abs(first.end_s - second.start_s) < near && first.start_s < second.start_s;
      if (meets && away < least) [found, least] = [[first.id, second.id], away];
    }
  }
  return found;
}
