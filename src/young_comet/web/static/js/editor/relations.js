// How layers hang together: mattes, riding, fits, fills, masks that follow, inputs of effects, copies.

/**
 * What a layer takes from others, as [{ other, how }]: ids of layers, and what they are to it in a few words.
 * `specs` gives the declaration of its properties by their addresses, `there` are the ids of all layers.
 */
function takes(layer, specs, there) {
  const found = [];
  if (layer.rides) found.push({ other: layer.rides, how: "rides on" });
  for (const [id, property] of Object.entries(layer.properties)) {
    const named = typeof property.value === "string" && property.value; // what names a layer is a text
    const spec = named && there.has(named) && specs(id);
    if (spec && spec.kind === "layer") found.push({ other: property.value, how: HOW[id] || spec.label });
  }
  for (const mask of layer.masks || []) {
    if (mask.space === "follow" && mask.follows) found.push({ other: mask.follows, how: "mask follows" });
  }
  if (layer.copy_of) found.push({ other: layer.copy_of, how: "copy of" });
  return found.filter((each) => each.other !== layer.id);
}

const HOW = {
  "matte.layer": "matte",
  "matte.2.layer": "matte",
  "matte.3.layer": "matte",
  "matte.4.layer": "matte",
  "fill.layer": "fill",
  "fit.layer": "fits around",
  "align.layer": "aligned to",
  "sound.duck-under": "ducks under",
};

/** All relations of a scene's layers, as [{ from, to, how }], `from` being the one that takes. */
export function relations(layers, specOf) {
  const there = new Set(layers.map((layer) => layer.id));
  return layers.flatMap((layer) =>
    takes(layer, (id) => specOf(layer, id), there)
      .filter((each) => there.has(each.other))
      .map((each) => ({ from: layer.id, to: each.other, how: each.how })),
  );
}

/** The ids of layers that are hidden and that others are shown through, filled with, or moved by. */
export function onlyMattes(layers, all) {
  const used = new Set(
    all.filter((each) => !["rides on", "copy of"].includes(each.how)).map((each) => each.to),
  );
  return layers.filter((layer) => layer.hidden && used.has(layer.id)).map((layer) => layer.id);
}
