// The renders page: progress, results played in the page, download.
import { Alpine } from "../common.js";
import { ago, megabytes, seconds, trim } from "../formats.js";
import { complain } from "../notes.js";
import { Live, api } from "../api.js";

const WORDS = {
  waiting: "Waiting for its turn",
  running: "Rendering",
  done: "Done",
  failed: "Failed",
  cancelled: "Cancelled",
  interrupted: "Interrupted",
};

const FORMATS = {
  mp4: "MP4",
  mov: "MOV, ProRes 4444",
  webm: "WebM",
  frames: "PNG frames",
  png: "PNG still",
  wav: "WAV",
  flac: "FLAC",
};

/** What the file is, and its size in pixels. */
function whatIs(render) {
  const { format, quality, scale } = render.settings;
  const what = ["mp4", "webm"].includes(format) ? `${FORMATS[format]}, ${quality}` : FORMATS[format];
  if (render.width) return `${what} · ${render.width} × ${render.height}`;
  return ["wav", "flac"].includes(format) ? what : `${what} · ${trim(scale * 100, 0)} %`;
}

function row(render) {
  const active = render.status === "waiting" || render.status === "running";
  const part = render.total ? render.done / render.total : 0;
  const still = render.settings.format === "png";
  const left = render.left_s ? ` · about ${Math.max(1, Math.round(render.left_s))} s left` : "";
  const length =
    render.status === "done" && !still ? ` · ${render.total} frames · ${megabytes(render.size_bytes)}` : "";
  return {
    ...render,
    active,
    canRepeat: !active && !render.file_url,
    // What cannot be drawn can be marked instead, so that the rest is rendered.
    canMark:
      render.status === "failed" &&
      / cannot be drawn: /.test(render.message) &&
      render.settings.gaps !== "mark",
    wrong: render.status === "failed" || render.status === "interrupted" ? "problem" : "dim",
    showVideo: Boolean(render.file_url) && ["mp4", "webm"].includes(render.settings.format),
    showSound: Boolean(render.file_url) && ["wav", "flac"].includes(render.settings.format),
    showFile: Boolean(render.file_url) && ["mov", "frames"].includes(render.settings.format),
    fileText: render.settings.format === "mov" ? "MOV with alpha" : "PNG frames",
    showStill: Boolean(render.file_url) && still,
    percent: Math.round(part * 100),
    meter: { transform: `scaleX(${part})` },
    progressText:
      render.status === "waiting" ? WORDS.waiting : `${render.done} of ${render.total} frames${left}`,
    statusText:
      render.status === "done"
        ? `Rendered in ${seconds(render.seconds)}, ${ago(render.created_at)}`
        : WORDS[render.status],
    facts: `${whatIs(render)}${length}`,
    sceneUrl: `/projects/${render.project_id}/scenes/${render.scene_id}`,
    downloadUrl: `${render.file_url}?download=true`,
  };
}

Alpine.data("rendersPage", () => ({
  renders: [],
  loaded: false,
  async init() {
    await this.load();
    new Live("/live", { onMessage: (message) => this.hear(message), onOpen: () => this.load() });
  },
  async load() {
    try {
      this.renders = (await api.renders()).map(row);
      this.loaded = true;
    } catch (error) {
      complain(error);
    }
  },
  hear(message) {
    if (message.type !== "render") return;
    const known = this.renders.findIndex((each) => each.id === message.render.id);
    if (known < 0) this.renders = [row(message.render), ...this.renders];
    else this.renders.splice(known, 1, row(message.render));
  },
  async cancel(render) {
    await api.cancelRender(render.id).catch(complain);
  },
  async again(render) {
    await api.renderAgain(render.id).catch(complain);
  },
  async goOn(render) {
    await api.renderAgain(render.id, "mark").catch(complain);
  },
  async remove(render) {
    await api.removeRender(render.id).catch(complain);
    await this.load();
  },
}));

Alpine.start();
