// Menus made for what is clicked: a key, a lane, the end of a bar, a mark, a mask, an effect, an asset.
import { nameInPlace } from "../common.js";
import { newId } from "../formats.js";
import { gradeWith, placeAsset } from "./actions/files.js";
import { menuOf } from "./commands/menus.js";
import { changeMember, copyMembers, removeMembers } from "./member_edits.js";

/** Opens a menu at the pointer (or the middle of what has the focus). */
export function openMenu(event, items) {
  event.preventDefault();
  const box = event.target.getBoundingClientRect();
  const byKey = event.clientX === 0 && event.clientY === 0;
  const [x, y] = byKey
    ? [box.left + box.width / 2, box.top + box.height / 2]
    : [event.clientX, event.clientY];
  window.dispatchEvent(new CustomEvent("open-property", { detail: { x, y, items } }));
}

/** Commands of a menu as its lines; a "-" is a rule before the next one. */
export function linesOf(commands, ids) {
  let ruled = false;
  const lines = [];
  for (const id of ids) {
    if (id === "-") {
      ruled = lines.length > 0;
      continue;
    }
    const [item] = commands.items([id]);
    lines.push({ ...item, label: item.menu || item.label, ruled });
    ruled = false;
  }
  return lines;
}

const line = (id, label, run, more = {}) => ({ id, label, run, off: false, ...more });
const unless = (fine, why) => (fine ? {} : { off: true, why });

export class ThingMenus {
  constructor(editor, commands, timeline) {
    Object.assign(this, { editor, commands, timeline });
    timeline.rows.addEventListener("contextmenu", (event) => this.inRows(event), true);
    document.querySelector(".column-body").addEventListener("contextmenu", (event) => this.inColumn(event));
  }

  /** Keys, lanes and the ends of bars; rows have the menu of their layers. */
  inRows(event) {
    const { editor, timeline } = this;
    const row = event.target.closest(".row-line");
    if (!row) return;
    const { lane, laneLayer, layer } = row.dataset;
    const key = event.target.closest("[data-key]")?.dataset.key;
    const end = event.target.closest("[data-bar]")?.dataset.bar;
    if (lane && key) {
      const entry = { layer: laneLayer, property: lane, key };
      if (!editor.keys.has(`${laneLayer}|${lane}|${key}`)) editor.selectKeys([entry]);
      this.open(event, linesOf(this.commands, menuOf("key")));
    } else if (lane) {
      this.open(event, this.ofLane(laneLayer, lane, timeline.timeAt(timeline.pointing.xOf(event))));
    } else if (layer && (end === "start" || end === "end")) {
      if (!editor.selected.has(layer)) editor.select([layer]);
      this.open(event, linesOf(this.commands, menuOf(end)));
    }
  }

  open(event, items) {
    event.stopPropagation();
    openMenu(event, items);
  }

  ofLane(layerId, property, time) {
    const { editor, timeline } = this;
    const layer = editor.layer(layerId);
    const keys = layer.properties[property]?.keys || [];
    const tall = editor.tall.has(`${layerId}|${property}`);
    const targets = [{ layer: layerId, property }];
    const edit = (kind, more) => editor.edit({ kind, scene: editor.sceneId, targets, ...more });
    const entries = keys.map((key) => ({ layer: layerId, property, key: key.id }));
    const repeat = (mode, label) =>
      line(`repeat-${mode}`, label, () => edit("repeat-keys", { mode }), {
        ...unless(keys.length > 1, "It takes two keys to repeat."),
        ruled: mode === "loop",
      });
    const here = editor.timeOf(editor.frameAt(time));
    return [
      line(
        "key-here",
        "Set a key here",
        () => edit("set-keys", { time_s: here }),
        unless(!layer.locked, "This layer is locked."),
      ),
      line(
        "choose",
        "Choose all its keys",
        () => editor.selectKeys(entries),
        unless(keys.length, "It has no keys."),
      ),
      line("tall", tall ? "Lower lane" : "Taller lane", () => timeline.toggleTall(layerId, property)),
      repeat("loop", "Repeat its keys: loop"),
      repeat("there-and-back", "Repeat its keys: there and back"),
      line(
        "once",
        "Do not repeat",
        () => edit("repeat-keys", { mode: null }),
        unless(layer.properties[property]?.repeat, "It does not repeat."),
      ),
      line("clear", "Stop animating, keep the value here", () => edit("clear-keys", { time_s: here }), {
        ruled: true,
        ...unless(keys.length, "It has no keys."),
      }),
    ];
  }

  /** Cards of masks and effects, assets, fields. */
  inColumn(event) {
    if (event.target.closest("input, textarea, select")) return;
    const { mask, effect } = event.target.closest("[data-mask], [data-effect]")?.dataset || {};
    const asset = event.target.closest("[data-asset]")?.dataset.asset;
    const field = event.target.closest(".prop[data-property]");
    if (mask) this.open(event, this.ofMember("mask", "masks", mask));
    else if (effect) this.open(event, this.ofMember("effect", "effects", effect));
    else if (asset) this.open(event, this.ofAsset(asset));
    else if (field) {
      const more = field.querySelector("[data-more]");
      if (!more) return;
      event.preventDefault();
      more.click();
    }
  }

  ofMember(family, list, id) {
    const { editor } = this;
    const [layer] = editor.selectedLayers;
    const all = layer[list];
    const at = all.findIndex((each) => each.id === id);
    const member = all[at];
    const change = (set, index) => editor.edit(changeMember(editor, family, layer.id, id, set, index));
    const prefix = `${family}.${id}.`;
    const set = Object.keys(layer.properties).filter((name) => name.startsWith(prefix));
    const targets = set.map((property) => ({ layer: layer.id, property }));
    const reset = () => editor.edit({ kind: "reset-properties", scene: editor.sceneId, targets });
    const others = [...editor.layers].filter(
      (each) => each.id !== layer.id && each.kind === layer.kind && !each.locked,
    );
    const points =
      family === "mask" ? [line("points", "Edit its points", () => editor.enter("mask", { mask: id }))] : [];
    return [
      line("switch", member.on ? "Switch off" : "Switch on", () => change({ on: !member.on })),
      ...points,
      line("rename", "Rename", () => renameMember(family, id, (name) => change({ name }))),
      line("duplicate", "Duplicate", () =>
        editor.edit(copyMembers(editor, family, layer.id, [id], [layer.id])),
      ),
      line(
        "spread",
        "Put on all layers of this kind",
        () =>
          editor.edit(
            copyMembers(
              editor,
              family,
              layer.id,
              [id],
              others.map((each) => each.id),
            ),
          ),
        unless(others.length, "There is no other layer of this kind."),
      ),
      line("up", "One step up", () => change({}, at - 1), {
        ruled: true,
        ...unless(at > 0, "It is the first."),
      }),
      line("down", "One step down", () => change({}, at + 1), unless(at < all.length - 1, "It is the last.")),
      line("reset", "Back to its defaults", reset, {
        ruled: true,
        ...unless(set.length, "It is at its defaults."),
      }),
      line("remove", "Remove", () => editor.edit(removeMembers(editor, family, layer.id, [id]))),
    ];
  }

  ofAsset(id) {
    const { editor } = this;
    const asset = editor.project.assets.find((each) => each.id === id);
    const users = editor.layers.filter((layer) =>
      Object.values(layer.properties).some((each) => each.value === id),
    );
    return [
      line("place", asset.kind === "table" ? "Put on the selected layers" : "Place at the playhead", () =>
        asset.kind === "table" ? gradeWith(editor, asset) : placeAsset(editor, asset),
      ),
      line(
        "users",
        "Select the layers that use it",
        () => editor.select(users.map((each) => each.id)),
        unless(users.length, "No layer of this scene uses it."),
      ),
      line("remove", "Remove from the project", () => editor.edit({ kind: "remove-asset", asset: id }), {
        ruled: true,
      }),
    ];
  }
}

/** The name on the card of a mask or an effect, ready to be typed over. */
function renameMember(family, id, take) {
  const card = document.querySelector(`[data-${family}="${CSS.escape(id)}"]`);
  const field = card?.querySelector("input.name");
  if (field) {
    field.focus();
    field.select();
    return;
  }
  const button = card?.querySelector(".name-button");
  if (!button) return;
  nameInPlace(button, "Name of the effect", button.textContent.trim(), take);
}

/** The menu of a mark on the ruler. */
export function markLines(editor, mark, rename) {
  const edit = (kind, more) => editor.edit({ kind, scene: editor.sceneId, ...more });
  const after = editor.scene.marks
    .filter((each) => each.time_s > mark.time_s)
    .sort((a, b) => a.time_s - b.time_s)[0];
  const end_s = after ? after.time_s : editor.scene.length_s;
  return [
    line("go", `Go to ${mark.name}`, () => editor.goTo(editor.frameAt(mark.time_s))),
    line("rename", "Rename", rename),
    line("copy", "Another one at the playhead", () => edit("add-mark", { id: newId(), time_s: editor.time })),
    line(
      "tie",
      "Tie it to... (then click a moment)",
      () => editor.enter("tie", { targets: [{ mark: mark.id }] }),
      { ruled: true },
    ),
    line(
      "untie",
      "Cut its tie",
      () => edit("cut-ties", { targets: [{ mark: mark.id }] }),
      unless(mark.tie, "It is not tied."),
    ),
    line("range", "Working range from here to the next mark", () =>
      edit("set-range", { start_s: mark.time_s, end_s }),
    ),
    line("remove", "Delete", () => edit("remove-marks", { marks: [mark.id] }), { ruled: true }),
  ];
}
