// Drags of keys and handles in lanes, and the frame that chooses keys across rows.
import { LANE_HEIGHT } from "./timeline.js";
import { level, valueAt } from "./lanes.js";

/** What a drag of a key does: `edits(dx in s, free, event)` gives the edits for the pointer. */
export function keyDrag(pointing, event, line, keyId) {
  const { editor, timeline } = pointing;
  const entry = { layer: line.dataset.laneLayer, property: line.dataset.lane, key: keyId };
  const name = `${entry.layer}|${entry.property}|${entry.key}`;
  const part = Number(event.target.closest("[data-part]")?.dataset.part ?? 0);
  let click = null;
  if (event.shiftKey) editor.selectKeys([entry], { toggle: true });
  else if (!editor.keys.has(name)) editor.selectKeys([entry], { add: event.ctrlKey || event.metaKey });
  else if (event.ctrlKey || event.metaKey) click = () => editor.selectKeys([entry], { toggle: true });
  else click = () => editor.selectKeys([entry]);
  const chosen = editor.chosenKeys;
  if (!chosen.length) return { click };
  const copying = event.ctrlKey || event.metaKey;
  const times = chosen.map((each) => editor.keyTime(each));
  const points = pointing.snapTimes(new Set(), copying ? new Set() : new Set(editor.keys.keys()));
  const lane = editor.lane(entry.layer, entry.property);
  const height = timeline.laneHeight(lane);
  const upright = height > LANE_HEIGHT && lane.curves;
  const startValue = upright ? valueAt(lane, 0, height) : 0;
  const edits = (by, free, now, dy) => {
    const lock =
      now.shiftKey && upright
        ? Math.abs(now.clientX - pointing.drag.x) > Math.abs(dy)
          ? "value"
          : "time"
        : "";
    const shift = lock === "time" ? 0 : pointing.snapShift(by, times, points, free);
    const rise = upright && lock !== "value" && Math.abs(dy) > 3 ? valueAt(lane, dy, height) - startValue : 0;
    const moves = chosen.map((each, i) => ({
      ...each,
      time_s: times[i] + shift,
      ...risen(editor, each, entry, part, rise),
    }));
    return [{ kind: copying ? "copy-keys" : "move-keys", scene: editor.sceneId, moves, free }];
  };
  return { edits, click };
}

/** The new value of a key that is dragged upright, for keys of the same property kind. */
function risen(editor, each, entry, part, rise) {
  if (!rise || each.property !== entry.property) return {};
  const layer = editor.layer(each.layer);
  const spec = editor.spec(layer, each.property);
  const { value } = editor.keyOf(each);
  const within = (number) =>
    Math.min(spec.maximum ?? number, Math.max(spec.minimum ?? number, Math.round(number * 100) / 100));
  if (typeof value === "number") return { value: within(value + rise) };
  return { value: value.map((number, index) => (index === part ? within(number + rise) : number)) };
}

/** A handle of a key in a tall lane. */
export function handleDrag(pointing, event, line, keyId, handle) {
  const { editor, timeline } = pointing;
  const lane = editor.lane(line.dataset.laneLayer, line.dataset.lane);
  const index = lane.keys.findIndex((key) => key.id === keyId);
  const side = handle.dataset.handle;
  const part = Number(handle.dataset.part);
  const key = lane.keys[index];
  const other = lane.keys[index + (side === "leave" ? 1 : -1)];
  const span = Math.abs(other.time_s - key.time_s);
  const track = line.querySelector(".row-track").getBoundingClientRect();
  const height = timeline.laneHeight(lane);
  const frozen = { low: lane.low, high: lane.high };
  const edits = (by, free, now) => {
    const time = timeline.timeAt(now.clientX - track.left);
    const reach = Math.min(1, Math.max(0, (side === "leave" ? time - key.time_s : key.time_s - time) / span));
    const value = valueAt(frozen, now.clientY - track.top, height);
    return [
      {
        kind: "drag-handle",
        scene: editor.sceneId,
        layer: lane.layer,
        property: lane.property,
        key: keyId,
        side,
        reach,
        value,
        part,
      },
    ];
  };
  return { edits, click: () => {} };
}

/** A frame drawn over rows: chooses the keys in it; Shift adds, Ctrl takes away. */
export function boxDrag(pointing, event, click) {
  const { editor, timeline } = pointing;
  const sheet = timeline.sheet.getBoundingClientRect();
  const start = { x: event.clientX - sheet.left, y: event.clientY - sheet.top };
  const before = event.shiftKey || event.ctrlKey || event.metaKey ? [...editor.keys.values()] : [];
  const taking = event.ctrlKey || event.metaKey;
  const box = document.createElement("div");
  box.className = "key-box";
  const over = (now) => {
    if (!box.isConnected) timeline.sheet.append(box);
    const at = timeline.sheet.getBoundingClientRect();
    const [x, y] = [now.clientX - at.left, now.clientY - at.top];
    const [left, right] = [Math.min(start.x, x), Math.max(start.x, x)];
    const [top, bottom] = [Math.min(start.y, y), Math.max(start.y, y)];
    Object.assign(box.style, {
      left: `${left}px`,
      top: `${top}px`,
      width: `${right - left}px`,
      height: `${bottom - top}px`,
    });
    const names = timeline.namesWidth;
    const found = keysWithin(pointing, left - names, right - names, top, bottom);
    const taken = new Set(found.map((each) => `${each.layer}|${each.property}|${each.key}`));
    const kept = taking
      ? before.filter((each) => !taken.has(`${each.layer}|${each.property}|${each.key}`))
      : [...before, ...found];
    editor.selectKeys(kept);
  };
  const done = () => box.remove();
  return { over, done, click, gone: done };
}

function keysWithin(pointing, left, right, top, bottom) {
  const { editor, timeline } = pointing;
  const found = [];
  let y = 0;
  for (const line of timeline.lines()) {
    const [layerId, property] = line.id.split("|");
    if (y < bottom && y + line.height > top) {
      if (property) {
        const lane = editor.lane(layerId, property);
        const tall = line.height > LANE_HEIGHT && lane.curves;
        for (const key of lane.keys) {
          const x = timeline.x(key.time_s);
          const heads = tall
            ? key.values.map((value) => y + level(lane, value, line.height))
            : [y + line.height / 2];
          const inside = tall ? heads.some((each) => each >= top && each <= bottom) : true;
          if (x >= left && x <= right && inside) found.push({ layer: layerId, property, key: key.id });
        }
      } else if (!editor.openLayers.has(layerId)) {
        const layer = editor.layer(layerId);
        for (const [id, each] of Object.entries(layer?.properties || {})) {
          for (const key of each.keys) {
            const x = timeline.x(layer.start_s + key.time_s);
            if (x >= left && x <= right) found.push({ layer: layerId, property: id, key: key.id });
          }
        }
      }
    }
    y += line.height;
  }
  return found.filter((each) => !editor.layer(each.layer)?.locked);
}
