// The filmstrip: the scene as pictures, dim until a stretch is ready to play.
import { api } from "../api.js";

export class Filmstrip {
  constructor(editor, player) {
    this.editor = editor;
    this.player = player;
    this.element = document.getElementById("filmstrip");
    this.canvas = this.element.querySelector("canvas");
    this.here = this.element.querySelector(".here");
    this.picture = null;
    this.count = 0;
    editor.on("document", () => this.reload());
    editor.on("ready", () => this.schedule());
    editor.on("time", () => this.mark());
    new ResizeObserver(() => this.reload()).observe(this.element);
    this.element.addEventListener("pointerdown", (event) => {
      this.element.setPointerCapture(event.pointerId);
      if (editor.isPlaying()) player.pause();
      this.go(event);
    });
    this.element.addEventListener("pointermove", (event) => event.buttons && this.go(event));
  }

  go(event) {
    const box = this.element.getBoundingClientRect();
    this.editor.goTo(((event.clientX - box.left) / box.width) * this.editor.frameCount - 0.5);
  }

  reload() {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.load(), this.picture ? 350 : 0);
    this.mark();
  }

  load() {
    const { editor } = this;
    const box = this.element.getBoundingClientRect();
    if (!editor.project || !box.width) return;
    const each = 44 * Math.max(0.6, editor.scene.width / editor.scene.height);
    const count = Math.max(1, Math.min(60, Math.round(box.width / each)));
    const revision = editor.revision;
    const picture = new Image();
    picture.onload = () => {
      if (revision < editor.revision && this.picture) return;
      this.picture = picture;
      this.count = count;
      this.draw();
    };
    picture.src = api.stripUrl(editor.projectId, editor.sceneId, count, 88, revision);
  }

  schedule() {
    if (this.waiting) return;
    this.waiting = true;
    requestAnimationFrame(() => {
      this.waiting = false;
      this.draw();
    });
  }

  draw() {
    if (!this.picture) return;
    const box = this.element.getBoundingClientRect();
    const ratio = window.devicePixelRatio || 1;
    this.canvas.width = box.width * ratio;
    this.canvas.height = box.height * ratio;
    const context = this.canvas.getContext("2d");
    const width = this.canvas.width / this.count;
    const source = this.picture.naturalWidth / this.count;
    const frames = this.editor.frameCount;
    for (let i = 0; i < this.count; i += 1) {
      context.drawImage(
        this.picture,
        i * source,
        0,
        source,
        this.picture.naturalHeight,
        i * width,
        0,
        width - 2,
        this.canvas.height,
      );
      const first = Math.floor((i / this.count) * frames);
      const last = Math.max(first + 1, Math.floor(((i + 1) / this.count) * frames));
      let ready = 0;
      for (let frame = first; frame < last; frame += 1) if (this.player.ready(frame)) ready += 1;
      const part = ready / (last - first);
      if (part < 1) {
        context.fillStyle = "rgba(15, 16, 19, 0.62)";
        context.fillRect(i * width + (width - 2) * part, 0, (width - 2) * (1 - part), this.canvas.height);
      }
    }
    this.element.dataset.ready = this.readyPart().toFixed(3);
  }

  /** How much of the working range is ready to play. */
  readyPart() {
    const [start, end] = this.editor.range;
    let ready = 0;
    for (let frame = start; frame < end; frame += 1) if (this.player.ready(frame)) ready += 1;
    return ready / (end - start);
  }

  mark() {
    if (!this.editor.project) return;
    this.here.style.left = `${((this.editor.frame + 0.5) / this.editor.frameCount) * 100}%`;
    this.element.setAttribute("aria-valuemax", String(this.editor.frameCount - 1));
    this.element.setAttribute("aria-valuenow", String(this.editor.frame));
  }
}
