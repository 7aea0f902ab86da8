// What the menus of things offer: commands by their ids, in groups that a rule parts ("-").

// What only layers of a kind can do.
const OF_KIND = {
  text: ["write", "swap-lines", "outline"],
  shape: ["edit-points", "outline"],
  clip: ["freeze", "fit-speed", "separate-sound"],
  sound: ["fit-speed"],
  scene: ["open-scene", "unwrap", "freeze"],
  treatment: ["add-effect"],
  carrier: ["carry"],
};

const FIRST = ["copy", "paste", "paste-what", "duplicate", "-", "rename", "solo", "hide", "lock", "-"];

const MENUS = {
  none: ["paste", "all", "-", "add-text", "add-backdrop", "add-picture"],
  several: [
    "copy",
    "paste",
    "paste-what",
    "duplicate",
    "-",
    "group",
    "wrap",
    "carry",
    "solo",
    "hide",
    "lock",
    "-",
    "delete",
  ],
  key: [
    "copy",
    "duplicate",
    "delete",
    "-",
    "keys-smooth",
    "keys-hold",
    "keys-linear",
    "-",
    "keys-reverse",
    "keys-mirror",
    "keys-spread",
    "keys-snap",
    "keys-table",
  ],
  start: ["start-here", "tie-start", "cut-ties", "-", "range-span", "show-span"],
  end: ["end-here", "extend", "tie-end", "cut-ties", "-", "range-span", "show-span"],
  points: [
    "points-smooth",
    "points-corner",
    "points-first",
    "-",
    "points-reverse",
    "points-close",
    "points-open",
    "-",
    "delete",
  ],
};

/** The menu of a thing that is no layer: a key, the end of a bar, points of a path. */
export const menuOf = (thing) => MENUS[thing];

/** The menu of what is selected: of nothing, of several layers, or of one by its kind. */
export function layerMenu(editor) {
  const layers = editor.selectedLayers;
  if (!layers.length) return MENUS.none;
  if (layers.length > 1) {
    const grouped = layers.every((layer) => layer.group && layer.group === layers[0].group);
    return grouped ? MENUS.several.map((id) => (id === "group" ? "ungroup" : id)) : MENUS.several;
  }
  return menuOfKind(layers[0].kind, Boolean(layers[0].group), editor.kinds[layers[0].kind].placed);
}

/** The menu of a single layer of a kind. */
export function menuOfKind(kind, grouped, placed) {
  const own = OF_KIND[kind] || [];
  const links = [...(placed ? ["ride"] : []), "tie-start", grouped ? "ungroup" : "group"];
  return [...FIRST, ...own, ...(own.length ? ["-"] : []), ...links, "-", "delete"];
}
