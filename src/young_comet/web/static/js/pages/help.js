// The help page: searched, its moving pictures, the keys from the list of commands, the tour.
import { Alpine } from "../common.js";
import { complain } from "../notes.js";
import { described } from "../editor/commands/index.js";
import { startTour } from "../tour.js";

// Frames of a move's picture; the one behind them is its trail.
const FRAMES = 16;
const A_FRAME_MS = 90;

Alpine.data("helpPage", () => ({
  query: "",
  none: false,
  groups: [],

  init() {
    this.groups = described()
      .map((group) => ({ ...group, commands: group.commands.filter((each) => each.keys) }))
      .filter((group) => group.commands.length);
    // Pictures are drawn by the server when they come into view.
    const seen = new IntersectionObserver((entries) => {
      for (const { isIntersecting, target } of entries) {
        if (!isIntersecting) continue;
        target.style.backgroundImage = `url("${target.dataset.strip}")`;
        seen.unobserve(target);
      }
    });
    for (const strip of this.$root.querySelectorAll("[data-strip]")) {
      seen.observe(strip);
      const tile = strip.closest("[data-play], [data-entry]");
      const play = () => this.play(strip, tile);
      tile.addEventListener("pointerenter", play);
      tile.addEventListener("focus", play);
    }
    if (!location.hash) this.$nextTick(() => this.$refs.search.focus());
  },
  /** Plays as long as the pointer or the focus is there. */
  play(strip, tile) {
    if (strip.dataset.playing || matchMedia("(prefers-reduced-motion: reduce)").matches) return;
    strip.dataset.playing = "yes";
    let frame = 0;
    const timer = setInterval(() => {
      const on = tile.matches(":hover, :focus-within");
      const shown = on ? Math.min(frame, FRAMES - 1) : FRAMES;
      strip.style.backgroundPosition = `${(shown / FRAMES) * 100}% 0`;
      frame = (frame + 1) % (FRAMES + 5);
      if (on) return;
      clearInterval(timer);
      delete strip.dataset.playing;
    }, A_FRAME_MS);
  },
  search() {
    const words = this.query.trim().toLowerCase().split(/\s+/).filter(Boolean);
    let any = false;
    for (const entry of this.$root.querySelectorAll("[data-entry]")) {
      const text = entry.textContent.toLowerCase();
      entry.hidden = !words.every((word) => text.includes(word));
      any ||= !entry.hidden;
    }
    for (const part of this.$root.querySelectorAll("[data-part], [data-part] h3, [data-part] > p")) {
      const within = part.matches("h3") ? part.nextElementSibling : part.closest("[data-part]");
      part.hidden = words.length > 0 && !within.querySelector("[data-entry]:not([hidden])");
    }
    this.none = !any;
  },
  tour() {
    startTour().catch(complain);
  },
}));

Alpine.start();
