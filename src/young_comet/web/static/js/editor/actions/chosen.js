// Which of the selected layers something can be done to.

export const unlocked = (editor) => editor.selectedLayers.filter((layer) => !layer.locked);

/** Those that play something in a time of their own: clips and placed scenes. */
export const playing = (editor) =>
  unlocked(editor).filter((layer) => ["clip", "sound", "scene"].includes(layer.kind));

/** Those that have an outline to be joined or edited. */
export const outlined = (editor) =>
  unlocked(editor).filter((layer) => ["shape", "text"].includes(layer.kind));

/** Those of them that can stand still: what is only heard cannot. */
export const showing = (editor) => playing(editor).filter((layer) => layer.kind !== "sound");
