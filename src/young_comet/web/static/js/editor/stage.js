// The stage: shows the picture, keeps the view (zoom and pan), tells where things are.

export class Stage {
  constructor(editor) {
    this.editor = editor;
    this.element = document.getElementById("stage");
    this.canvas = document.getElementById("picture");
    this.context = this.canvas.getContext("2d", { alpha: false });
    this.scale = 1;
    this.x = 0;
    this.y = 0;
    this.fitted = true;
    this.half = false;
    editor.on("picture", ({ blob }) => this.take(blob));
    editor.on("document", () => this.settle());
    new ResizeObserver(() => this.settle()).observe(this.element);
    this.element.addEventListener("wheel", (event) => this.wheel(event), { passive: false });
  }

  async take(blob) {
    const wanted = this.editor.shownId;
    const picture = blob instanceof ImageData ? blob : await createImageBitmap(blob);
    if (wanted < this.drawn) return;
    this.drawn = wanted;
    if (!this.editor.isPlaying?.()) this.show(picture);
    this.editor.tell("presented");
  }

  /** Shows a bitmap, or raw pixels as they come while something moves. */
  show(picture) {
    if (this.canvas.width !== picture.width || this.canvas.height !== picture.height) {
      this.canvas.width = picture.width;
      this.canvas.height = picture.height;
      this.lay();
    }
    if (picture instanceof ImageData) this.context.putImageData(picture, 0, 0);
    else this.context.drawImage(picture, 0, 0);
  }

  settle() {
    if (this.fitted) this.fit();
    else this.lay();
  }

  /** The whole frame, with air around it and room for the tools. */
  fit() {
    if (!this.editor.project) return;
    this.fitted = true;
    const { width, height } = this.editor.scene;
    const box = this.element.getBoundingClientRect();
    const left = 64;
    this.scale = Math.max(0.02, Math.min((box.width - left - 24) / width, (box.height - 22) / height));
    this.x = left + (box.width - left - 24 - width * this.scale) / 2;
    // With room to spare the picture sits in the middle of the whole stage.
    const middle = (box.width - width * this.scale) / 2;
    if (middle > left) this.x = middle;
    this.y = (box.height - height * this.scale) / 2;
    if (this.half) {
      const room = box.width / 2 - 30;
      this.scale = Math.max(0.02, Math.min(room / width, (box.height - 22) / height));
      this.x = box.width / 2 + 10;
      this.y = (box.height - height * this.scale) / 2;
    }
    this.lay();
  }

  /** The picture in the right half of the stage, another one beside it. */
  setHalf(half) {
    if (this.half === half) return;
    this.half = half;
    this.fit();
  }

  lay() {
    if (!this.editor.project) return;
    const { width, height } = this.editor.scene;
    const style = this.canvas.style;
    style.width = `${width * this.scale}px`;
    style.height = `${height * this.scale}px`;
    style.transform = `translate(${this.x}px, ${this.y}px)`;
    style.imageRendering = this.scale > 3 ? "pixelated" : "auto";
    this.editor.tell("stage-moved");
  }

  wheel(event) {
    event.preventDefault();
    const box = this.element.getBoundingClientRect();
    const at = [event.clientX - box.left, event.clientY - box.top];
    this.zoomAbout(at, Math.exp(-event.deltaY * (event.ctrlKey ? 0.01 : 0.0016)));
  }

  zoomAbout([x, y], factor) {
    const next = Math.min(16, Math.max(0.03, this.scale * factor));
    const real = next / this.scale;
    this.x = x - (x - this.x) * real;
    this.y = y - (y - this.y) * real;
    this.scale = next;
    this.fitted = false;
    this.lay();
  }

  pan(dx, dy) {
    this.x += dx;
    this.y += dy;
    this.fitted = false;
    this.lay();
  }

  toScreen([x, y]) {
    return [this.x + x * this.scale, this.y + y * this.scale];
  }

  /** Scene pixels of a pointer event. */
  toScene(event) {
    const box = this.element.getBoundingClientRect();
    return [
      (event.clientX - box.left - this.x) / this.scale,
      (event.clientY - box.top - this.y) / this.scale,
    ];
  }
}
