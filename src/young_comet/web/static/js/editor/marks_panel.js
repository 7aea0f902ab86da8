// Marks of the scene and the working range.
import { Alpine } from "../common.js";
import { api } from "../api.js";
import { timecode, trim } from "../formats.js";
import { note, sentence } from "../notes.js";
import { describe, tieTo } from "./actions/tying.js";

export function registerMarksPanel(editor) {
  Alpine.data("marksPanel", () => ({
    marks: [],
    from: "",
    to: "",
    ranged: false,
    open: [], // marks whose notes are shown
    init() {
      editor.on("document", () => this.update());
      if (editor.project) this.update();
    },
    update() {
      if (!editor.scene) return;
      const { scene } = editor;
      this.marks = scene.marks.map((mark) => ({
        ...mark,
        time: timecode(editor.frameAt(mark.time_s), editor.rate),
        nameLabel: `Name of ${mark.name}`,
        goLabel: `Go to ${mark.name}`,
        noteLabel: `Note at ${mark.name}`,
        noteTitle: mark.note || "Write a note",
        noted: mark.note ? "noted" : "",
        shown: this.open.includes(mark.id),
        tieClass: mark.tie ? "tied" : "",
        tieTitle: mark.tie
          ? `Tied: ${describe(editor, mark.tie)}. Click to cut the tie`
          : `Tie ${mark.name} to...: then click a moment in the timeline`,
      }));
      const [start, end] = scene.range_s || [0, scene.length_s];
      this.ranged = Boolean(scene.range_s);
      this.from = `${trim(start, 3)}s`;
      this.to = `${trim(end, 3)}s`;
    },
    add() {
      editor.edit({ kind: "add-mark", scene: editor.sceneId, time_s: editor.time });
    },
    go(mark) {
      if (editor.player.playing) editor.player.pause();
      editor.goTo(editor.frameAt(mark.time_s));
    },
    rename(mark, event) {
      const name = event.target.value.trim();
      if (name && name !== mark.name) {
        editor.edit({ kind: "change-mark", scene: editor.sceneId, mark: mark.id, name });
      }
    },
    /** Shows or hides the note of a mark. */
    unfold(mark) {
      const shown = this.open.includes(mark.id);
      this.open = shown ? this.open.filter((id) => id !== mark.id) : [...this.open, mark.id];
      this.update();
    },
    say(mark, event) {
      const said = event.target.value.trim();
      if (said !== mark.note) {
        editor.edit({ kind: "change-mark", scene: editor.sceneId, mark: mark.id, note: said });
      }
    },
    takeNotes() {
      this.$refs.notes.click();
    },
    async readNotes(event) {
      const [file] = event.target.files;
      event.target.value = "";
      if (!file) return;
      const before = new Set(editor.scene.marks.map((mark) => mark.id));
      try {
        const told = JSON.parse(await file.text());
        if (!(await editor.edit({ kind: "notes-to-marks", scene: editor.sceneId, file: told }))) return;
      } catch {
        note(`${file.name} holds no notes: a page for review saves them.`, { bad: true });
        return;
      }
      const made = editor.scene.marks.filter((mark) => !before.has(mark.id));
      this.open = [...this.open, ...made.map((mark) => mark.id)];
      this.update();
      note(made.length === 1 ? "One note lies at its mark." : `${made.length} notes lie at their marks.`);
    },
    async move(mark, event) {
      try {
        const time_s = await editor.meaning(api.parseTime(event.target.value, editor.rate, mark.time_s));
        editor.edit({ kind: "change-mark", scene: editor.sceneId, mark: mark.id, time_s });
      } catch (error) {
        note(sentence(error.message), { bad: true });
        this.update();
      }
    },
    tie(mark) {
      if (mark.tie) editor.edit({ kind: "cut-ties", scene: editor.sceneId, targets: [{ mark: mark.id }] });
      else tieTo(editor, [{ mark: mark.id }]);
    },
    remove(mark) {
      editor.edit({ kind: "remove-marks", scene: editor.sceneId, marks: [mark.id] });
    },
    async typeRange() {
      try {
        const meaning = async (text) => editor.meaning(api.parseTime(text, editor.rate, 0));
        editor.edit({
          kind: "set-range",
          scene: editor.sceneId,
          start_s: await meaning(this.from),
          end_s: await meaning(this.to),
        });
      } catch (error) {
        note(sentence(error.message), { bad: true });
        this.update();
      }
    },
    whole() {
      editor.edit({ kind: "set-range", scene: editor.sceneId, start_s: null, end_s: null });
    },
  }));
}
