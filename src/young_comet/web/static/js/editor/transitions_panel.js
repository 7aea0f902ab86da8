// The Moves tab's transitions: how a layer takes over from the one before it.
import { Alpine } from "../common.js";
import { trim } from "../formats.js";
import { complain } from "../notes.js";
import { api } from "../api.js";
import { fieldMethods } from "./field_methods.js";
import { fieldsOf } from "./fields.js";
import { changeMember, removeMembers } from "./member_edits.js";
import { playStrips } from "./strips.js";

// They have no picture that could give way.
const UNSEEN = ["sound", "carrier", "treatment"];

export function registerTransitionsPanel(editor) {
  const fields = fieldMethods(editor);
  let folded = true;
  let gallery = false;

  /** The layers that a choice joins, the first in time first; none where there is nothing to join. */
  function joinable() {
    const layers = editor.selectedLayers.filter((layer) => !layer.locked);
    if (layers.length > 1) {
      const fit = layers.filter((layer) => !UNSEEN.includes(layer.kind));
      return fit.sort((a, b) => a.start_s - b.start_s);
    }
    const [layer] = layers;
    if (!layer || UNSEEN.includes(layer.kind)) return [];
    const meets = (each) =>
      each.id !== layer.id &&
      !UNSEEN.includes(each.kind) &&
      Math.abs(each.end_s - layer.start_s) < 0.51 * editor.timeOf(1);
    const before = editor.layer(layer.transitions[0]?.before) || editor.layers.find(meets);
    return before ? [before, layer] : [];
  }

  Alpine.data("transitionsPanel", () =>
    fields.into({
      joins: false,
      title: "",
      note: "",
      card: null,
      hasCard: false,
      kinds: [],
      pairs: [],
      length: "",
      opened: false,
      openText: "",

      init() {
        editor.on("view selection document tab", () => this.schedule());
        if (editor.project) this.update();
        playStrips(this.$root, (strip) => strip.dataset.strip);
      },
      update() {
        if (!editor.kinds || !editor.scene) return;
        const layers = joinable();
        this.joins = layers.length > 1;
        if (!this.joins) return;
        const [first, second] = layers;
        const many = layers.length > 2;
        const [held] = second.transitions;
        this.title = many ? `${layers.length} layers` : `${first.name} → ${second.name}`;
        const seen = editor.view[second.id]?.transition;
        this.note = held && seen?.idle ? seen.idle : "";
        this.hasCard = Boolean(held) && !many;
        this.opened = gallery || !this.hasCard;
        this.openText = this.opened ? "Fewer" : "Another";
        if (this.hasCard && !this.typing()) {
          this.length = `${trim(held.length_s, 3)}s`;
          this.card = {
            id: held.id,
            on: held.on,
            label: editor.transitions[held.kind]?.label || held.kind,
            open: !folded,
            fields: folded ? [] : fieldsOf(editor, second, editor.specsOfMember(second, "transition", held)),
          };
          this.pairs = (seen?.pairs || []).map((pair) => pairRow(pair, seen.goals));
        }
        const place = { project: editor.projectId, scene: editor.sceneId, layer: second.id };
        this.kinds = this.opened
          ? editor.catalog.transitions.map((kind) => ({
              ...kind,
              cls: held?.kind === kind.id ? "on" : "",
              strip: many
                ? ""
                : api.transitionSample({ ...place, kind: kind.id }, { before: first.id, r: editor.revision }),
            }))
          : [];
      },
      typing() {
        const element = document.activeElement;
        return element && this.$root.contains(element) && element.matches("input:not([type=checkbox])");
      },
      async join(kind) {
        const layers = joinable().map((layer) => layer.id);
        gallery = false;
        const edit = { kind: "join-layers", scene: editor.sceneId, layers, transition: kind.id };
        if (!(await editor.edit(edit)) || editor.isPlaying()) return;
        const [, second] = layers.map((id) => editor.layer(id));
        const reach = second.transitions[0].length_s;
        const span = [second.start_s - reach, second.start_s + reach];
        const [from, to] = span.map((time) => Math.min(editor.scene.length_s, Math.max(0, time)));
        editor.player.playSpan(editor.frameAt(from), editor.frameAt(to));
      },
      more() {
        gallery = !gallery;
        this.update();
      },
      openCard() {
        folded = !folded;
        this.update();
      },
      change(set) {
        const [, second] = joinable();
        return editor.edit(changeMember(editor, "transition", second.id, second.transitions[0].id, set));
      },
      switchOn(event) {
        this.change({ on: event.target.checked });
      },
      remove() {
        const [, second] = joinable();
        editor.edit(removeMembers(editor, "transition", second.id, [second.transitions[0].id]));
      },
      async typeLength(event) {
        try {
          const value = await editor.meaning(api.parseTime(event.target.value, editor.rate, 0));
          await this.change({ length_s: Math.min(60, Math.max(editor.timeOf(1), value)) });
        } catch (error) {
          complain(error);
        }
        this.update();
      },
      pair(row, event) {
        const [, second] = joinable();
        const edit = { kind: "pair-layers", scene: editor.sceneId, layer: second.id, of: row.id };
        const { value } = event.target;
        editor.edit(value === "auto" ? edit : { ...edit, to: value });
      },
    }),
  );

  /** What a layer of the first scene becomes, to be corrected. */
  function pairRow(pair, goals) {
    const options = [
      { value: "auto", label: pair.corrected ? "as found" : "found" },
      { value: "", label: "nothing" },
      ...goals.map(([value, label]) => ({ value, label })),
    ];
    return {
      id: pair.of,
      name: pair.name,
      label: `What ${pair.name} becomes`,
      options: options.map((each) => ({ ...each, chosen: each.value === pair.to })),
    };
  }
}
