// What the stage shows besides the picture.

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
