// The catalog's declarations of properties, found by the addresses that layers have them under.

/** With other ids: those that a member has on its layer, or a slot on the layer that fills it. */
function under(prefix, spec) {
  return {
    ...spec,
    id: prefix + spec.id,
    shown_when: spec.shown_when.map((needed) =>
      needed.of ? { ...needed, of: needed.of.map((name) => prefix + name) } : needed,
    ),
    parts: spec.parts && spec.parts.map((part) => under(prefix, part)),
  };
}

function indexed(specs) {
  return {
    list: specs,
    byId: Object.fromEntries(
      specs.flatMap((spec) => [spec, ...(spec.parts || [])]).map((spec) => [spec.id, spec]),
    ),
  };
}

const NOTHING = indexed([]);

export class Declarations {
  constructor(catalog) {
    this.families = Object.fromEntries(catalog.families.map((family) => [family.id, family]));
    this.layers = Object.fromEntries(catalog.layer_kinds.map((kind) => [kind.id, indexed(kind.specs)]));
    this.ink = catalog.ink_slot;
    this.members = new Map();
  }

  /** What a kind of a family declares by plain names; one with an id after a colon once for all. */
  plain(family, kind) {
    const kinds = this.families[family]?.kinds || {};
    return kinds[kind] || kinds[kind.replace(/:[^@]*/, ":")] || [];
  }

  /** The declarations of a member of a layer, in the order of its fields and by their addresses. */
  member(family, member) {
    const declared = this.families[family];
    const kind = declared.kind_field ? member[declared.kind_field] : family;
    const variant = declared.variants[member[declared.variant_field]] || "";
    const specs = this.plain(family, kind + variant);
    const prefix = `${family}.${member.id}.`;
    const known = this.members.get(prefix);
    if (known?.specs === specs) return known.index;
    const index = indexed(specs.map((spec) => under(prefix, spec)));
    this.members.set(prefix, { specs, index });
    return index;
  }

  /** The declaration of a layer's property; undefined where it has none such. */
  of(layer, property) {
    const own = this.layers[layer.kind]?.byId[property];
    if (own) return own;
    const [family, id] = property.split(".");
    if (family === "slot") return this.slot(layer, id);
    const member = this.families[family] && layer[this.families[family].field].find((each) => each.id === id);
    return member && this.member(family, member).byId[property];
  }

  /** The declaration of a slot that is a property of the layer that fills it: of what the slot stands for. */
  slot(layer, id) {
    const source = layer.slot_specs?.[id];
    if (!source) return undefined;
    const [family, kind, ...rest] = source.split("/");
    const index = family === "layer" ? this.layers[kind] || NOTHING : indexed(this.plain(family, kind));
    const known = family === "ink" ? this.ink : index.byId[rest.join("/")];
    return (
      known && {
        ...known,
        id: `slot.${id}`,
        section: "Slots",
        shown_when: [],
        follows: "",
        parts: null,
        widget: ["dial", "linked"].includes(known.widget) ? known.widget : "",
      }
    );
  }

  /** Those of a layer's kind and slots, in the order of its fields. */
  fields(layer) {
    const slots = Object.keys(layer.slot_specs || {})
      .map((id) => this.slot(layer, id))
      .filter(Boolean);
    return [...slots, ...this.layers[layer.kind].list];
  }
}

/** The default of a declaration in a frame; without one it is the frame's middle. */
export function defaultOf(spec, scene) {
  if (spec.default !== null) return spec.default;
  const middle = { x: scene.width / 2, y: scene.height / 2 };
  return spec.axis ? middle[spec.axis] : [middle.x, middle.y];
}

const empty = (value) =>
  value === "" || value === null || value === undefined || value === false || value.length === 0;

/**
 * Whether all that a field needs is so. `value` and `keyed` tell of a property of the layer by its address.
 * @param {object} layer
 * @param {Array<object>} needs
 */
export function holds(layer, needs, value, keyed) {
  return needs.every((needed) => {
    if (needed.layer) return !empty(layer[needed.layer]);
    return needed.of.some((name) => {
      if (needed.keyed) return keyed(name);
      const now = value(name);
      if (needed.least !== undefined) return now >= needed.least;
      if (needed.given) return !empty(now);
      return needed.values ? needed.values.includes(now) : !needed.besides.includes(now);
    });
  });
}
