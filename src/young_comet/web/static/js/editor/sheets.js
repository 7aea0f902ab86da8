// The sheets and menus of the editor: keyboard, finder, history, context menus.
import { Alpine } from "../common.js";
import { fps, seconds, timecode } from "../formats.js";
import { note, sentence } from "../notes.js";
import { api } from "../api.js";
import { placeScene, placeable, visited } from "./actions/nesting.js";
import { toggleOnion } from "./actions/views.js";
import { GROUPS, POINTER } from "./commands/index.js";
import { layerMenu, menuOf } from "./commands/menus.js";
import { linesOf } from "./thing_menus.js";

export function registerSheets(editor, commands, desk) {
  const { player, stage, overlay, compare } = desk;

  Alpine.data("topBar", () => ({
    project: "",
    scene: "",
    scenes: [],
    via: [],
    scenesOpen: false,
    facts: "",
    undoLabel: null,
    redoLabel: null,
    savedText: "Saved",
    savedClass: "",
    init() {
      editor.on("document saved", () => this.update());
      if (editor.project) this.update();
    },
    update() {
      if (!editor.project || !editor.scene) return;
      const { scene } = editor;
      this.project = editor.project.name;
      this.scene = scene.name;
      this.via = visited()
        .map((id, index, all) => {
          const outer = editor.project.scenes.find((each) => each.id === id);
          const before = all.slice(0, index).join(",");
          return (
            outer && {
              id,
              name: outer.name,
              url: `/projects/${editor.projectId}/scenes/${id}${before ? `?via=${before}` : ""}`,
            }
          );
        })
        .filter(Boolean);
      this.scenes = editor.project.scenes.map(({ id, name }) => ({
        id,
        name,
        url: `/projects/${editor.projectId}/scenes/${id}`,
      }));
      this.facts = `${scene.width} × ${scene.height} · ${fps(scene.rate)} fps · ${seconds(scene.length_s)}`;
      this.undoLabel = editor.undoLabel;
      this.redoLabel = editor.redoLabel;
      this.savedText = editor.lost ? "No server" : editor.saving ? "Saving" : "Saved";
      this.savedClass = editor.lost ? "lost" : editor.saving ? "busy" : "";
      document.title = `${scene.name} · ${editor.project.name} · Young Comet`;
    },
    get undoTitle() {
      return this.undoLabel ? `Undo: ${this.undoLabel} (Ctrl+Z)` : "Nothing to undo";
    },
    get redoTitle() {
      return this.redoLabel ? `Redo: ${this.redoLabel} (Ctrl+Shift+Z)` : "Nothing to redo";
    },
    undo: () => commands.runById("undo"),
    redo: () => commands.runById("redo"),
    toggleScenes() {
      this.scenesOpen = !this.scenesOpen;
    },
    closeScenes() {
      this.scenesOpen = false;
    },
    openFrame() {
      this.scenesOpen = false;
      commands.runById("frame");
    },
    /** The help, at what the open panel is about. */
    openHelp(event) {
      const tab = document.querySelector("#tabs [aria-selected=true]")?.textContent.trim().toLowerCase();
      const part = { timing: "term-key", assets: "start", inks: "term-ink" }[tab] || tab;
      event.currentTarget.href = editor.selected.size ? `/help#${part}` : "/help";
    },
    openHistory: () => commands.runById("history"),
    openFinder: () => commands.runById("finder"),
    openKeys: () => commands.runById("keys"),
    openRender: () => commands.runById("render"),
  }));

  Alpine.data("frameHolder", () => ({
    init() {
      window.addEventListener("change-frame", () =>
        window.dispatchEvent(
          new CustomEvent("open-frame", { detail: { scene: editor.scene, save: (edit) => this.save(edit) } }),
        ),
      );
    },
    async save(edit) {
      if (edit && !(await editor.edit(edit))) throw new Error("The change was not accepted.");
      stage.fit();
    },
  }));

  Alpine.data("transport", () => ({
    onion: false,
    compareOpen: false,
    comparing: false,
    besideText: "Side by side",
    focused: false,
    typed: "",
    frameText: "",
    playing: false,
    loop: true,
    grid: false,
    safe: false,
    paths: true,
    height: String(editor.height),
    speed: String(player.speed),
    zoomText: "Fit",
    rateText: "",
    behind: false,
    init() {
      editor.on("time document", () => this.clock());
      editor.on("playing", () => (this.playing = player.playing));
      editor.on("rate", () => this.showRate());
      editor.on("preview-height", (height) => {
        this.height = String(height);
        this.chooseHeight();
      });
      editor.on("playing", () => (this.speed = String(player.speed)));
      editor.on("playing document", () => this.showRate());
      editor.on(
        "stage-moved",
        () => (this.zoomText = stage.fitted ? "Fit" : `${Math.round(stage.scale * 100)} %`),
      );
      editor.on("onion", () => (this.onion = Boolean(editor.onion)));
      editor.on("compare-changed", () => {
        this.comparing = Boolean(compare.mode);
        this.besideText = compare.beside ? "With a divider" : "Side by side";
      });
      if (editor.project) this.clock();
    },
    chooseSpeed() {
      player.setSpeed(Number(this.speed));
    },
    toggleOnion: () => toggleOnion(editor),
    toggleCompare() {
      this.compareOpen = !this.compareOpen;
    },
    closeCompare() {
      this.compareOpen = false;
    },
    compareMoment() {
      this.compareOpen = false;
      compare.set("moment");
    },
    compareEdit() {
      this.compareOpen = false;
      compare.set("before-edit");
    },
    compareBeside() {
      this.compareOpen = false;
      compare.setBeside(!compare.beside);
    },
    compareOff() {
      this.compareOpen = false;
      compare.set("");
    },
    get playTitle() {
      return this.playing ? "Pause (Space)" : "Play (Space)";
    },
    clock() {
      if (!editor.project || !editor.scene) return;
      this.frameText = `frame ${editor.frame}`;
      if (!this.focused) this.typed = timecode(editor.frame, editor.rate);
    },
    showRate() {
      if (!editor.project || !editor.scene) return;
      const wanted = (editor.rate.num / editor.rate.den) * Math.min(1, player.speed);
      this.behind = player.playing && player.rate > 0 && player.rate < wanted * 0.95;
      this.rateText =
        player.playing && player.rate ? `${player.rate.toFixed(1)} fps` : `${fps(editor.rate)} fps`;
    },
    focusTime(event) {
      this.focused = true;
      event.target.select();
    },
    leaveTime() {
      this.focused = false;
      this.clock();
    },
    async commitTime(event) {
      try {
        const value = await editor.meaning(api.parseTime(this.typed, editor.rate, editor.time));
        this.focused = false;
        const wanted = editor.frameAt(value);
        // Whoever types a time goes there: a preview that plays does not take them back afterwards.
        if (player.playing) player.pause();
        editor.goTo(wanted);
        if (wanted > editor.frame) {
          note(
            wanted === editor.frame + 1
              ? "The scene ends there: this is its last frame"
              : "This is the scene's last frame",
          );
        }
        event.target.blur();
      } catch (error) {
        note(sentence(error.message), { bad: true });
      }
    },
    toStart: () => editor.goTo(0),
    stepBack: () => editor.goTo(editor.frame - 1),
    stepOn: () => editor.goTo(editor.frame + 1),
    togglePlay: () => player.toggle(),
    toggleLoop() {
      this.loop = player.loop = !player.loop;
    },
    toggleGrid() {
      this.grid = overlay.grid = !overlay.grid;
      overlay.draw();
    },
    toggleSafe() {
      this.safe = overlay.safe = !overlay.safe;
      overlay.draw();
    },
    togglePaths() {
      this.paths = overlay.showPaths = !overlay.showPaths;
      overlay.draw();
    },
    chooseHeight() {
      editor.setHeight(Number(this.height));
    },
    fit: () => stage.fit(),
  }));

  Alpine.data("addMenu", () => ({
    open: false,
    items: [],
    toggle() {
      this.open = !this.open;
      const scenes = placeable(editor).map((scene) => ({
        id: `scene-${scene.id}`,
        label: `Scene: ${scene.name}`,
        run: () => placeScene(editor, scene),
      }));
      const plain = commands.all
        .filter((command) => command.group === "add")
        .map((command) => ({ ...command, label: command.name }));
      this.items = [...plain, ...scenes];
    },
    close() {
      this.open = false;
    },
    add(item) {
      this.open = false;
      item.run();
    },
  }));

  Alpine.data("keysSheet", () => ({
    wanted: "",
    open() {
      this.wanted = "";
      this.$root.showModal();
    },
    close() {
      this.$root.close();
    },
    /** Sections of keys that hold what is searched. */
    get sections() {
      const wanted = this.wanted.toLowerCase();
      const fits = (entry) => entry.keys && `${entry.label} ${entry.keys}`.toLowerCase().includes(wanted);
      const all = [...GROUPS, { id: "pointer", label: "With the pointer", commands: POINTER }];
      const found = all.map((group) => ({ ...group, entries: group.commands.filter(fits) }));
      return found.filter((group) => group.entries.length);
    },
    get nothing() {
      return !this.sections.length;
    },
  }));

  const placed = ({ x, y }, height) => ({
    left: `${Math.max(4, Math.min(x, window.innerWidth - 236))}px`,
    top: `${Math.max(4, Math.min(y, window.innerHeight - height))}px`,
    right: "auto",
  });

  const menu = (lines) => () => ({
    shown: false,
    coming: 0,
    items: [],
    place: {},
    at: { x: 0, y: 0 },
    init() {
      // How high it is is known whenever it has been laid out: shown, or with other lines.
      const lay = () => {
        const { offsetHeight } = this.$root;
        if (offsetHeight) this.place = placed(this.at, offsetHeight + 6);
      };
      new ResizeObserver(lay).observe(this.$root);
    },
    open(event) {
      this.items = lines(event.detail).map((item) => ({ keys: "", why: "", ruled: false, ...item }));
      this.at = event.detail;
      this.place = placed(this.at, this.$root.offsetHeight + 6);
      // Shown once the click that opens it is over; a key that is quicker still takes it back.
      this.coming = setTimeout(() => (this.shown = true));
    },
    close() {
      clearTimeout(this.coming);
      this.shown = false;
    },
    run(item) {
      this.shown = false;
      item.run();
    },
  });

  Alpine.data(
    "propertyMenu",
    menu((detail) => detail.items),
  );
  Alpine.data(
    "layerMenu",
    menu(() => linesOf(commands, pointsOr(editor))),
  );
}

/** In a path whose points are chosen the menu is theirs, else that of the selected layers. */
function pointsOr(editor) {
  return editor.mode.property && editor.mode.points.size ? menuOf("points") : layerMenu(editor);
}
