// The runs of a text: what is different of some of its letters.
import { Alpine } from "../common.js";
import { fieldMethods } from "./field_methods.js";
import { fieldsOf } from "./fields.js";

const SAID = 28;

/** Some letters of a text as they are named in a line. */
function said(text, { first, last }) {
  const words = [...text].slice(first, last).join("").trim().replace(/\s+/g, " ");
  return words.length > SAID ? `${words.slice(0, SAID - 1)}…` : words;
}

export function registerRunsPanel(editor) {
  const fields = fieldMethods(editor);
  let open = null;

  Alpine.data("runsPanel", () =>
    fields.into({
      shown: false,
      runs: [],

      init() {
        editor.on("view selection document typefaces", () => this.update());
        editor.on("stretch", () => {
          // The run at the caret is the one that is looked at.
          const run = editor.modes.visit("write")?.run;
          if (run) open = run.id;
          this.update();
        });
        if (editor.project) this.update();
      },
      update() {
        if (!editor.kinds) return;
        const [layer, ...rest] = editor.selectedLayers;
        this.shown = Boolean(layer && !rest.length && layer.kind === "text" && layer.runs.length);
        if (!this.shown || this.typing()) return;
        const text = String(editor.value(layer, "text"));
        this.runs = layer.runs.map((run) => this.cardOf(layer, run, text));
      },
      cardOf(layer, run, text) {
        const isOpen = open === run.id;
        const count = run.last - run.first;
        const prefix = `run.${run.id}.`;
        const set = Object.keys(layer.properties).filter((name) => name.startsWith(prefix)).length;
        return {
          ...run,
          name: said(text, run) || "nothing now",
          open: isOpen,
          note: `${count} ${count === 1 ? "letter" : "letters"}, ${set} of its own`,
          fields: isOpen ? fieldsOf(editor, layer, editor.specsOfMember(layer, "run", run)) : [],
        };
      },
      typing() {
        const element = document.activeElement;
        return element && this.$root.contains(element) && element.matches("input") && fields.typing.touched;
      },
      openRun(run) {
        open = open === run.id ? null : run.id;
        this.update();
      },
      takeBack(run) {
        const [layer] = editor.selectedLayers;
        const members = [run.id];
        editor.edit({
          kind: "remove-members",
          scene: editor.sceneId,
          family: "run",
          layer: layer.id,
          members,
        });
      },
    }),
  );
}
