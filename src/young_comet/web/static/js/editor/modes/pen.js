// The pen: presses are points, drags are their handles; all in scene pixels.
import { newId } from "../../formats.js";
import { circle, el, line, short } from "../markup.js";
import { minus, plus, round } from "../points.js";
import { drawMask, drawShape, maskTarget } from "./drawn.js";
import { MakingMode } from "./mode.js";

const CLOSE_PX = 10;

/** A point at a multiple of 15 degrees about another, as far as where the pointer is. */
function straight(from, to) {
  const [dx, dy] = minus(to, from);
  const angle = (Math.round(Math.atan2(dy, dx) / (Math.PI / 12)) * Math.PI) / 12;
  const length = Math.hypot(dx, dy);
  return [from[0] + Math.cos(angle) * length, from[1] + Math.sin(angle) * length];
}

/** Options: `mask` where it becomes a mask, `into` where it becomes the path of a property. */
export class PenMode extends MakingMode {
  drawn = []; // points { at, into, out }
  ahead = null; // where the pointer is

  get drawsInto() {
    return this.options.into || null;
  }

  get hint() {
    const ends = this.options.into?.adds
      ? "Enter ends the line"
      : "Enter ends the path, a click on its first point closes it";
    return `Click points, drag for curves. ${ends}.`;
  }

  leave() {
    this.drawn = [];
  }

  press(at, event) {
    const { drawn, overlay, stage } = this;
    const [first] = drawn;
    const away = first && Math.hypot(...minus(stage.toScreen(first.at), stage.toScreen(at)));
    if (drawn.length > 1 && away < CLOSE_PX) {
      const close = () => this.end(true);
      return { end: close, click: close };
    }
    const spot = event.shiftKey && drawn.length ? straight(drawn.at(-1).at, at) : at;
    const point = { at: spot.map(round), into: [0, 0], out: [0, 0] };
    drawn.push(point);
    this.ahead = null;
    overlay.draw();
    const moved = (_event, to) => {
      point.out = minus(to, point.at).map(round);
      point.into = point.out.map((part) => -part);
      overlay.draw();
    };
    return { moved };
  }

  hover(at) {
    if (!this.drawn.length) return;
    this.ahead = at;
    this.overlay.draw();
  }

  finish() {
    if (!this.drawn.length) return false;
    this.end(false);
    return true;
  }

  escape() {
    this.end(false);
    return true;
  }

  /** What is drawn becomes what it is for; less than two points are nothing. */
  async end(closed) {
    const { editor } = this;
    const { into, mask } = this.options;
    const drawn = { form: "path", points: this.drawn, closed: closed && !into?.adds };
    this.drawn = [];
    const layer = mask && drawn.points.length > 1 ? maskTarget(editor) : null;
    editor.enter("select");
    if (drawn.points.length < 2 || (mask && !layer)) return;
    const id = newId();
    if (into) await this.intoProperty(into, drawn);
    else if (!mask) {
      if (await editor.edit(drawShape(editor, id, drawn))) editor.select([id]);
    } else if (await editor.edit(drawMask(editor, layer, id, drawn))) editor.tell("mask-added", id);
  }

  /** What is drawn becomes the path of a property, or a stroke more of it. */
  async intoProperty({ layer, property, adds }, drawn) {
    const { editor } = this;
    const where = { layer, property, adds: Boolean(adds) };
    const edit = { kind: "draw-path", scene: editor.sceneId, ...where, drawn, time_s: editor.time };
    if (editor.layer(layer) && (await editor.edit(edit))) editor.enter("points", { property });
  }

  svg() {
    return this.drawn.length ? penSvg(this.overlay, this.drawn, this.ahead) : "";
  }
}

/** What the pen has drawn so far: scene points with handles, and the line to where the pointer is. */
function penSvg(overlay, drawn, ahead) {
  const put = (p) => overlay.point(p).map(short).join(" ");
  const all = ahead ? [...drawn, { at: ahead, into: [0, 0], out: [0, 0] }] : drawn;
  let d = `M${put(all[0].at)}`;
  for (let i = 1; i < all.length; i += 1) {
    const [a, b] = [all[i - 1], all[i]];
    d += `C${put(plus(a.at, a.out))} ${put(plus(b.at, b.into))} ${put(b.at)}`;
  }
  const dots = drawn.map(({ at, out, into }, i) => {
    const place = overlay.point(at);
    const ends = [out, into].filter((h) => h[0] || h[1]).map((h) => overlay.point(plus(at, h)));
    const stems = ends.map(
      (end) => line(place, end, { class: "way-stem" }) + circle(end, 3, { class: "way-handle" }),
    );
    const dot = circle(place, i ? 3.5 : 5, { class: "shape-point", stroke: "var(--ember)" });
    return stems.join("") + dot;
  });
  return el("path", { class: "shape-line", d, stroke: "var(--ember)" }) + dots.join("");
}
