// The view moved with the hand: as a tool, or while Space is held.
import { Mode } from "./mode.js";

export class PanMode extends Mode {
  used = false;

  get tool() {
    return "hand";
  }

  get cursor() {
    return "grab";
  }

  press(_at, event) {
    this.used = true;
    return panDrag(this.stage, event);
  }

  escape() {
    this.editor.modes.leave(this, false);
    return true;
  }
}

/** The stage is moved along with the pointer, from the first pixel on. */
export function panDrag(stage, event) {
  let last = [event.clientX, event.clientY];
  const moved = (now) => {
    stage.pan(now.clientX - last[0], now.clientY - last[1]);
    last = [now.clientX, now.clientY];
  };
  return { moved };
}
