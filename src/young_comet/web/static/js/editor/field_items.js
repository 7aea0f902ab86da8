// Lines of a property's menu that only some fields have.

/** What arrangements say of it, and whether what its keys say crosses over. */
export function arrangedItems(editor, field, targets) {
  const layers = editor.selectedLayers;
  const items = [];
  if (layers.some((layer) => editor.arranging.differs(layer, field.id))) {
    items.push({
      id: "same-in-all",
      label: "The same in all arrangements as here",
      off: false,
      run: () => editor.arranging.sameInAll([field.id]),
    });
  }
  const held = layers.map((layer) => layer.properties[field.id]);
  if (field.kind === "words" && held.every((each) => each?.keys.length > 1)) {
    const crosses = held.every((each) => each.crosses);
    items.push({
      id: "cross-keys",
      label: crosses ? "Hold from key to key" : "Cross over from key to key",
      off: false,
      run: () => editor.edit({ kind: "cross-keys", scene: editor.sceneId, targets, crosses: !crosses }),
    });
  }
  return items;
}
