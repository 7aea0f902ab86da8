// What the stage shows besides the picture, and what of it.

/** The selected layers some frames before and after, faint. */
export function toggleOnion(editor) {
  editor.onion = editor.onion ? null : { before: 3, after: 3, step: 2 };
  editor.tell("onion");
  editor.requestStage();
}

/** While a key or a button is held the selected layers are seen without their effects. */
export function showBare(editor, on) {
  if (editor.bare === on) return;
  editor.bare = on;
  editor.requestStage();
}

/** Only what is selected, the others away or faint; with nothing selected, or the same again, all. */
export function soloSelected(editor, dims) {
  const ids = [...editor.selected];
  if (ids.length) editor.seeing.toggle(ids, dims);
  else editor.seeing.all();
}

/** Opens the search of the timeline's rows, or closes it. */
export function filterRows(timeline) {
  const { filter, editor } = timeline;
  filter.open = !filter.open;
  if (!filter.open) filter.clear();
  editor.tell("rows");
  timeline.schedule();
}
