// Ties: what a start or an end hangs on, in words; choosing a moment; cutting.

const MOMENTS = { start: "starts", arrived: "has arrived", leaves: "begins to leave", end: "ends" };

/** A tie in words: "0.2 s after Name has arrived". */
export function describe(editor, tie) {
  const away = Math.abs(tie.offset_s);
  const lead =
    away < 1e-6 ? "when " : `${Math.round(away * 1000) / 1000} s ${tie.offset_s > 0 ? "after" : "before"} `;
  return lead + momentText(editor, tie);
}

export function momentText(editor, tie) {
  if (tie.to === "scene") return tie.moment === "end" ? "the scene ends" : "the scene starts";
  if (tie.to === "mark") {
    return `the mark ${editor.scene.marks.find((mark) => mark.id === tie.id)?.name ?? ""}`;
  }
  if (tie.to === "arrangement") {
    const { name } = editor.scene.arrangements.find((each) => each.id === tie.id) || { name: "" };
    return `${name} ${tie.moment === "end" ? "has been held" : "holds"}`;
  }
  const name = editor.layer(tie.id)?.name ?? "";
  return `${name} ${MOMENTS[tie.moment]}`;
}

/** The starts and ends of the selected layers hang on nothing any more. */
export function cutTies(editor) {
  const targets = editor.selectedLayers.flatMap((layer) =>
    ["start", "end"].filter((side) => layer[`${side}_tie`]).map((side) => ({ layer: layer.id, side })),
  );
  return editor.edit({ kind: "cut-ties", scene: editor.sceneId, targets });
}

/** The next moment that is clicked is what the selected layers' start or end hangs on. */
export function startTying(editor, side) {
  const unlocked = editor.selectedLayers.filter((layer) => !layer.locked);
  tieTo(
    editor,
    unlocked.map((layer) => ({ layer: layer.id, side })),
  );
}

/** The next moment that is clicked is what these layers' starts or ends, or marks, hang on. */
export function tieTo(editor, targets) {
  editor.enter("tie", { targets });
}

/** Cuts the thread that was clicked; false where none was. */
export function cutThread(editor) {
  if (!editor.thread) return false;
  const [id, side] = editor.thread.split("|");
  const target = side === "mark" ? { mark: id } : { layer: id, side };
  editor.thread = null;
  editor.edit({ kind: "cut-ties", scene: editor.sceneId, targets: [target] });
  return true;
}
