// The editor's state: the document, the selection, the playhead, and the way to change them.
// It asks the server for everything that is computed; panels listen to its events:
// "document", "view", "lanes", "arrangements", "selection", "time", "saved", "mode", "frames", "lost".
import { Live, api } from "../api.js";
import { tellUnsound } from "../common.js";
import { newId, remembered } from "../formats.js";
import { complain, note, sentence } from "../notes.js";
import { missingFiles } from "../missing.js";
import { Arranging } from "./arranging.js";
import { noteBeyond, timedBy } from "./beyond_note.js";
import { Declarations } from "./declarations.js";
import { comeBack } from "./coming_back.js";
import { applyPatch } from "./patch.js";
import { SceneReader } from "./scene_reader.js";
import { Seeing } from "./seeing.js";

const MAX_ASKED = 2;
// After so long without a new preview the hand rests.
const REST_MS = 140;

export class Editor extends SceneReader {
  constructor(projectId, sceneId, opensAt = 0) {
    super();
    this.projectId = projectId;
    this.sceneId = sceneId;
    this.project = null;
    this.revision = 0;
    this.undoLabel = null;
    this.redoLabel = null;
    this.frame = opensAt; // where the scene shows itself best, until one has been elsewhere
    this.selected = new Set();
    this.keys = new Map();
    this.openLayers = new Set();
    this.tall = new Map(); // "LAYER|PROPERTY" -> height of the lane in px
    this.ripple = false;
    this.slip = false;
    this.onion = null;
    this.view = {};
    this.lanes = [];
    this.paths = {};
    this.shapes = {}; // layer id -> editable paths
    this.curves = new Map();
    this.typedPaths = new Set(); // paths whose SVG data is shown as text, as property ids
    this.bare = false;
    // Whether what is tied keeps its distance, in place of going there.
    this.keepsDistance = false;
    // Whether a layer is hidden when it is chosen as a matte.
    this.hidesMattes = true;
    this.before = "";
    this.writing = ""; // the text whose letters' places come with the view, as an id
    this.seeing = new Seeing(this);
    this.arranging = new Arranging(this);
    this.drafts = [];
    this.previewsTimes = false; // whether a draft changes what the timeline shows
    this.modes = null; // what the pointer and the keys do on the stage
    this.wayLength_s = null; // how long a drawn path takes, as typed
    this.height = remembered("preview-height", 540);
    this.snapping = true;
    this.linked = true;
    this.saving = 0;
    this.lost = false;
    this.stageId = 0;
    this.shownId = 0;
    this.asked = [];
    this.drafted = new Set(); // those of them that show drafts
    this.dirty = false;
    this.queue = Promise.resolve();
  }

  on(names, listener) {
    const hear = (event) => listener(event.detail);
    for (const name of names.split(" ")) this.addEventListener(name, hear);
    return () => names.split(" ").forEach((name) => this.removeEventListener(name, hear));
  }

  tell(name, detail) {
    this.dispatchEvent(new CustomEvent(name, { detail }));
  }

  async start() {
    [this.catalog] = await Promise.all([api.catalog(), this.reload()]);
    this.moves = Object.fromEntries(this.catalog.moves.map((kind) => [kind.id, kind]));
    this.effects = Object.fromEntries(this.catalog.effects.map((kind) => [kind.id, kind]));
    this.transitions = Object.fromEntries(this.catalog.transitions.map((kind) => [kind.id, kind]));
    this.kinds = Object.fromEntries(this.catalog.layer_kinds.map((kind) => [kind.id, kind]));
    this.declared = new Declarations(this.catalog);
    this.live = new Live(`/live/${this.projectId}/${this.sceneId}`, {
      onMessage: (header, blob) => this.hear(header, blob),
      onOpen: () => this.found(),
      onLost: () => this.miss(),
    });
    comeBack(this);
    this.tell("document");
    this.tell("selection");
  }

  async reload() {
    const state = await api.project(this.projectId);
    this.project = state.project;
    this.revision = state.revision;
    this.undoLabel = state.undo_label;
    this.redoLabel = state.redo_label;
    tellUnsound(this.projectId, state);
    this.lookForFiles();
    if (!this.scene) location.href = `/projects/${this.projectId}`;
  }

  // What the pointer and the keys do

  /** The mode of the stage that lasts; visits come on top of it (see modes/). */
  get mode() {
    return this.modes.mode;
  }

  /** Enters a mode by name, for what its options say. */
  enter(id, options) {
    return this.modes.enter(id, options);
  }

  // Time

  goTo(frame, { quiet = false } = {}) {
    const next = Math.min(this.frameCount - 1, Math.max(0, Math.round(frame)));
    if (next === this.frame && !quiet) return;
    this.frame = next;
    this.tell("time");
    if (!quiet) this.requestStage();
  }

  // Selection

  select(ids, { add = false, toggle = false } = {}) {
    if (ids.length && this.modes.current.takes(ids[0])) return;
    const next = new Set(add || toggle ? this.selected : []);
    for (const id of ids) {
      if (toggle && next.has(id)) next.delete(id);
      else next.add(id);
    }
    this.selected = next;
    this.modes.look();
    if (!add && !toggle) this.keys.clear();
    this.tell("selection");
    this.requestStage();
  }

  selectAll() {
    this.select(this.layers.filter((layer) => !layer.locked).map((layer) => layer.id));
  }

  selectKeys(entries, { add = false, toggle = false } = {}) {
    if (!add && !toggle) this.keys.clear();
    for (const entry of entries) {
      const name = `${entry.layer}|${entry.property}|${entry.key}`;
      if (toggle && this.keys.has(name)) this.keys.delete(name);
      else this.keys.set(name, entry);
    }
    const layers = new Set([...this.keys.values()].map((entry) => entry.layer));
    if (layers.size) this.selected = layers;
    this.tell("selection");
    this.requestStage();
  }

  clean() {
    const layers = new Set(this.layers.map((layer) => layer.id));
    this.selected = new Set([...this.selected].filter((id) => layers.has(id)));
    for (const name of this.tall.keys()) if (!layers.has(name.split("|")[0])) this.tall.delete(name);
    for (const [name, entry] of this.keys) {
      const keys = this.layer(entry.layer)?.properties[entry.property]?.keys || [];
      if (!keys.some((key) => key.id === entry.key)) this.keys.delete(name);
    }
  }

  /** Values of a tone curve, from the server; drawn again when they are there. */
  toneCurve(points) {
    const name = JSON.stringify(points);
    if (!this.curves.has(name)) {
      this.curves.set(name, this.lastCurve || [0, 1]);
      api.toneCurve(points).then(({ values }) => {
        this.curves.set(name, values);
        this.lastCurve = values;
        this.tell("view");
      }, complain);
    }
    return this.curves.get(name);
  }

  setHeight(height) {
    this.height = height;
    localStorage.setItem("preview-height", JSON.stringify(height));
    this.tell("frames");
    this.requestStage();
  }

  // Edits: one after another, each on the revision it was made on

  /** Saves an edit; resolves to true when it is in effect. */
  edit(edit) {
    this.saving += 1;
    this.tell("saved");
    const meant = this.arranging.wrap(edit);
    this.queue = this.queue.then(() => this.send(() => api.edit(this.projectId, meant, this.revision)));
    const ids = timedBy(edit);
    if (ids.length) this.queue.then((done) => done && noteBeyond(this, new Set(ids)));
    return this.queue;
  }

  /** What a typed text means, asked from the server; counts as unsaved work meanwhile. */
  async meaning(asked) {
    return (await this.working(asked)).value;
  }

  /** Waits for something that an edit will follow; counts as unsaved work meanwhile. */
  async working(asked) {
    this.saving += 1;
    this.tell("saved");
    try {
      return await asked;
    } finally {
      // The edit that follows is counted before this is.
      setTimeout(() => {
        this.saving -= 1;
        this.tell("saved");
      });
    }
  }

  undo() {
    return this.step(() => api.undo(this.projectId));
  }

  redo() {
    return this.step(() => api.redo(this.projectId));
  }

  step(ask) {
    this.saving += 1;
    this.queue = this.queue.then(() => this.send(ask));
    return this.queue;
  }

  async send(ask) {
    try {
      await this.changed(await ask());
      return true;
    } catch (error) {
      this.drafts = [];
      if (error.status === 409) await this.refresh();
      note(sentence(error.message), { bad: true });
      this.tell("document");
      this.requestStage();
      return false;
    } finally {
      this.saving -= 1;
      this.tell("saved");
    }
  }

  /** Takes in a change told by the server, whoever made it. */
  async changed(message) {
    if (message.revision <= this.revision) return;
    if (message.revision > this.revision + 1) {
      await this.refresh();
      return;
    }
    applyPatch(this.project, message.patch);
    this.revision = message.revision;
    this.undoLabel = message.undo_label;
    this.redoLabel = message.redo_label;
    // Marks and names show in no picture: what is kept for playing stays (tapping along).
    this.afterChange(message.patch.some((step) => !/^\/scenes\/\d+\/marks|\/name$/.test(step.path)));
  }

  async refresh() {
    await this.reload();
    this.afterChange();
  }

  afterChange(pictures = true) {
    if (!this.scene) return;
    this.clean();
    this.frame = Math.min(this.frame, this.frameCount - 1);
    this.tell("document");
    if (pictures) this.tell("frames");
    this.requestStage();
  }

  set(targets) {
    return { kind: "set-values", scene: this.sceneId, targets, time_s: this.time };
  }

  /** Sets a text; `fits` keeps it within the frame. */
  textEdit(layers, text, fits = false) {
    if (layers.length > 1) {
      return this.set(layers.map((layer) => ({ layer: layer.id, property: "text", value: text })));
    }
    const [{ id: layer }] = layers;
    return { kind: "write-text", scene: this.sceneId, layer, text, time_s: this.time, fits };
  }

  // Stage frames: two may be on their way, the newest wish follows them. The server drops
  // requests that a newer one has overtaken, so an answer settles all before it.

  get inFlight() {
    return this.asked.length;
  }

  // Previews: edits that are shown and not saved. Nobody else writes drafts.

  /** Shows edits without saving them; `times`: in the timeline too. */
  preview(edits, { times = false } = {}) {
    this.drafts = edits;
    this.previewsTimes = times && edits.length > 0;
    clearTimeout(this.resting);
    this.resting = edits.length ? setTimeout(() => this.rest(), REST_MS) : 0;
    this.requestStage();
  }

  /** The hand rests: what was shown coarse while it moved is drawn in full. */
  rest() {
    this.resting = 0;
    if (this.coarse && this.isPreviewing) this.requestStage();
  }

  /** Goes back to what is saved. */
  withdraw() {
    this.preview([]);
  }

  /** Ends a preview with the edit that it becomes, whose answer brings the next picture; without one it
   *  only ends. */
  commit(edit = null) {
    this.drafts = [];
    this.previewsTimes = false;
    return edit ? this.edit(edit) : Promise.resolve(true);
  }

  get isPreviewing() {
    return this.drafts.length > 0;
  }

  requestStage() {
    if (!this.live?.open || !this.scene) return;
    if (this.asked.length >= MAX_ASKED) {
      this.dirty = true;
      return;
    }
    this.dirty = false;
    this.asked.push(++this.stageId);
    if (this.drafts.length) this.drafted.add(this.stageId);
    this.live.send({
      type: "stage",
      id: this.stageId,
      time_s: this.time,
      height: this.height,
      drafts: this.drafts.map((each) => this.arranging.wrap(each)),
      lanes: [...this.openLayers],
      tall: [...this.tall.keys()],
      onion: this.onion,
      bare: this.bare,
      before: this.before,
      writing: this.writing,
      moving: Boolean(this.resting) && this.isPreviewing,
      selected: [...this.selected],
      ...this.seeing.asked(),
    });
  }

  hear(header, blob) {
    if (header.type === "stage") this.showStage(header, blob);
    else if (header.type === "frame" || header.type === "filled") this.tell("frame", { header, blob });
    else if (header.type === "edited") this.changed(header).catch(complain);
    else if (header.type === "render") this.tell("render", header.render);
    else if (header.type === "compare") this.tell("compared", { header, picture: blob });
    else if (header.type === "match") this.tell("match", header);
    else if (header.type === "asset-found") {
      this.lookForFiles();
      this.tell("frames", { anew: true });
      this.requestStage();
    } else if (header.type === "error") {
      if (header.id) this.landed(header.id);
      // What a draft asked for may be done already: only what is saved can be wrong.
      if (!this.drafts.length && !this.drafted.has(header.id)) note(sentence(header.message), { bad: true });
    }
  }

  /** Which assets have no file (any more). */
  lookForFiles() {
    missingFiles(this.projectId).then((missing) => this.tell("missing", missing), complain);
  }

  landed(id) {
    this.asked = this.asked.filter((each) => each > id);
    for (const each of this.drafted) if (each < id) this.drafted.delete(each);
    if (this.dirty) this.requestStage();
  }

  showStage(header, blob) {
    this.landed(header.id);
    if (header.id < this.shownId) return;
    this.shownId = header.id;
    this.view = header.layers;
    this.letters = header.letters;
    this.arranging.hear(header.arrangements);
    this.tell("faults", header.faults || []);
    if (header.lanes && (header.lanes.length || this.lanes.length)) {
      this.lanes = header.lanes
        .map((lane) => (lane.same ? this.lane(lane.layer, lane.property) : lane))
        .filter(Boolean);
      this.tell("lanes");
    }
    if (header.paths) this.paths = header.paths;
    this.shapes = header.shapes;
    this.coarse = header.coarse;
    if (this.coarse && !this.resting && this.isPreviewing) this.requestStage();
    this.tell("picture", { header, blob });
    this.tell("view");
  }

  lane(layer, property) {
    return this.lanes.find((each) => each.layer === layer && each.property === property);
  }

  /** The working range as frames: the first, and the one after the last. */
  get range() {
    const [start, end] = this.scene.range_s || [0, this.scene.length_s];
    return [Math.max(0, this.frameAt(start)), Math.min(this.frameCount, Math.max(1, this.frameAt(end)))];
  }

  found() {
    const again = this.lost;
    this.lost = false;
    this.asked = [];
    this.tell("saved");
    if (again) this.refresh().catch(complain);
    this.tell("frames", { anew: true });
    this.requestStage();
  }

  miss() {
    this.lost = true;
    this.asked = [];
    this.tell("saved");
  }

  // Adding layers

  newLayer(kind, name, properties, times = {}) {
    const wrapped = Object.fromEntries(Object.entries(properties).map(([id, value]) => [id, { value }]));
    const start_s = times.start_s ?? (this.kinds[kind].placed ? this.newStart : 0);
    const end_s = times.end_s ?? this.scene.length_s;
    return { id: newId(), name: this.freeName(name), kind, start_s, end_s, properties: wrapped };
  }

  /** Where new layers begin, and their place in the stack: above what is selected. */
  get newStart() {
    return this.project.settings.new_layers === "start" ? 0 : this.time;
  }

  get newIndex() {
    const at = this.layers.findLastIndex((layer) => this.selected.has(layer.id));
    return at < 0 ? null : at + 1;
  }

  freeName(name) {
    const taken = new Set(this.layers.map((layer) => layer.name));
    if (!taken.has(name)) return name;
    let number = 2;
    while (taken.has(`${name} ${number}`)) number += 1;
    return `${name} ${number}`;
  }

  async addLayer(layer, index = this.newIndex) {
    const done = await this.edit({ kind: "add-layers", scene: this.sceneId, layers: [layer], index });
    if (done) this.select([layer.id]);
    return done;
  }

  addText(point) {
    const place = point ? { position: point, "text.align": "left" } : {};
    const size = Math.round(Math.min(this.scene.width, this.scene.height) / 9);
    return this.newLayer("text", "Text", { text: "Text", "text.size": size, ...place });
  }
}
