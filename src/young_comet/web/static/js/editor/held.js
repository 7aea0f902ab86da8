// A layer that goes while it is being dragged here, by others or by an undo: it is named, and the drag ends.
import { note } from "../notes.js";

export function watchHeld(editor, pointings) {
  let names = new Map();
  let held = [];
  const remember = () => (names = new Map(editor.layers.map((layer) => [layer.id, layer.name])));
  editor.on("dragging", (drag) => {
    if (!drag) held = [];
    else if (!held.length) held = [...editor.selected];
  });
  editor.on("document", () => {
    const gone = held.filter((id) => names.has(id) && !editor.layer(id)).map((id) => names.get(id));
    remember();
    if (!gone.length) return;
    for (const pointing of pointings) if (pointing.drag) pointing.cancel();
    const are = gone.length > 1 ? "are" : "is";
    note(`${gone.join(", ")} ${are} not there any more: the drag has ended.`, {
      seconds: 9,
    });
  });
  if (editor.project) remember();
}
