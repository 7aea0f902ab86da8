// How the page is shared out: the right column over the full height or beside the stage alone, and how wide
// it is. Both are remembered.
import { remembered } from "../formats.js";

const [NARROWEST, USUAL, WIDEST] = [260, 300, 560];

export class Layout {
  constructor() {
    this.page = document.getElementById("editor");
    this.tall = remembered("tall-column", false);
    this.width = remembered("column-width", USUAL);
    const grip = document.getElementById("column-grip");
    grip.addEventListener("pointerdown", (event) => this.drag(event, grip));
    grip.addEventListener("keydown", (event) => this.key(event));
    grip.addEventListener("dblclick", () => this.widen(USUAL));
    this.show();
  }

  show() {
    const { page, width } = this;
    page.classList.toggle("tall-column", this.tall);
    page.style.setProperty("--column", `${width}px`);
    const grip = document.getElementById("column-grip");
    grip.setAttribute("aria-valuenow", String(width));
  }

  toggleTall() {
    this.tall = !this.tall;
    localStorage.setItem("tall-column", JSON.stringify(this.tall));
    this.show();
  }

  widen(width) {
    this.width = Math.round(Math.max(NARROWEST, Math.min(WIDEST, width)));
    localStorage.setItem("column-width", JSON.stringify(this.width));
    this.show();
  }

  drag(event, grip) {
    event.preventDefault();
    grip.setPointerCapture(event.pointerId);
    const right = window.innerWidth;
    const move = (now) => this.widen(right - now.clientX);
    grip.addEventListener("pointermove", move);
    grip.addEventListener("pointerup", () => grip.removeEventListener("pointermove", move), { once: true });
  }

  key(event) {
    const by = { ArrowLeft: 20, ArrowRight: -20 }[event.key];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    this.widen(this.width + by);
  }
}
