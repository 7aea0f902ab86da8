// The Assets and Inks tabs, and the column that holds the tabs.
import { Alpine } from "../common.js";
import { fps, megabytes, newId, trim } from "../formats.js";
import { complain, note } from "../notes.js";
import { api } from "../api.js";
import { finder } from "../missing.js";
import { addInk, inkFromStage } from "./actions/inks.js";
import { gradeWith, placeAsset } from "./actions/files.js";
import { beginAssetDrag } from "./asset_drags.js";
import { openPicker } from "./picker.js";

/** What is known of a sound. */
function soundFacts(asset) {
  const channels = { 1: "mono", 2: "stereo" }[asset.channels] || `${asset.channels} channels`;
  return [`${trim(asset.duration_s, 2)} s`, channels, `${trim(asset.sample_rate / 1000, 1)} kHz`];
}

/** What is known of an asset's file. */
function factsOf(asset) {
  if (asset.kind === "font") return asset.family;
  const bytes = megabytes(asset.size_bytes);
  if (asset.kind === "table") return `A colour table: choose it in the effect Look-up table. ${bytes}`;
  if (asset.kind === "sound") return [...soundFacts(asset), bytes].join(", ");
  const facts = [`${asset.width} \u00d7 ${asset.height} px`];
  if (asset.kind === "clip") {
    const rate = asset.rate ? ` at ${fps(asset.rate)} fps` : "";
    facts.push(`${trim(asset.duration_s, 2)} s${rate}`);
    if (asset.alpha) facts.push("with alpha");
    if (asset.channels) facts.push("with sound");
  }
  return [...facts, bytes].join(", ");
}

export function registerSidePanels(editor, chooseFiles) {
  Alpine.data("column", () => ({
    active: "selection",
    from: "", // the tab that chosen keys have taken the place of: gone back to without them
    tabs: [
      { id: "selection", label: "Selection" },
      { id: "looks", label: "Looks" },
      { id: "moves", label: "Moves" },
      { id: "timing", label: "Timing" },
      { id: "assets", label: "Assets" },
      { id: "inks", label: "Inks" },
    ],
    init() {
      editor.on("show-tab", (name) => this.turnTo(name));
      let hadKeys = false;
      editor.on("selection", () => {
        const keys = editor.keys.size > 0;
        if (keys && !hadKeys && this.active !== "timing") {
          const from = this.active;
          this.turnTo("timing");
          this.from = from;
        } else if (!keys && hadKeys && this.from && this.active === "timing") this.turnTo(this.from);
        hadKeys = keys;
      });
    },
    isTab(tab) {
      return this.active === tab.id;
    },
    show(tab) {
      this.turnTo(tab.id);
    },
    turnTo(name) {
      this.active = name;
      this.from = "";
      editor.shownTab = name;
      editor.tell("tab");
      this.$root.querySelector(".column-body").scrollTop = 0;
    },
  }));

  Alpine.data("assetsPanel", () => ({
    assets: [],
    missing: [],
    busy: false,
    init() {
      editor.on("missing", (missing) => (this.missing = missing));
      editor.on("document", () => this.update());
      editor.on("uploading", (busy) => (this.busy = busy));
      if (editor.project) this.update();
    },
    update() {
      this.assets = editor.project.assets.map((asset) => ({
        ...asset,
        canShape: asset.kind === "svg",
        thumbnail: ["font", "table", "sound"].includes(asset.kind) ? "" : api.thumbnailUrl(asset.hash),
        sample: { table: "colour table", sound: "sound" }[asset.kind] || asset.family,
        facts: factsOf(asset),
        length: ["clip", "sound"].includes(asset.kind) ? `${trim(asset.duration_s, 1)} s` : "",
        placeTitle:
          asset.kind === "table"
            ? "Put it on the selected layers as an effect"
            : asset.kind === "font"
              ? `${asset.family}: choose it as the typeface of a text`
              : asset.kind === "sound"
                ? `Let ${asset.name} be heard from the playhead on`
                : `Place ${asset.name} (${asset.width} × ${asset.height} px)`,
      }));
    },
    choose() {
      chooseFiles({ place: false });
    },
    ...finder(
      () => editor.projectId,
      () => editor.lookForFiles(),
    ),
    chosen: "", // the asset that was clicked
    isChosen(asset) {
      return this.chosen === asset.id ? "chosen" : "";
    },
    chooseAsset(asset) {
      this.chosen = asset.id;
    },
    dragAsset(asset, event) {
      beginAssetDrag(event, asset);
    },
    place(asset) {
      if (asset.kind === "table") gradeWith(editor, asset);
      else placeAsset(editor, asset);
    },
    rename(asset, event) {
      const name = event.target.value.trim();
      if (name && name !== asset.name) editor.edit({ kind: "rename-asset", asset: asset.id, name });
      else event.target.value = asset.name;
    },
    /** The name of an asset, all of it ready to be typed over. */
    openName(event) {
      event.currentTarget.closest(".asset").querySelector("input.name").select();
    },
    remove(asset) {
      editor.edit({ kind: "remove-asset", asset: asset.id });
    },
    /** A vector picture as a shape layer with editable paths; what is lost is told. */
    async shape(asset) {
      try {
        const { parts, properties, notes } = await editor.working(api.shapes(editor.projectId, asset.id));
        if (!parts.length) {
          note(`${asset.name}: ${notes.join("; ")}.`, { bad: true });
          return;
        }
        const layer = editor.newLayer("shape", asset.name.replace(/\.svg$/i, ""), {
          "shape.kind": "drawing",
        });
        Object.assign(layer, { parts, properties: { ...layer.properties, ...properties } });
        await editor.addLayer(layer);
        const lost = notes.length ? ` Not kept: ${notes.join("; ")}.` : "";
        note(`${parts.length} paths.${lost}`, { seconds: lost ? 12 : 4 });
      } catch (error) {
        complain(error);
      }
    },
    async gather(asset) {
      try {
        const colours = await api.palette(editor.projectId, asset.id);
        if (!colours.length) {
          note("No colours were found in it.");
          return;
        }
        editor.tell("inks-found", { stem: asset.name.replace(/\.[a-z0-9]+$/i, ""), colours });
        editor.tell("show-tab", "inks");
      } catch (error) {
        complain(error);
      }
    },
  }));

  Alpine.data("inksPanel", () => ({
    inks: [],
    found: [],
    stem: "",
    init() {
      editor.on("document", () => this.update());
      editor.on("inks-found", ({ stem, colours }) => {
        this.stem = stem;
        this.found = colours.map(({ colour, ink }) => {
          const known = editor.project.inks.find((each) => each.id === ink);
          return {
            colour,
            known: known?.name || "",
            on: !known,
            style: { background: colour },
            label: known ? `${colour}: nearly ${known.name}` : colour,
          };
        });
      });
      if (editor.project) this.update();
    },
    update() {
      this.inks = editor.project.inks.map((ink) => ({
        ...ink,
        style: { background: ink.colour },
        colourLabel: `Colour of ${ink.name}`,
      }));
    },
    add() {
      this.make("#ff7a45");
    },
    toggleFound(each) {
      each.on = !each.on;
    },
    get chosenCount() {
      return this.found.filter((each) => each.on).length;
    },
    get keepText() {
      if (!this.chosenCount) return "Tick what shall be an ink";
      return this.chosenCount === 1 ? "Add 1 ink" : `Add ${this.chosenCount} inks`;
    },
    async keepFound() {
      const chosen = this.found.filter((each) => each.on);
      const inks = chosen.map(({ colour }, index) => ({
        id: newId(),
        name: chosen.length > 1 ? `${this.stem} ${index + 1}` : this.stem,
        colour,
      }));
      if (await editor.edit({ kind: "add-inks", inks })) this.found = [];
    },
    dropFound() {
      this.found = [];
    },
    make(colour) {
      return addInk(editor, colour);
    },
    drop() {
      inkFromStage(editor);
    },
    rename(ink, event) {
      const name = event.target.value.trim();
      if (name && name !== ink.name) editor.edit({ kind: "change-ink", ink: ink.id, name });
      else this.update();
    },
    recolour(ink, event) {
      const then = (colour, done) => {
        const edit = { kind: "change-ink", ink: ink.id, colour: colour.slice(0, 7) };
        if (done) {
          editor.commit(edit);
        } else editor.preview([edit]);
      };
      openPicker(event.currentTarget, ink.colour, then, { inks: false, alpha: false });
    },
    remove(ink) {
      editor.edit({ kind: "remove-ink", ink: ink.id });
    },
  }));
}
