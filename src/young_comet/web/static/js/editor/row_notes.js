// What the row of a layer says beside its name and on its bar.
import { trim } from "../formats.js";
import { el } from "./markup.js";

/** What the bar of a clip or placed scene says of its speed and way. */
export function clipNote(layer) {
  if (!["clip", "scene", "sound"].includes(layer.kind)) return "";
  const value = (id, fallback) => layer.properties[id]?.value ?? fallback;
  if (value("time.curve", false)) return "time curve";
  if (value("time.frozen", false)) return "frozen";
  const parts = [];
  const speed = value("time.speed", 100);
  if (speed !== 100) parts.push(`${Math.round(speed * 10) / 10} %`);
  if (value("time.reversed", false)) parts.push("backwards");
  const after = value("time.after", "stay");
  if (after === "loop") parts.push("looped");
  if (after === "there-and-back") parts.push("there and back");
  return parts.join(", ");
}

const note = (title, icon) => el("span", { class: "ride-note", title }, icon);

/** Small signs beside a layer's name: what it rides on, that it is only a matte, how loud it is. */
export function signsOf(editor, layer, mattes, icon) {
  const on = layer.rides && editor.layer(layer.rides);
  const signs = on ? [note(`Rides on ${on.name}`, icon("ride"))] : [];
  if (mattes.has(layer.id)) signs.push(note("Hidden: others are shown through it", icon("matte")));
  if (layer.kind === "sound" && !editor.isKeyed(layer, "sound.gain")) {
    const gain = editor.value(layer, "sound.gain");
    signs.push(el("span", { class: "gain-note mono", title: "Gain" }, `${trim(gain, 1)} dB`));
  }
  return signs;
}
