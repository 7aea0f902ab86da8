// The project page: scenes as cards with filmstrips, assets, inks.
import { Alpine, nameInPlace, tellUnsound } from "../common.js";
import { fps, newId, seconds } from "../formats.js";
import { complain, note, sentence } from "../notes.js";
import { api } from "../api.js";
import { finder, missingFiles } from "../missing.js";
import { tagFilter } from "../tags.js";
import { StripPlay } from "../strip_play.js";
import "../frame_sheet.js";

const STRIP = 16;

Alpine.data("projectPage", () => ({
  id: "",
  name: "",
  revision: 0,
  loaded: false,
  here: null, // kept when the project has come
  scenes: [],
  pictures: [],
  inks: [],
  missing: [],
  query: "",
  dragged: null,
  undoLabel: null,
  redoLabel: null,

  get undoTitle() {
    return this.undoLabel ? `Undo: ${this.undoLabel}` : "Nothing to undo";
  },
  get redoTitle() {
    return this.redoLabel ? `Redo: ${this.redoLabel}` : "Nothing to redo";
  },
  get exportUrl() {
    return api.exportUrl(this.id);
  },
  async init() {
    this.id = this.$root.dataset.project;
    this.here = this.load();
    await this.here;
    const arrived = sessionStorage.getItem("arrived");
    sessionStorage.removeItem("arrived");
    if (arrived) note(arrived, { seconds: arrived.length > 60 ? 15 : 5 });
    window.addEventListener("pageshow", (event) => event.persisted && this.load());
  },
  async load() {
    try {
      this.show(await api.project(this.id));
    } catch (error) {
      complain(error);
    }
  },
  show(state) {
    const { project } = state;
    this.name = project.name;
    this.revision = state.revision;
    this.undoLabel = state.undo_label;
    this.redoLabel = state.redo_label;
    this.scenes = project.scenes.map((scene, place, all) => this.card(scene, place, all.length));
    this.inks = project.inks;
    tellUnsound(this.id, state);
    missingFiles(this.id).then((missing) => (this.missing = missing), complain);
    this.pictures = project.assets
      .filter((asset) => asset.width > 0) // sounds, typefaces and colour tables have no size
      .map((asset) => ({
        ...asset,
        thumbnail: api.thumbnailUrl(asset.hash),
        hint: `New scene of ${asset.width} × ${asset.height} px`,
      }));
    this.loaded = true;
  },
  ...finder(
    (page) => page.id,
    (page) => page.load(),
  ),
  card(scene, place, count) {
    // As many pictures as fit beside each other in a card of 354 by 52 px.
    const pictures = Math.min(16, Math.max(1, Math.round((354 / 52) * (scene.height / scene.width))));
    return {
      ...scene,
      tags: scene.tags ?? [],
      menu: false,
      menuLabel: `More about ${scene.name}`,
      isFirst: place === 0,
      isLast: place === count - 1,
      url: `/projects/${this.id}/scenes/${scene.id}`,
      facts: `${scene.width} × ${scene.height} · ${fps(scene.rate)} fps · ${seconds(scene.length_s)}`,
      thumbnail: api.frameUrl(this.id, scene.id, null, 240, this.revision),
      strip: api.stripUrl(this.id, scene.id, pictures, 104, this.revision),
      play: new StripPlay(api.stripUrl(this.id, scene.id, STRIP, 180, this.revision), STRIP),
      dropClass: "",
    };
  },
  async run(edit) {
    if (!edit) return;
    await api.edit(this.id, edit, this.revision);
    await this.load();
  },
  // Cards play under the pointer, are found by their names, and are dragged into their order.
  get listed() {
    return this.matching(this.query.trim().toLowerCase());
  },
  get tags() {
    return this.countTags();
  },
  ...tagFilter((page) => page.scenes),
  hover(scene, link) {
    scene.play.start(link);
  },
  leave(scene, link) {
    scene.play.stop(link);
  },
  cardKey(scene, event) {
    if (event.key === "F2") this.rename(scene, event);
  },
  rename(scene, event) {
    scene.menu = false;
    const shown = event.target.closest(".card-tile").querySelector(".who .name");
    nameInPlace(shown, "Name of the scene", scene.name, (name) =>
      this.run({ kind: "change-scene", scene: scene.id, name }).catch(complain),
    );
  },
  tagIt(scene) {
    scene.menu = false;
    this.$dispatch("open-tags", {
      name: scene.name,
      tags: scene.tags,
      known: this.tags.map((each) => each.name),
      save: (tags) => this.run({ kind: "set-tags", scene: scene.id, tags }),
    });
  },
  /** The menu of a card by the second button of the mouse. */
  cardMenu(scene) {
    if (!scene.menu) this.toggleMenu(scene);
  },
  async render(scene) {
    scene.menu = false;
    try {
      await api.startRender(this.id, scene.id, {});
      note(`${scene.name} is being rendered.`, {
        action: "Renders",
        run: () => (location.href = "/renders"),
      });
    } catch (error) {
      complain(error);
    }
  },
  drag(scene, event) {
    this.dragged = scene;
    event.dataTransfer.effectAllowed = "move";
    event.dataTransfer.setData("text/plain", scene.name);
  },
  over(scene, event) {
    if (!this.dragged || this.dragged.id === scene.id) return;
    event.preventDefault();
    scene.dropClass = this.after(event) ? "drop-after" : "drop-before";
  },
  out(scene) {
    scene.dropClass = "";
  },
  after(event) {
    const box = event.currentTarget.getBoundingClientRect();
    return event.clientX > box.left + box.width / 2;
  },
  async drop(scene, event) {
    event.preventDefault();
    scene.dropClass = "";
    const { dragged } = this;
    this.dragged = null;
    if (!dragged || dragged.id === scene.id) return;
    const rest = this.scenes.filter((each) => each.id !== dragged.id);
    await this.order(dragged, rest.findIndex((each) => each.id === scene.id) + (this.after(event) ? 1 : 0));
  },
  async order(scene, index) {
    scene.menu = false;
    await this.run({ kind: "order-scene", scene: scene.id, index }).catch(complain);
  },
  earlier(scene) {
    return this.order(scene, Math.max(0, this.scenes.indexOf(scene) - 1));
  },
  later(scene) {
    return this.order(scene, this.scenes.indexOf(scene) + 1);
  },
  toggleMenu(scene) {
    const open = !scene.menu;
    this.scenes.forEach((each) => (each.menu = false));
    scene.menu = open;
  },
  closeMenu(scene) {
    scene.menu = false;
  },
  async openNew() {
    await this.here; // its scenes number the new one, its revision is what the edit is made on
    this.$dispatch("open-frame", {
      scene: null,
      name: `Scene ${this.scenes.length + 1}`,
      save: (edit) => this.create(edit),
    });
  },
  async create(edit) {
    await api.edit(this.id, edit, this.revision);
    location.href = `/projects/${this.id}/scenes/${edit.scene.id}`;
  },
  openFrame(scene) {
    scene.menu = false;
    this.$dispatch("open-frame", { scene, save: (edit) => this.run(edit) });
  },
  async duplicate(scene) {
    scene.menu = false;
    await this.run({ kind: "duplicate-scene", scene: scene.id, id: newId() }).catch(complain);
  },
  async remove(scene) {
    scene.menu = false;
    try {
      await this.run({ kind: "remove-scene", scene: scene.id });
      note(`${scene.name} is deleted.`, { action: "Undo", seconds: 12, run: () => this.undo() });
    } catch (error) {
      complain(error);
    }
  },
  sceneFrom(asset) {
    const side = (value) => Math.min(8192, Math.max(16, value));
    this.$dispatch("open-frame", {
      scene: null,
      name: asset.name.replace(/\.[a-z0-9]+$/i, ""),
      width: side(asset.width),
      height: side(asset.height),
      save: (edit) => this.createFrom(edit, asset),
    });
  },
  async createFrom(edit, asset) {
    const layer = {
      id: newId(),
      name: asset.name,
      kind: "picture",
      start_s: 0,
      end_s: edit.scene.length_s,
      properties: { "picture.asset": { value: asset.id }, "picture.fit": { value: "fill" } },
    };
    const add = { kind: "add-layers", scene: edit.scene.id, layers: [layer] };
    await api.edit(
      this.id,
      { kind: "together", title: `New scene ${edit.scene.name}`, edits: [edit, add] },
      this.revision,
    );
    location.href = `/projects/${this.id}/scenes/${edit.scene.id}`;
  },
  async undo() {
    await this.step(() => api.undo(this.id));
  },
  async redo() {
    await this.step(() => api.redo(this.id));
  },
  async step(what) {
    try {
      await what();
      await this.load();
    } catch (error) {
      note(sentence(error.message), { bad: true });
    }
  },
}));

Alpine.start();
