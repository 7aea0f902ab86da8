// Cards whose picture plays under the pointer or with the focus: the scene's pictures one after another.

const A_PICTURE_MS = 120;

/** `source` gives the address of the pictures side by side, `count` how many there are. */
export class StripPlay {
  constructor(source, count) {
    Object.assign(this, { source, count, image: null, timer: 0 });
  }

  start(link) {
    if (matchMedia("(prefers-reduced-motion: reduce)").matches || this.timer) return;
    if (!this.image) {
      this.image = new Image();
      this.image.src = this.source;
    }
    let index = 0;
    this.timer = setInterval(() => {
      if (!this.image.complete || !this.image.naturalWidth) return;
      this.draw(link, index % this.count);
      index += 1;
    }, A_PICTURE_MS);
  }

  /** The picture of a moment, where the pointer is across the card. */
  draw(link, index) {
    const { image, count } = this;
    const width = image.naturalWidth / count;
    let canvas = link.querySelector("canvas");
    if (!canvas) {
      canvas = document.createElement("canvas");
      canvas.className = "position-absolute top-0 start-0";
      canvas.width = width;
      canvas.height = image.naturalHeight;
      link.append(canvas);
    }
    const context = canvas.getContext("2d");
    context.drawImage(image, index * width, 0, width, image.naturalHeight, 0, 0, canvas.width, canvas.height);
  }

  stop(link) {
    clearInterval(this.timer);
    this.timer = 0;
    link.querySelector("canvas")?.remove();
  }
}
