// Keys pasted several times, and layers or keys staggered.
import { Alpine } from "../common.js";
import { pasteKeys } from "./actions/key_clipboard.js";

export function registerSpreadPanels(editor) {
  Alpine.data("pastePanel", () => ({
    ready: false,
    unit: "seconds",
    every: "1",
    times: "4",
    music: "",
    get counted() {
      return ["seconds", "frames"].includes(this.unit);
    },
    init() {
      editor.on("beats", () => (this.music = Object.keys(editor.beats)[0] || ""));
      editor.on(
        "selection document keys-copied",
        () => (this.ready = Boolean(localStorage.getItem("key-clipboard"))),
      );
    },
    paste() {
      const every = { unit: this.unit, count: this.counted ? Number(this.every.replace(",", ".")) : 1 };
      if (["beats", "strong"].includes(this.unit)) every.layer = this.music;
      pasteKeys(editor, { every, times: Math.max(1, Math.round(Number(this.times)) || 1) });
    },
  }));

  Alpine.data("staggerPanel", () => ({
    count: 0,
    frames: "2",
    order: "stack-down",
    what: "layers",
    together: true,
    seed: "1",
    shown: false,
    orders: [
      ["stack-down", "From the top of the stack"],
      ["stack-up", "From the bottom of the stack"],
      ["from-middle", "From the middle of the stack"],
      ["left-to-right", "Left to right"],
      ["right-to-left", "Right to left"],
      ["top-to-bottom", "Top to bottom"],
      ["bottom-to-top", "Bottom to top"],
      ["outwards", "Outwards"],
      ["inwards", "Inwards"],
      ["chosen", "As they were chosen"],
      ["by-start", "As they start"],
      ["shuffled", "Shuffled"],
    ].map(([id, label]) => ({ id, label })),
    init() {
      editor.on("selection document", () => {
        this.count = editor.selected.size;
        if (this.shown && !editor.isPreviewing) this.shown = false;
      });
    },
    edit() {
      return {
        kind: "stagger",
        scene: editor.sceneId,
        layers: [...editor.selected],
        order: this.order,
        what: this.what,
        together: this.together,
        frames: Number(this.frames.replace(",", ".")) || 0,
        seed: Math.max(0, Math.round(Number(this.seed)) || 0),
        time_s: editor.time,
      };
    },
    preview() {
      this.shown = true;
      editor.preview([this.edit()], { times: true });
    },
    apply() {
      this.shown = false;
      editor.commit(this.edit());
    },
    cancel() {
      this.shown = false;
      editor.withdraw();
      editor.tell("document");
    },
  }));
}
