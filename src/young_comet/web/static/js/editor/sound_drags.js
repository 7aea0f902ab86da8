// What is dragged on the bar of a sound: its gain, and how long it fades.

// As near to a key as this (px) the line is held by that key alone.
const NEAR_PX = 7;
const inReach = (gain) => Math.round(Math.max(-96, Math.min(24, gain)) * 10) / 10;

/** Of a gain with keys: the key under the pointer, or both ends of the stretch that it lies in. */
function keyedDrag(pointing, layer, x, click) {
  const { editor, timeline } = pointing;
  const { keys } = layer.properties["sound.gain"];
  const places = keys.map((key) => timeline.x(layer.start_s + key.time_s));
  const near = places.findIndex((place) => Math.abs(place - x) <= NEAR_PX);
  const after = places.findIndex((place) => place > x);
  const ends = after < 0 ? [keys.length - 1] : [after - 1, after].filter((n) => n >= 0);
  const held = (near >= 0 ? [near] : ends).map((n) => keys[n]);
  const seconds = held.map((key) => key.time_s);
  const [first, last] = [Math.min(...seconds), Math.max(...seconds)];
  const before = keys.findLast((key) => key.time_s < first)?.time_s;
  const next = keys.find((key) => key.time_s > last)?.time_s;
  // Between what is held and its neighbours the line is drawn as if it were straight, until it is let go.
  const share = (at) => {
    if (at < first) return before === undefined ? 1 : Math.max(0, (at - before) / (first - before));
    if (at > last) return next === undefined ? 1 : Math.max(0, (next - at) / (next - last));
    return 1;
  };
  const edits = (by, free, event, down) => {
    const shift = timeline.waves.decibelsOf(down, timeline.barOf(layer));
    const step = free ? 0.1 : 0.5;
    const wanted = Math.round(shift / step) * step;
    timeline.waves.drag(layer.id, { lift: (at) => 10 ** ((wanted * share(at - layer.start_s)) / 20) });
    const moves = held.map((key) => ({
      layer: layer.id,
      property: "sound.gain",
      key: key.id,
      time_s: layer.start_s + key.time_s,
      value: inReach(key.value + wanted),
    }));
    return [{ kind: "move-keys", scene: editor.sceneId, moves, free: true }];
  };
  return { edits, click };
}

/** Gains go up and down with the pointer, all chosen ones by as much; one with keys where it is held. */
export function gainDrag(pointing, layers, click, under, x) {
  const { editor, timeline } = pointing;
  if (under.properties["sound.gain"]?.keys.length) return keyedDrag(pointing, under, x, click);
  const heard = layers.filter((layer) => layer.kind === "sound" && !editor.isKeyed(layer, "sound.gain"));
  if (!heard.length) return { edits: () => [], click };
  const from = new Map(heard.map((layer) => [layer.id, editor.value(layer, "sound.gain")]));
  const edits = (by, free, event, down) => {
    const shift = timeline.waves.decibelsOf(down, timeline.barOf(heard[0]));
    const step = free ? 0.1 : 0.5;
    const value = (id) => Math.round((from.get(id) + shift) / step) * step;
    const targets = heard.map(({ id }) => {
      const gain = inReach(value(id));
      timeline.waves.drag(id, { lift: () => 10 ** ((gain - from.get(id)) / 20) });
      return { layer: id, property: "sound.gain", value: gain };
    });
    return [editor.set(targets)];
  };
  return { edits, click };
}

/** A fade ends (or begins) where its corner is dragged to. */
export function fadeDrag(pointing, part, layer, click) {
  const { editor } = pointing;
  if (layer.locked) return { edits: () => [], click };
  const name = `sound.${part}`;
  const sign = part === "fade-in" ? 1 : -1;
  const before = editor.value(layer, name);
  const corner = part === "fade-in" ? layer.start_s + before : layer.end_s - before;
  const points = pointing.snapTimes(new Set([layer.id]), new Set());
  const edits = (by, free) => {
    const moved = pointing.snapShift(by, [corner], points, free);
    const length = Math.max(0, Math.min(layer.end_s - layer.start_s, before + sign * moved));
    const value = Math.round(length * 1000) / 1000;
    pointing.timeline.waves.drag(layer.id, { [name]: value });
    return [editor.set([{ layer: layer.id, property: name, value }])];
  };
  return { edits, click };
}
