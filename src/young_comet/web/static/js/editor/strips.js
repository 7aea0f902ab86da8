// Moving thumbnails: frames side by side, and behind them what they do in one picture.
const FRAMES = 16;
const STEP_MS = 90;

/**
 * The strips within an element play while the pointer is on them, or the focus; else they show the last of
 * their pictures. `sourceOf(strip, moving)` gives a strip's address, `isBack` whether it plays backwards.
 */
export function playStrips(root, sourceOf, isBack = () => false) {
  const still = window.matchMedia("(prefers-reduced-motion: reduce)");
  let frame = 0;
  setInterval(() => {
    if (!root.getClientRects().length) return; // it is not seen
    frame = (frame + 1) % (FRAMES + 4);
    const shown = Math.min(frame, FRAMES - 1);
    for (const strip of root.querySelectorAll(".move-strip")) {
      const moving = !still.matches && strip.closest("button").matches(":hover, :focus-visible");
      const source = sourceOf(strip, moving);
      if (source && strip.dataset.shown !== source) {
        strip.style.backgroundImage = `url("${source}")`;
        strip.dataset.shown = source;
      }
      const seen = moving ? (isBack(strip) ? FRAMES - 1 - shown : shown) : FRAMES;
      strip.style.backgroundPosition = `${(seen / FRAMES) * 100}% 0`;
    }
  }, STEP_MS);
}
