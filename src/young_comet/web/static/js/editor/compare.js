// Two pictures beside each other: another moment, or this one before the last edit; onion view.

export class Compare {
  constructor(editor, stage) {
    this.editor = editor;
    this.stage = stage;
    this.canvas = document.getElementById("compare");
    this.context = this.canvas.getContext("2d", { alpha: false });
    this.divider = document.getElementById("compare-divider");
    this.mode = ""; // "", "moment", "before-edit"
    this.beside = false;
    this.part = 0.5;
    this.held = 0;
    this.id = 0;
    editor.on("picture frames", () => this.ask());
    editor.on("compared", ({ header, picture }) => this.show(header, picture));
    editor.on("stage-moved", () => this.lay());
    this.divider.addEventListener("pointerdown", (event) => this.down(event));
    this.divider.addEventListener("pointermove", (event) => this.move(event));
    this.divider.addEventListener("keydown", (event) => this.key(event));
  }

  /** Shows the other picture, or none (""); a moment is the one at the playhead now. */
  set(mode) {
    this.mode = mode;
    this.held = this.editor.time;
    this.canvas.hidden = this.divider.hidden = !mode;
    if (!mode) this.setBeside(false);
    this.asked = "";
    this.ask();
    this.lay();
    this.editor.tell("compare-changed");
  }

  setBeside(beside) {
    this.beside = beside;
    this.stage.setHalf(beside && Boolean(this.mode));
    this.lay();
    this.editor.tell("compare-changed");
  }

  ask() {
    const { editor } = this;
    if (!this.mode || !editor.live?.open) return;
    const time_s = this.mode === "moment" ? this.held : editor.time;
    const seen = editor.seeing.asked();
    const wanted = `${this.mode} ${time_s} ${editor.revision} ${editor.height} ${JSON.stringify(seen)}`;
    if (wanted === this.asked) return;
    this.asked = wanted;
    this.id += 1;
    editor.live.send({
      type: "compare",
      id: this.id,
      with: this.mode,
      time_s,
      height: editor.height,
      ...seen,
    });
  }

  async show(header, picture) {
    if (!this.mode || header.id < this.id) return;
    const shown = picture instanceof ImageData ? picture : await createImageBitmap(picture);
    this.canvas.width = shown.width;
    this.canvas.height = shown.height;
    if (shown instanceof ImageData) this.context.putImageData(shown, 0, 0);
    else this.context.drawImage(shown, 0, 0);
    this.lay();
  }

  lay() {
    if (!this.mode || !this.editor.project) return;
    const { stage } = this;
    const { width, height } = this.editor.scene;
    const [w, h] = [width * stage.scale, height * stage.scale];
    const box = stage.element.getBoundingClientRect();
    const x = this.beside ? stage.x - box.width / 2 + 20 : stage.x;
    Object.assign(this.canvas.style, {
      width: `${w}px`,
      height: `${h}px`,
      transform: `translate(${x}px, ${stage.y}px)`,
    });
    this.canvas.style.clipPath = this.beside ? "none" : `inset(0 ${((1 - this.part) * 100).toFixed(2)}% 0 0)`;
    this.divider.hidden = this.beside;
    this.divider.style.transform = `translate(${stage.x + w * this.part}px, ${stage.y}px)`;
    this.divider.style.height = `${h}px`;
    this.divider.setAttribute("aria-valuenow", String(Math.round(this.part * 100)));
  }

  down(event) {
    event.stopPropagation();
    this.divider.setPointerCapture(event.pointerId);
  }

  move(event) {
    if (!event.buttons) return;
    const [x] = this.stage.toScene(event);
    this.part = Math.min(1, Math.max(0, x / this.editor.scene.width));
    this.lay();
  }

  key(event) {
    const step = { ArrowLeft: -0.02, ArrowRight: 0.02 }[event.key];
    if (!step) return;
    event.preventDefault();
    event.stopPropagation();
    this.part = Math.min(1, Math.max(0, this.part + step));
    this.lay();
  }
}
