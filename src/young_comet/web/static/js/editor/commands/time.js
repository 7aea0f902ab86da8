// Commands in time: playing, frames, the working range, marks, what the timeline and the stage show of it.
import { toggleOnion } from "../actions/views.js";
import { unlocked } from "../actions/chosen.js";
import { separateSound } from "../actions/sounds.js";
import { extend, fitSpeed, freeze, split, trimTo } from "../actions/spans.js";

const first = (layers) => Math.min(...layers.map((layer) => layer.start_s));
const last = (layers) => Math.max(...layers.map((layer) => layer.end_s));
const go =
  (by) =>
  ({ editor }) =>
    editor.goTo(editor.frame + by);

function range(editor, start_s, end_s) {
  return editor.edit({ kind: "set-range", scene: editor.sceneId, start_s, end_s });
}

/** From the playhead to where the range ends now, open where that is before it. */
function rangeFrom(editor) {
  const [, end] = editor.scene.range_s || [0, editor.scene.length_s];
  return range(editor, editor.time, end > editor.time ? end : null);
}

function rangeTo(editor) {
  const [start] = editor.scene.range_s || [0];
  return range(editor, start, editor.time + editor.timeOf(1));
}

/** To the next moment with a key, of the selected layers or of all. */
function toKey(editor, direction) {
  const layers = editor.selected.size ? editor.selectedLayers : editor.layers;
  const frames = new Set(
    layers.flatMap((layer) => editor.keyTimes(layer).map((time) => editor.frameAt(time))),
  );
  const ahead = [...frames].map((frame) => (frame - editor.frame) * direction).filter((by) => by > 0);
  if (ahead.length) editor.goTo(editor.frame + Math.min(...ahead) * direction);
}

const swapSpeed = (player, speed) => player.setSpeed(player.speed === speed ? 1 : speed);

const compare = (mode) => (desk) => desk.compare.set(desk.compare.mode === mode ? "" : mode);

export const TIME = [
  { id: "play", label: "Play or pause", keys: "Space", run: ({ player }) => player.toggle() },
  {
    id: "play-span",
    label: "Play the span of the selected layers and come back",
    keys: "Alt+Shift+Enter",
    needs: ["layers"],
    run: ({ editor, player }) =>
      player.playSpan(
        editor.frameAt(first(editor.selectedLayers)),
        editor.frameAt(last(editor.selectedLayers)),
      ),
  },
  {
    id: "play-on",
    label: "Play from here to the end and come back",
    run: ({ editor, player }) => player.playSpan(editor.frame, editor.range[1]),
  },
  {
    id: "play-half",
    label: "Play at half speed, or at the usual one again",
    run: ({ player }) => swapSpeed(player, 0.5),
  },
  {
    id: "play-double",
    label: "Play at double speed, or at the usual one again",
    run: ({ player }) => swapSpeed(player, 2),
  },
  {
    id: "play-range",
    label: "Play the working range from its start",
    run: ({ editor, player }) => {
      editor.goTo(editor.range[0], { quiet: true });
      if (!player.playing) player.play();
    },
  },
  { id: "back", label: "One frame back", keys: "Left", run: go(-1) },
  { id: "on", label: "One frame on", keys: "Right", run: go(1) },
  { id: "back-ten", label: "Ten frames back", keys: "Shift+Left", run: go(-10) },
  { id: "on-ten", label: "Ten frames on", keys: "Shift+Right", run: go(10) },
  { id: "start", label: "To the start", keys: "Home", run: ({ editor }) => editor.goTo(0) },
  { id: "end", label: "To the end", keys: "End", run: ({ editor }) => editor.goTo(editor.frameCount - 1) },
  { id: "key-before", label: "To the key before", keys: "Alt+Up", run: ({ editor }) => toKey(editor, -1) },
  { id: "key-after", label: "To the key after", keys: "Alt+Down", run: ({ editor }) => toKey(editor, 1) },
  {
    id: "mark",
    label: "Set a mark at the playhead",
    keys: "Shift+Enter",
    run: ({ editor }) => editor.edit({ kind: "add-mark", scene: editor.sceneId, time_s: editor.time }),
  },
  {
    id: "range-start",
    label: "Working range starts here",
    keys: "Shift+Home",
    run: ({ editor }) => rangeFrom(editor),
  },
  {
    id: "range-end",
    label: "Working range ends here",
    keys: "Shift+End",
    run: ({ editor }) => rangeTo(editor),
  },
  {
    id: "range-span",
    label: "Working range over the selected layers",
    menu: "Working range over the span",
    needs: ["layers"],
    run: ({ editor }) => range(editor, first(editor.selectedLayers), last(editor.selectedLayers)),
  },
  {
    id: "range-whole",
    label: "Working range: the whole scene",
    run: ({ editor }) => range(editor, null, null),
  },
  {
    id: "show-scene",
    label: "Timeline: show the whole scene",
    keys: "Alt+1",
    run: ({ timeline }) => timeline.fit(),
  },
  {
    id: "show-span",
    label: "Timeline: show the selected layers' spans",
    menu: "Show the span in the timeline",
    keys: "Alt+2",
    needs: ["layers"],
    run: ({ editor, timeline }) =>
      timeline.fitTimes(first(editor.selectedLayers), last(editor.selectedLayers)),
  },
  {
    id: "show-selection",
    label: "Timeline: show the chosen keys",
    keys: "Alt+3",
    needs: ["keys"],
    run: ({ editor, timeline }) => {
      const times = editor.chosenKeys.map((entry) => editor.keyTime(entry));
      timeline.fitTimes(times[0], times.at(-1));
    },
  },
  { id: "onion", label: "Onion view of the selected layers", run: ({ editor }) => toggleOnion(editor) },
  { id: "compare-moment", label: "Compare with this moment", run: compare("moment") },
  { id: "compare-edit", label: "Compare before and after the last edit", run: compare("before-edit") },
];

export const SPANS = [
  {
    id: "split",
    label: "Split layers at the playhead",
    keys: "Ctrl+Enter",
    needs: ["unlocked", "at-playhead"],
    run: ({ editor }) => split(editor, unlocked(editor)),
  },
  {
    id: "start-here",
    label: "Layers start at the playhead",
    menu: "Start at the playhead",
    keys: "Alt+Shift+Home",
    needs: ["unlocked"],
    run: ({ editor }) => trimTo(editor, unlocked(editor), "start_s", editor.time),
  },
  {
    id: "end-here",
    label: "Layers end at the playhead",
    menu: "End at the playhead",
    keys: "Alt+Shift+End",
    needs: ["unlocked"],
    run: ({ editor }) => trimTo(editor, unlocked(editor), "end_s", editor.time + editor.timeOf(1)),
  },
  {
    id: "extend",
    label: "Extend layers to the end of the scene",
    menu: "Extend to the end of the scene",
    keys: "Alt+End",
    needs: ["unlocked"],
    run: ({ editor }) => extend(editor, unlocked(editor)),
  },
  {
    id: "freeze",
    label: "Freeze clips at this frame",
    menu: "Freeze at this frame",
    needs: ["showing"],
    run: ({ editor }) => freeze(editor, editor.time),
  },
  {
    id: "thaw",
    label: "Let frozen clips run again",
    needs: ["showing"],
    run: ({ editor }) => freeze(editor, null),
  },
  {
    id: "separate-sound",
    label: "Separate the sound of the clip",
    needs: ["heard-clip"],
    run: ({ editor }) => separateSound(editor),
  },
  {
    id: "fit-speed",
    label: "Speed of clips: fill their spans",
    needs: ["playing"],
    run: ({ editor }) => fitSpeed(editor),
  },
];
