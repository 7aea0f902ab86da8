// What every mode of the stage is asked. One mode at a time says what the pointer and the keys do;
// a visit (the view moved with Space, a colour picked, a layer asked for) comes on top of it and
// goes back to it.

export class Mode {
  /** Whether it comes on top of another one and goes back to it. */
  static visits = false;

  /** `hands`: the editor, the stage, the overlay and the player; `options`: what this mode is for. */
  constructor(id, hands, options) {
    this.id = id;
    this.hands = hands;
    this.editor = hands.editor;
    this.stage = hands.stage;
    this.overlay = hands.overlay;
    this.options = options;
  }

  // What others see of it

  /** The button among the tools that is on. */
  get tool() {
    return "select";
  }

  get cursor() {
    return "default";
  }

  /** A line about what to do, shown on the stage while the mode lasts. */
  get hint() {
    return "";
  }

  /** Whether the hint calls (in the playhead's colour) rather than tells. */
  get calls() {
    return false;
  }

  /** Whether selected layers have handles, and their motion paths are shown. */
  get handles() {
    return false;
  }

  get ways() {
    return true;
  }

  /** Whether handles of what is inside a layer (its gradient, its masks, its effects' places) are shown. */
  get selects() {
    return false;
  }

  /** Whether the pivot is what is moved. */
  get movesPivot() {
    return false;
  }

  // What a layer's own modes know (see paths.js); null everywhere else

  /** The path whose points are edited, as a property. */
  get property() {
    return null;
  }

  /** The mask that has handles, as an id. */
  get mask() {
    return null;
  }

  /** The place of an effect that has a handle, as a property. */
  get place() {
    return null;
  }

  /** Chosen points "contour,point". */
  get points() {
    return NONE;
  }

  /** What is drawn becomes a mask; or the path of a layer's property { layer, property, adds }. */
  get drawsMask() {
    return false;
  }

  get drawsInto() {
    return null;
  }

  // What happens to it

  enter() {}

  /** Ends it; `kept` is false where it is given up with Escape. */
  leave() {}

  /** The pointer goes down: what it does from here, as a drag (see pointing.js), or null. */
  press(_at, _event) {
    return null;
  }

  hover(_at) {}

  doubleClick(_at) {}

  /** Something was selected; false where it is no longer what this mode is about. */
  holds() {
    return true;
  }

  /** A layer is clicked, on the stage or in the stack; true where it was asked for. */
  takes(_layerId) {
    return false;
  }

  /** Enter; true where it ended something. */
  finish() {
    return false;
  }

  /** Escape; true where there was something to give up. */
  escape() {
    return false;
  }

  /** Delete and Select all; true where they were about what is inside of it. */
  remove() {
    return false;
  }

  chooseAll() {
    return false;
  }

  /** SVG of what it draws over the stage. */
  svg() {
    return "";
  }
}

const NONE = new Set();

/** A mode in which something new comes of what the hand does; Escape puts the tool away. */
export class MakingMode extends Mode {
  get tool() {
    return this.id;
  }

  get cursor() {
    return "crosshair";
  }

  get drawsMask() {
    return Boolean(this.options.mask);
  }

  escape() {
    this.editor.enter("select");
    return true;
  }
}
