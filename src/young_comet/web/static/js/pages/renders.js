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

function row(render) {
  const active = render.status === "waiting" || render.status === "running";
  const part = render.total ? render.done / render.total : 0;
  const still = render.settings.format === "png";
  const left = render.left_s ? ` · about ${Math.max(1, Math.round(render.left_s))} s left` : "";
  const size = render.width
    ? `${render.width} × ${render.height}`
    : `${trim(render.settings.scale * 100, 0)} %`;
  const what = still ? "PNG still" : `MP4, ${render.settings.quality}`;
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
    showVideo: Boolean(render.file_url) && !still,
    showStill: Boolean(render.file_url) && still,
    percent: Math.round(part * 100),
    meter: { transform: `scaleX(${part})` },
    progressText:
      render.status === "waiting" ? WORDS.waiting : `${render.done} of ${render.total} frames${left}`,
    statusText:
      render.status === "done"
        ? `Rendered in ${seconds(render.seconds)}, ${ago(render.created_at)}`
        : WORDS[render.status],
    facts: `${what} · ${size}${length}`,
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
