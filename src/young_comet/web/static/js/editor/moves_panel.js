// The Moves tab: what the selected layers wear when they arrive, dwell and leave.
import { Alpine } from "../common.js";
import { newId, trim } from "../formats.js";
import { complain, note } from "../notes.js";
import { api } from "../api.js";
import { fieldMethods } from "./field_methods.js";
import { fieldsOf } from "./fields.js";
import { changeMember, removeMembers } from "./member_edits.js";
import { playStrips } from "./strips.js";

const PHASES = [
  ["arrive", "Arrive"],
  ["dwell", "Dwell"],
  ["leave", "Leave"],
];
const MOST_WORN = 200;

export function registerMovesPanel(editor) {
  const fields = fieldMethods(editor);
  const open = new Set();
  const onLayer = new Map(); // addresses of moves on the layer itself, null while they are on their way
  const only = () => (editor.selected.size === 1 ? editor.selectedLayers[0] : null);
  let query = "";

  Alpine.data("movesPanel", () =>
    fields.into({
      count: 0,
      one: false,
      phase: "arrive",
      phases: [],
      length: "",
      cards: [],
      gallery: [],
      passages: [],
      follows: false,
      canFollow: false,
      query: "",
      canPaste: false,
      wearing: false,
      own: [],
      canSave: false,
      saveName: "",

      init() {
        api.ownMoves().then(({ moves }) => {
          this.shared = moves;
          this.update();
        }, complain);
        editor.on("view selection document tab", () => this.schedule());
        editor.on("show-phase", (phase) => {
          this.phase = phase;
          this.update();
        });
        if (editor.project) this.update();
        this.animate();
      },
      update() {
        if (!editor.kinds || !editor.scene) return;
        const layers = editor.selectedLayers;
        const layer = only();
        this.count = layers.length;
        this.one = Boolean(layer);
        this.phases = PHASES.map(([id, label]) => ({
          id,
          label,
          on: id === this.phase,
          worn: layers.some((each) => each.moves.some((move) => move.phase === id)),
        }));
        const pick = (each) => (this.phase === "arrive" ? each.arrive_s : each.leave_s);
        const same = layers.length && layers.every((each) => Math.abs(pick(each) - pick(layers[0])) < 1e-9);
        this.length = this.phase === "dwell" || !same ? "" : `${trim(pick(layers[0]), 3)}s`;
        this.wearing = layers.some((each) => each.moves.length);
        this.canPaste = Boolean(this.held()) && layers.length > 0;
        if (!this.typing()) {
          const moves = layer ? layer.moves.filter((move) => move.phase === this.phase) : [];
          this.cards = moves.map((move) => this.cardOf(layer, move));
        }
        this.canFollow =
          this.phase !== "dwell" &&
          layers.some((each) => each.moves.some((move) => move.phase === this.phase));
        this.follows = this.phase !== "dwell" && layers.some((each) => each[`${this.phase}_follows`]);
        const worn = new Set(
          layers.flatMap((each) =>
            each.moves.filter((move) => move.phase === this.phase).map((move) => move.kind),
          ),
        );
        const wanted = query.toLowerCase();
        const fits = (name) => name.toLowerCase().includes(wanted);
        this.passages = editor.catalog.passages
          .filter(
            (each) =>
              layers.every(({ kind }) => each.fits.includes(kind)) && fits(`${each.label} ${each.help}`),
          )
          .map((each) => ({ ...each, strip: api.passageSample(each.id) }));
        const mine = new Set(editor.project.saved_moves.map((move) => move.id));
        const others = (this.shared || []).filter((move) => !mine.has(move.id));
        this.own = [...editor.project.saved_moves, ...others]
          .filter((move) => move.phase === this.phase && fits(move.name))
          .map((move) => {
            const foreign = !mine.has(move.id);
            const everywhere = (this.shared || []).some((each) => each.id === move.id);
            return {
              ...move,
              foreign,
              everywhere,
              cls: worn.has(`own:${move.id}`) ? "on" : "",
              stretchText: move.stretch ? "stretched" : "own pace",
              strip: foreign
                ? api.sharedMoveSample(move.id)
                : api.ownMoveSample(editor.projectId, move.id, editor.revision),
              shareText: everywhere ? "everywhere" : "only here",
            };
          });
        this.canSave = Boolean(layer) && this.phase !== "dwell";
        const suits = (kind) => layers.every((each) => kind.fits.includes(each.kind));
        this.gallery = editor.catalog.moves
          .map((kind) =>
            this.phase === "leave" && kind.leaving
              ? { ...kind, label: kind.leaving[0], help: kind.leaving[1] }
              : kind,
          )
          .filter(
            (kind) =>
              suits(kind) &&
              kind.phases.includes(this.phase) &&
              `${kind.label} ${kind.help}`.toLowerCase().includes(wanted),
          )
          .map((kind) => ({
            ...kind,
            cls: worn.has(kind.id) ? "on" : "",
            title: `${kind.help}${worn.has(kind.id) ? " It is worn." : ""}`,
          }));
      },
      cardOf(layer, move) {
        const label = editor.moveName(move.kind, move.phase);
        const opened = open.has(move.id);
        return {
          id: move.id,
          on: move.on,
          label,
          open: opened,
          openLabel: `${opened ? "Close" : "Open"} ${label}`,
          parts:
            layer.kind === "text" &&
            ["letters", "words", "lines"].includes(editor.value(layer, `move.${move.id}.spread.over`)),
          fields: opened ? fieldsOf(editor, layer, editor.specsOfMember(layer, "move", move)) : [],
        };
      },
      typing() {
        const element = document.activeElement;
        return (
          element &&
          this.$root.contains(element) &&
          element.matches(".prop input:not([type=checkbox])") &&
          fields.typing.touched
        );
      },
      turn(phase) {
        this.phase = phase.id;
        this.update();
      },
      search(event) {
        query = event.target.value;
        this.update();
      },
      async wear(kind) {
        const layers = editor.selectedLayers.filter((layer) => !layer.locked).map((layer) => layer.id);
        if (!layers.length) {
          note("Select the layers that shall wear it first.");
          return;
        }
        const id = newId();
        open.add(id);
        const done = await editor.edit({
          kind: "wear-move",
          scene: editor.sceneId,
          layers,
          id,
          move: kind.id,
          phase: this.phase,
        });
        if (done) this.showIt(layers);
      },
      /** A passage in place of all moves; it is seen from its beginning to its end. */
      async wearPassage(passage) {
        const layers = editor.selectedLayers.filter((layer) => !layer.locked).map((layer) => layer.id);
        const edit = { kind: "wear-passage", scene: editor.sceneId, layers, passage: passage.id };
        if (!layers.length || !(await editor.edit(edit)) || editor.isPlaying()) return;
        const { start_s, end_s } = editor.layer(layers[0]);
        editor.player.playSpan(editor.frameAt(start_s), editor.frameAt(end_s));
      },
      follow(event) {
        editor.edit({
          kind: "set-phases",
          scene: editor.sceneId,
          layers: [...editor.selected],
          [`${this.phase}_follows`]: event.target.checked,
        });
      },
      /** The playhead runs through the whole phase, so that the move is seen, and goes back. */
      showIt(layers) {
        const [layer] = layers.map((id) => editor.layer(id));
        if (!layer || editor.isPlaying()) return;
        const from =
          this.phase === "leave"
            ? layer.end_s - layer.leave_s
            : layer.start_s + (this.phase === "dwell" ? layer.arrive_s : 0);
        const takes = this.phase === "leave" ? layer.leave_s : this.phase === "arrive" ? layer.arrive_s : 2;
        // What has arrived, or has left, is seen for a moment.
        const to = Math.min(editor.scene.length_s, from + takes + 0.5);
        editor.player.playSpan(editor.frameAt(Math.max(0, from)), editor.frameAt(to));
      },
      /** One of the artist's own; one from another project is brought in first. */
      async wearOwn(move) {
        if (move.foreign) {
          const { foreign, cls, strip, everywhere, stretchText, shareText, ...saved } = move;
          if (!(await editor.edit({ kind: "add-saved-move", move: saved }))) return;
        }
        this.wear({ id: `own:${move.id}` });
      },
      async saveMove() {
        const name = this.saveName.trim() || `Move of ${only().name}`;
        if (
          await editor.edit({
            kind: "save-move",
            scene: editor.sceneId,
            layer: only().id,
            id: newId(),
            name,
            phase: this.phase,
          })
        ) {
          this.saveName = "";
          note(`${name} is among the moves now.`);
        }
      },
      restretch(move) {
        editor.edit({ kind: "change-saved-move", move: move.id, stretch: !move.stretch });
      },
      renameOwn(move, event) {
        const name = event.target.value.trim();
        if (name && name !== move.name) editor.edit({ kind: "change-saved-move", move: move.id, name });
        else this.update();
      },
      removeOwn(move) {
        if (move.foreign) this.toggleShare(move);
        else editor.edit({ kind: "change-saved-move", move: move.id, remove: true });
      },
      async toggleShare(move) {
        try {
          if (move.everywhere) await api.forgetMove(move.id);
          else await api.shareMove(editor.projectId, move.id);
          this.shared = (await api.ownMoves()).moves;
          this.update();
        } catch (error) {
          complain(error);
        }
      },
      openCard(card) {
        if (!open.delete(card.id)) open.add(card.id);
        this.update();
      },
      switchOn(card, event) {
        editor.edit(changeMember(editor, "move", only().id, card.id, { on: event.target.checked }));
      },
      remove(card) {
        editor.edit(removeMembers(editor, "move", only().id, [card.id]));
      },
      /** A move of letters becomes fronts, which are in the Selection tab. */
      async intoFronts(card) {
        const edit = { kind: "open-move", scene: editor.sceneId, layer: only().id, move: card.id };
        if (await editor.edit(edit)) editor.tell("show-tab", "selection");
      },
      async typeLength(event) {
        try {
          const value = await editor.meaning(api.parseTime(event.target.value, editor.rate, 0));
          editor.edit({
            kind: "set-phases",
            scene: editor.sceneId,
            layers: [...editor.selected],
            [`${this.phase}_s`]: Math.max(0, value),
          });
        } catch (error) {
          complain(error);
          this.update();
        }
      },
      held() {
        const held = JSON.parse(localStorage.getItem("move-clipboard") || "null");
        return held && held.scene === editor.sceneId && editor.layer(held.layer) ? held : null;
      },
      copy() {
        localStorage.setItem("move-clipboard", JSON.stringify({ scene: editor.sceneId, layer: only().id }));
        note("The moves are on the clipboard: select other layers to paste them.", { seconds: 3 });
        this.update();
      },
      paste() {
        editor.edit({
          kind: "copy-moves",
          scene: editor.sceneId,
          layer: this.held().layer,
          targets: [...editor.selected],
        });
      },
      async intoKeys() {
        const layers = editor.selectedLayers.filter((layer) => layer.moves.length).map((layer) => layer.id);
        if (await editor.edit({ kind: "moves-to-keys", scene: editor.sceneId, layers })) {
          for (const id of layers) editor.openLayers.add(id);
          editor.requestStage();
        }
      },

      /** The address of the move on the selected layer itself, once it is there: while the pointer
       *  rests on a tile, if it can be drawn quickly. */
      wornBy(kind) {
        const layer = only();
        if (!layer || layer.locked) return null;
        const source = api.wornSample(
          { project: editor.projectId, scene: editor.sceneId, layer: layer.id },
          { move: kind, phase: this.phase, r: editor.revision },
        );
        if (!onLayer.has(source)) {
          if (onLayer.size > MOST_WORN) onLayer.clear();
          onLayer.set(source, null);
          const image = new Image();
          image.onload = () => onLayer.set(source, source);
          image.src = source; // nothing comes where it is too slow: then it stays as it is
        }
        return onLayer.get(source);
      },

      /** At rest a tile shows the trail of its move; under the pointer or with the focus it moves, unless
       *  the person prefers stillness. */
      animate() {
        let worn = null;
        playStrips(
          this.$root,
          (strip, moving) => {
            worn = moving && strip.dataset.kind ? this.wornBy(strip.dataset.kind) : null;
            return worn || strip.dataset.strip || (strip.dataset.kind && api.moveSample(strip.dataset.kind));
          },
          // What leaves goes the same way back.
          (strip) => this.phase === "leave" && strip.dataset.kind && !worn,
        );
      },
    }),
  );
}
