// Phrases: lines pasted, or a subtitle file, become a text each.
import { api } from "../api.js";
import { Alpine } from "../common.js";
import { complain, note } from "../notes.js";

// Before the id of a type style, in the list of letters.
const STYLE = "style:";
const TYPED_MS = 250;

export function registerPhrasesSheet(editor) {
  let typing = 0;

  Alpine.data("phrasesSheet", () => ({
    text: "",
    file: "",
    phrases: [],
    timed: false,
    said: "",
    timing: "read",
    timings: [],
    like: "",
    likes: [],
    ready: "",
    fronts: [],
    tied: true,

    get button() {
      const count = this.phrases.length;
      return count === 1 ? "Add a phrase" : `Add ${count} phrases`;
    },
    open(event) {
      this.text = this.file = this.said = "";
      this.phrases = [];
      this.timed = false;
      const chosen = editor.selectedLayers.find((layer) => layer.kind === "text");
      this.like = chosen ? chosen.id : "";
      const texts = editor.layers.filter((layer) => layer.kind === "text");
      const styles = editor.project.type_styles.map(({ id, name }) => ({
        id: STYLE + id,
        label: `In the type style ${name}`,
      }));
      const as = texts.reverse().map(({ id, name }) => ({ id, label: `As ${name}` }));
      this.likes = [{ id: "", label: "Plain letters at the foot" }, ...styles, ...as].map((each) => ({
        ...each,
        chosen: each.id === this.like,
      }));
      this.fronts = [{ id: "", label: "None" }, ...editor.catalog.fronts];
      this.listTimings();
      this.$root.showModal();
      if (event.detail instanceof Blob) this.read(event.detail);
    },
    listTimings() {
      const file = this.timed ? [{ value: "file", label: "As the file says" }] : [];
      const all = [
        ...file,
        { value: "read", label: "As long as they are read" },
        { value: "even", label: "Evenly to the scene's end" },
        { value: "tap", label: "Tapped in while it plays" },
      ];
      if (this.timed) this.timing = "file";
      else if (this.timing === "file") this.timing = "read";
      this.timings = all.map((each) => ({ ...each, chosen: each.value === this.timing }));
    },
    typed() {
      clearTimeout(typing);
      this.file = "";
      typing = setTimeout(() => this.take(new Blob([this.text])), TYPED_MS);
    },
    choose(event) {
      const [file] = event.target.files;
      event.target.value = "";
      if (file) this.read(file);
    },
    async read(file) {
      this.file = file.name || "";
      await this.take(file);
      this.text = this.phrases.map((phrase) => phrase.text.replace(/\n/g, " ")).join("\n");
    },
    async take(blob) {
      this.phrases = [];
      this.said = "";
      if (!blob.size) return;
      try {
        const found = await api.phrases(blob);
        this.phrases = found.phrases;
        this.timed = found.timed;
        this.said = found.notes.join(". ");
      } catch (error) {
        this.timed = false;
        this.said = error.message;
      }
      this.listTimings();
    },
    /** What letters phrases have: those of a type style, of a text, or plain ones. */
    get letters() {
      if (this.like.startsWith(STYLE)) return { style: this.like.slice(STYLE.length) };
      return { like: this.like || null };
    },
    setTiming(event) {
      this.timing = event.target.value;
    },
    setLike(event) {
      this.like = event.target.value;
    },
    setReady(event) {
      this.ready = event.target.value;
    },
    add() {
      if (this.timing !== "tap") return this.put(this.phrases, this.timing);
      const { phrases } = this;
      this.$root.close();
      editor.enter("tap", { phrases, done: (tapped) => this.put(tapped, "file") });
      return null;
    },
    async put(phrases, timing) {
      const edit = {
        kind: "add-phrases",
        scene: editor.sceneId,
        phrases,
        at_s: timing === "file" ? 0 : editor.time,
        timing,
        ...this.letters,
        ready: this.ready || null,
        tied: this.tied,
      };
      const count = phrases.length;
      const done = await editor.edit(edit).catch(complain);
      if (!done) return;
      this.$root.close();
      note(
        `${count === 1 ? "A phrase" : `${count} phrases`} added, from ${editor.layers.at(-count).name} on.`,
      );
    },
    close() {
      this.$root.close();
    },
  }));
}
