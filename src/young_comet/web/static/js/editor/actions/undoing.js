// Undo and redo as one does them in a scene: history is one for the project, so a step that belongs to
// another scene is told first, and taken there with the second press.
import { api } from "../../api.js";
import { complain, note } from "../../notes.js";

let told = "";

/** What would be done next, null where there is nothing, undefined where it cannot be known. */
async function nextStep(editor, which) {
  editor.saving += 1; // the step that is asked about is about to be taken
  try {
    await editor.queue; // what is being saved counts
    return (await api.steps(editor.projectId))[which];
  } catch (error) {
    complain(error);
    return undefined;
  } finally {
    // What follows without a pause has begun to be saved by then.
    setTimeout(() => {
      editor.saving -= 1;
      editor.tell("saved");
    });
  }
}

/** Takes a step back ("undo") or does it again ("redo"). */
export async function stepHistory(editor, which) {
  const next = await nextStep(editor, which);
  if (next === undefined) return;
  const elsewhere = next && next.scenes.length && !next.scenes.includes(editor.sceneId);
  const scene = elsewhere && editor.project.scenes.find((each) => next.scenes.includes(each.id));
  const key = `${which}|${next?.number}`;
  if (scene && told !== key) {
    told = key;
    note(`Next: in ${scene.name}, ${next.label}. Press again to ${which} it there.`, { seconds: 8 });
    return;
  }
  told = "";
  const done = await (which === "undo" ? editor.undo() : editor.redo());
  if (done && scene && editor.project.scenes.some((each) => each.id === scene.id)) {
    location.href = `/projects/${editor.projectId}/scenes/${scene.id}`;
  }
}
