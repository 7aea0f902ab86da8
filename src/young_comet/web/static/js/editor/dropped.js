// When playing drops frames: what costs the time, and a smaller preview at hand.
import { api } from "../api.js";
import { note } from "../notes.js";

// It has to be behind for so long before anything is said, and once is enough for a while.
const BEHIND_MS = 1500;
const QUIET_MS = 30_000;
const HEIGHTS = [0, 720, 540, 360];

export function watchDropped(editor, player) {
  let since = 0;
  let told = -QUIET_MS;
  editor.on("rate", () => {
    const now = performance.now();
    const wanted = (editor.rate.num / editor.rate.den) * Math.min(1, player.speed);
    if (!player.playing || !player.rate || player.rate >= wanted * 0.95) {
      since = 0;
      return;
    }
    since ||= now;
    if (now - since < BEHIND_MS || now - told < QUIET_MS) return;
    told = now;
    tell(editor);
  });
}

async function tell(editor) {
  const found = await api
    .costs(editor.projectId, editor.sceneId, editor.time, editor.height)
    .catch(() => ({ ms: 0, layers: [] }));
  const names = found.layers
    .filter((each) => each.ms >= 1 && editor.layer(each.layer))
    .map((each) => `${editor.layer(each.layer).name} ${Math.round(each.ms)} ms`);
  const lower = HEIGHTS[HEIGHTS.indexOf(editor.height) + 1];
  const what = names.length ? ` Of ${Math.round(found.ms)} ms a frame most is ${names.join(", ")}.` : "";
  note(`Frames are dropped: they are not drawn as fast as they are shown.${what}`, {
    seconds: 12,
    ...(lower ? { action: `Preview ${lower} px`, run: () => editor.tell("preview-height", lower) } : {}),
  });
}
