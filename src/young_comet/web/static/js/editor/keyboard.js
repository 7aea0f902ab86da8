// The keyboard: modes first, then commands, unless something is being typed or a sheet is open.
import { showBare } from "./actions/views.js";
import { comboOfEvent } from "./commands/combos.js";

/** Listens on the whole page. `pointings` are those of the stage and the timeline. */
export function listenToKeys(editor, commands, player, pointings) {
  // A drag first, wherever it is; then what the mode of the stage is about.
  const giveUp = () => pointings.some((pointing) => pointing.giveUp()) || editor.modes.escape();
  const endsMode = ({ key, shiftKey, ctrlKey, metaKey, altKey }) => {
    if (key === "Escape") return giveUp();
    const plain = !shiftKey && !ctrlKey && !metaKey && !altKey;
    return key === "Enter" && plain && editor.modes.current.finish();
  };
  const hold = () => editor.modes.visit("move-view") || editor.enter("move-view");
  const letGo = () => {
    const held = editor.modes.visit("move-view");
    if (held) editor.modes.leave(held);
    return held;
  };

  window.addEventListener("keydown", (event) => {
    // Enter ends typing in a field: the keys are commands again.
    if (event.key === "Enter" && event.target.matches?.("#editor input.field")) event.target.blur();
    if (isElsewhere(event)) return;
    if (pointings.some((each) => each.heedsNot?.(event))) {
      event.preventDefault();
      return;
    }
    const combo = comboOfEvent(event);
    if (event.code === "Space") {
      if (event.target.matches?.("button")) event.target.blur();
      event.preventDefault();
      if (!event.repeat) hold();
    } else if (combo === "0") showBare(editor, true);
    else if (!isForElement(event) && !endsMode(event)) {
      const command = commands.byCombo.get(combo);
      if (!command) return;
      event.preventDefault();
      command.run();
    }
  });
  window.addEventListener("keyup", (event) => {
    if (event.key === "0") showBare(editor, false);
    if (event.code !== "Space") return;
    const held = letGo();
    if (isElsewhere(event)) return;
    event.preventDefault();
    if (!held?.used) player.toggle();
  });
  // What is held when the window loses the keyboard is never let go.
  window.addEventListener("blur", () => {
    letGo();
    showBare(editor, false);
  });
}

/** Whether Enter presses what has the focus; with something held it is a command's key. */
function isForElement({ key, target, shiftKey, ctrlKey, altKey, metaKey }) {
  const plain = !shiftKey && !ctrlKey && !altKey && !metaKey;
  return key === "Enter" && plain && target.matches?.("button, a, select");
}

/** Whether keys are for something else: what is typed into, an open sheet. */
function isElsewhere({ target }) {
  if (document.querySelector("dialog[open]")) return true;
  // A field of a sheet that was closed keeps the focus until the page is drawn again.
  if (target.closest?.("dialog")) return false;
  return (
    target.matches?.("input:not([type=checkbox]):not([type=range]), textarea, select") ||
    target.isContentEditable
  );
}
