// The Moves tab's transitions: how a layer takes over from the one before it.
import { Alpine } from "../common.js";
import { trim } from "../formats.js";
import { complain } from "../notes.js";
import { api } from "../api.js";
import { fieldMethods } from "./field_methods.js";
import { fieldsOf } from "./fields.js";
import { beginJointDrag, joinBy } from "./joints.js";
import { classes, el, html } from "./markup.js";
import { changeMember, removeMembers } from "./member_edits.js";
import { playStrips } from "./strips.js";

// They have no picture that could give way.
const UNSEEN = ["sound", "carrier", "treatment"];
// How high a row of what becomes what is, px.
const THREAD_ROW = 26;

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
      goals: [],
      chosenPair: "",
      pairHint: "",
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
          this.updateCard(second, held);
          this.updatePairs(seen?.pairs || [], seen?.goals || []);
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
      updateCard(second, held) {
        this.length = `${trim(held.length_s, 3)}s`;
        const specs = folded ? [] : editor.specsOfMember(second, "transition", held);
        this.card = {
          id: held.id,
          on: held.on,
          label: editor.transitions[held.kind]?.label || held.kind,
          open: !folded,
          fields: fieldsOf(editor, second, specs),
        };
      },
      updatePairs(pairs, goals) {
        if (!pairs.some((pair) => pair.of === this.chosenPair)) this.chosenPair = "";
        this.pairs = pairs.map((pair) => pairRow(pair, goals, this.chosenPair));
        this.goals = goalRows(goals, pairs, this.chosenPair);
        this.pairHint = this.chosenPair ? "now click what it becomes" : "click two to pair them";
        this.$nextTick(() => this.drawThreads());
      },
      typing() {
        const element = document.activeElement;
        return element && this.$root.contains(element) && element.matches("input:not([type=checkbox])");
      },
      join(kind) {
        gallery = false;
        const layers = joinable().map((layer) => layer.id);
        return joinBy(editor, kind.id, layers);
      },
      drag(kind, event) {
        beginJointDrag(event, kind);
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
      /** The first half of a correction: the layer whose counterpart is to be another one. */
      takeOne(row) {
        this.chosenPair = this.chosenPair === row.id ? "" : row.id;
        this.update();
      },
      /** The second: what it becomes, nothing, or what is found again. */
      takeGoal(goal) {
        const of = this.chosenPair;
        if (!of) return;
        this.chosenPair = "";
        this.pair(of, goal.to);
      },
      cutThread(event) {
        const { of } = event.target.dataset;
        if (of) this.pair(of, "");
      },
      /** Another counterpart for a layer: an id, "" for none, null for what is found. */
      pair(of, to) {
        const [, second] = joinable();
        const edit = { kind: "pair-layers", scene: editor.sceneId, layer: second.id, of };
        editor.edit(to === null ? edit : { ...edit, to });
      },
      drawThreads() {
        const { threads } = this.$refs;
        if (!threads) return;
        threads.setAttribute(
          "viewBox",
          `0 0 60 ${THREAD_ROW * Math.max(this.pairs.length, this.goals.length)}`,
        );
        threads.innerHTML = this.pairs.map((row, at) => thread(row, at, this.goals)).join("");
      },
    }),
  );
}

/** A layer of the first scene with what it becomes. */
function pairRow(pair, goals, chosen) {
  const goal = goals.find(([id]) => id === pair.to)?.[1];
  const active = pair.of === chosen;
  return {
    id: pair.of,
    name: pair.name,
    to: pair.to,
    active,
    corrected: pair.corrected,
    cls: active ? "active" : goal ? "" : "loose",
    label: `${pair.name} becomes ${goal || "nothing"}${pair.corrected ? ", as corrected" : ""}`,
  };
}

/** What a layer may become: those of the second scene, and while one is chosen nothing, or what is found. */
function goalRows(goals, pairs, chosen) {
  const taken = new Set(pairs.map((pair) => pair.to));
  const rows = goals.map(([id, name]) => ({
    id,
    to: id,
    name,
    cls: taken.has(id) ? "" : "loose",
    title: chosen ? `It becomes ${name}` : name,
  }));
  if (!chosen) return rows;
  rows.push({ id: " nothing", to: "", name: "nothing", cls: "deed", title: "It goes by itself" });
  if (pairs.find((pair) => pair.of === chosen)?.corrected) {
    rows.push({ id: " found", to: null, name: "as found", cls: "deed", title: "As it was found" });
  }
  return rows;
}

/** The thread from a layer to what it becomes. */
function thread(row, at, goals) {
  const goal = goals.findIndex((each) => each.to && each.to === row.to);
  if (goal < 0) return "";
  const [y, z] = [at, goal].map((index) => index * THREAD_ROW + 12);
  const d = `M0 ${y}C30 ${y} 30 ${z} 60 ${z}`;
  const look = classes("thread", row.corrected && "corrected", row.active && "active");
  const title = el("title", {}, html(`${row.name}: click to cut it`));
  return el("path", { class: "hit", d, "data-of": row.id }, title) + el("path", { class: look, d });
}
