// What is dragged on the bar of a sound: its gain, and how long it fades.

/** Gains go up and down with the pointer, all chosen ones by as much. */
export function gainDrag(pointing, layers, click) {
  const { editor, timeline } = pointing;
  const heard = layers.filter((layer) => layer.kind === "sound");
  if (!heard.length) return { edits: () => [], click };
  const from = new Map(heard.map((layer) => [layer.id, editor.value(layer, "sound.gain")]));
  const edits = (by, free, event, down) => {
    const shift = timeline.waves.decibelsOf(down, timeline.barOf(heard[0]));
    const step = free ? 0.1 : 0.5;
    const value = (id) => Math.max(-96, Math.min(24, Math.round((from.get(id) + shift) / step) * step));
    const targets = heard.map(({ id }) => {
      const gain = Math.round(value(id) * 10) / 10;
      timeline.waves.drag(id, { lift: 10 ** ((gain - from.get(id)) / 20) });
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
