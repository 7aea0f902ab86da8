// The modes of the stage by name, and the one that is on.
import { TapMode } from "./tap.js";
import { TypeMode } from "./type.js";
import { WriteMode } from "./write.js";
import { DrawMode } from "./draw.js";
import { FlyMode } from "./fly.js";
import { AskLayerMode, PickColourMode, TieMode } from "./ask.js";
import { PanMode } from "./pan.js";
import { MaskMode, PlaceMode, PointsMode } from "./points.js";
import { PenMode } from "./pen.js";
import { PencilMode } from "./pencil.js";
import { PivotMode } from "./pivot.js";
import { SelectMode } from "./select.js";

const MODES = {
  select: SelectMode,
  rectangle: DrawMode,
  ellipse: DrawMode,
  polygon: DrawMode,
  star: DrawMode,
  line: DrawMode,
  pen: PenMode,
  text: TypeMode,
  pencil: PencilMode,
  hand: PanMode,
  pivot: PivotMode,
  points: PointsMode,
  mask: MaskMode,
  place: PlaceMode,
  write: WriteMode,
  "pick-colour": PickColourMode,
  "ask-layer": AskLayerMode,
  tie: TieMode,
  fly: FlyMode,
  tap: TapMode,
  "move-view": class extends PanMode {
    static visits = true;
  },
};

export class Modes {
  /** `hands` are the editor and what lies before the artist: stage, overlay, player. */
  constructor(hands) {
    this.hands = hands;
    this.editor = hands.editor;
    this.mode = this.made("select", {});
    this.visits = [];
    this.editor.on("document", () => this.look());
  }

  made(id, options) {
    return new MODES[id](id, this.hands, options);
  }

  /** The one that the pointer and the keys go to. */
  get current() {
    return this.visits.at(-1) || this.mode;
  }

  /** All that are on, the lasting one first. */
  get all() {
    return [this.mode, ...this.visits];
  }

  /** Enters a mode by name. A visit comes on top; any other takes the place of what was on. */
  enter(id, options = {}) {
    if (!MODES[id].visits) return this.settle(id, options, true);
    const next = this.made(id, options);
    this.visits.push(next);
    next.enter();
    this.changed();
    return next;
  }

  /** Another lasting mode; `kept` is false where the old one is given up. */
  settle(id, options, kept) {
    while (this.visits.length) this.leave(this.visits.at(-1), kept);
    this.mode.leave(kept);
    this.mode = this.made(id, options);
    this.mode.enter();
    this.changed();
    return this.mode;
  }

  /** Ends a mode that is on: a visit goes back to what was below it, any other to selecting. */
  leave(mode = this.current, kept = true) {
    const at = this.visits.indexOf(mode);
    if (at < 0) {
      if (mode === this.mode) this.settle("select", {}, kept);
      return;
    }
    this.visits.splice(at, 1);
    mode.leave(kept);
    this.changed();
  }

  /** The visit of that name, where it is on. */
  visit(id) {
    return this.visits.find((mode) => mode.id === id) || null;
  }

  /** Escape; true where there was something to give up. */
  escape() {
    for (const mode of this.all.reverse()) {
      if (mode.escape()) return true;
    }
    return false;
  }

  /** A mode goes when what it is about is no more there, or no more selected. */
  look() {
    if (!this.editor.scene) return;
    for (const mode of this.all) if (!mode.holds()) this.leave(mode, false);
  }

  changed() {
    this.editor.tell("mode");
    this.editor.tell("view");
  }
}
