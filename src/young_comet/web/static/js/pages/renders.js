// The renders page: progress, results played in the page, download.
import { Alpine, nameInPlace } from "../common.js";
import { ago, megabytes, remembered, seconds, trim } from "../formats.js";
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

/** What the files are, and their size in pixels. */
function whatIs(render, formats) {
  const names = render.settings.also?.length
    ? [render.settings.format, ...render.settings.also]
    : [render.settings.format];
  const known = names.map((id) => formats.find((each) => each.id === id)).filter(Boolean);
  const words = known.map((each) =>
    each.qualities ? `${each.label}, ${render.settings.quality}` : each.label,
  );
  const what = words.join(" + ");
  if (render.width) return `${what} · ${render.width} × ${render.height}`;
  const seen = known.some((each) => each.holds === "film" || each.holds === "still");
  return seen ? `${what} · ${trim(render.settings.scale * 100, 0)} %` : what;
}

/** Its own name, else that of its scene; and where it is from. */
function named({ name, scene_name, project_name }) {
  return name
    ? { title: name, whereFrom: `${scene_name}, ${project_name}` }
    : { title: scene_name, whereFrom: project_name };
}

function row(render, formats) {
  const active = render.status === "waiting" || render.status === "running";
  const part = render.total ? render.done / render.total : 0;
  const shown = render.files.find((each) => ["video", "picture", "sound"].includes(each.shown));
  const still = formats.find((each) => each.id === render.settings.format)?.holds === "still";
  const left = render.left_s ? ` · about ${Math.max(1, Math.round(render.left_s))} s left` : "";
  const length =
    render.status === "done" && !still ? ` · ${render.total} frames · ${megabytes(render.size_bytes)}` : "";
  return {
    ...render,
    active,
    canRepeat: !active && !render.file_url,
    ...named(render),
    canAnew: render.status === "done",
    removeText: "Remove",
    asking: false,
    // What cannot be drawn can be marked instead, so that the rest is rendered.
    canMark:
      render.status === "failed" &&
      / cannot be drawn: /.test(render.message) &&
      render.settings.gaps !== "mark",
    // That it was cancelled is told once.
    said: render.message === "Cancelled." ? "" : render.message,
    wrong: render.status === "failed" || render.status === "interrupted" ? "problem" : "dim",
    showVideo: shown?.shown === "video",
    showSound: shown?.shown === "sound",
    showStill: shown?.shown === "picture",
    showFile: Boolean(render.file_url) && !shown,
    shownUrl: shown?.url,
    fileText: render.files.map((each) => each.ending.toUpperCase()).join(" · "),
    downloads: render.files.map((each, place) => ({
      ...each,
      url: `${each.url}&download=true`,
      text: render.files.length > 1 ? each.ending.toUpperCase() : "Download",
      kind: place ? "soft" : "main-action",
    })),
    percent: Math.round(part * 100),
    meter: { transform: `scaleX(${part})` },
    progressText:
      render.status === "waiting" ? WORDS.waiting : `${render.done} of ${render.total} frames${left}`,
    statusText:
      render.status === "done"
        ? `Rendered in ${seconds(render.seconds)}, ${ago(render.created_at)}`
        : WORDS[render.status],
    facts: `${whatIs(render, formats)}${length}`,
    sceneUrl: `/projects/${render.project_id}/scenes/${render.scene_id}`,
  };
}

Alpine.data("rendersPage", () => ({
  renders: [],
  loaded: false,
  scene: "", // only those of this scene
  compact: remembered("compact-renders", false),
  formats: [],
  async init() {
    this.formats = (await api.catalog()).formats;
    await this.load();
    new Live("/live", { onMessage: (message) => this.hear(message), onOpen: () => this.load() });
  },
  /** The scenes that there are renders of. */
  get scenes() {
    const known = new Map(this.renders.map((each) => [`${each.project_id}/${each.scene_id}`, each]));
    return [...known].map(([id, { scene_name, project_name }]) => ({
      id,
      label: `${scene_name} (${project_name})`,
    }));
  },
  get shown() {
    return this.renders.filter((each) => !this.scene || `${each.project_id}/${each.scene_id}` === this.scene);
  },
  pack() {
    this.compact = !this.compact;
    localStorage.setItem("compact-renders", JSON.stringify(this.compact));
  },
  async load() {
    try {
      this.renders = (await api.renders()).map((each) => row(each, this.formats));
      this.loaded = true;
    } catch (error) {
      complain(error);
    }
  },
  hear(message) {
    if (message.type !== "render") return;
    const known = this.renders.findIndex((each) => each.id === message.render.id);
    if (known < 0) this.renders = [row(message.render, this.formats), ...this.renders];
    else this.renders.splice(known, 1, row(message.render, this.formats));
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
  /** Its name is written in place. */
  rename(render, event) {
    const shown = event.currentTarget.closest(".render-row").querySelector(".render-name");
    nameInPlace(shown, "Name of the render", render.title, async (name) => {
      await api.renameRender(render.id, name === render.scene_name ? "" : name).catch(complain);
      await this.load();
    });
  },
  /** Renders of older days have no picture. */
  unseen(event) {
    event.target.remove();
  },
  /** The same choices for the scene as it is now. */
  async anew(render) {
    await api.startRender(render.project_id, render.scene_id, render.settings).catch(complain);
    await this.load();
  },
  /** Asks first: the files go as well. */
  async remove(render) {
    if (!render.asking) {
      render.asking = true;
      render.removeText = "Remove for good";
      setTimeout(() => {
        render.asking = false;
        render.removeText = "Remove";
      }, 4000);
      return;
    }
    await api.removeRender(render.id).catch(complain);
    await this.load();
  },
}));

Alpine.start();
