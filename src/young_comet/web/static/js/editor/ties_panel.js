// The Timing tab's ties: what the selected layers hang on, how long they arrive and leave.
import { Alpine } from "../common.js";
import { timecode, trim, soon } from "../formats.js";
import { complain } from "../notes.js";
import { api } from "../api.js";
import { momentText } from "./actions/tying.js";

export function registerTiesPanel(editor) {
  Alpine.data("tiesPanel", () => ({
    count: 0,
    arrive: "",
    leave: "",
    ties: [],
    hanging: [],
    after: "arrived",
    gap: "0f",
    endsWithLast: false,
    keepsDistance: false,
    givesWay: false,
    standsFrom: "",
    standsTo: "",

    init() {
      editor.on(
        "selection document",
        soon(() => this.update()),
      );
      if (editor.project) this.update();
    },
    update() {
      if (!editor.scene) return;
      this.endsWithLast = editor.scene.ends_with_last;
      const standing = editor.scene.standing_s;
      this.givesWay = Boolean(standing);
      [this.standsFrom, this.standsTo] = (standing || [0, 0]).map((time) =>
        timecode(editor.frameAt(time), editor.rate),
      );
      const layers = editor.selectedLayers;
      this.count = layers.length;
      const shared = (pick) =>
        layers.length && layers.every((layer) => Math.abs(pick(layer) - pick(layers[0])) < 1e-9)
          ? `${trim(pick(layers[0]), 3)}s`
          : "";
      this.arrive = shared((layer) => layer.arrive_s);
      this.leave = shared((layer) => layer.leave_s);
      const many = layers.length > 1;
      this.ties = layers.flatMap((layer) =>
        ["start", "end"]
          .filter((side) => layer[`${side}_tie`])
          .map((side) => {
            const tie = layer[`${side}_tie`];
            return {
              key: `${layer.id}|${side}`,
              layer: layer.id,
              side,
              tie,
              label: `${many ? `${layer.name}: ` : ""}${side === "start" ? "Starts" : "Ends"}`,
              offset: `${trim(tie.offset_s, 3)}s`,
              text: `after ${momentText(editor, tie)}`,
            };
          }),
      );
      const own = new Set(layers.map((layer) => layer.id));
      this.hanging = editor.layers
        .filter(
          (layer) =>
            !own.has(layer.id) &&
            [layer.start_tie, layer.end_tie].some((tie) => tie?.to === "layer" && own.has(tie.id)),
        )
        .map(({ id, name }) => ({ id, name }));
    },
    async typePhase(which, event) {
      try {
        const value = await editor.meaning(api.parseTime(event.target.value, editor.rate, 0));
        editor.edit({
          kind: "set-phases",
          scene: editor.sceneId,
          layers: [...editor.selected],
          [which]: Math.max(0, value),
        });
      } catch (error) {
        complain(error);
        this.update();
      }
    },
    async typeOffset(row, event) {
      try {
        const offset_s = await editor.meaning(api.parseTime(event.target.value, editor.rate, 0));
        const { to, id, moment } = row.tie;
        editor.edit({
          kind: "tie-times",
          scene: editor.sceneId,
          targets: [{ layer: row.layer, side: row.side }],
          to,
          id,
          moment,
          offset_s,
        });
      } catch (error) {
        complain(error);
        this.update();
      }
    },
    cut(row) {
      editor.edit({
        kind: "cut-ties",
        scene: editor.sceneId,
        targets: [{ layer: row.layer, side: row.side }],
      });
    },
    tieStart: () => editor.commands.runById("tie-start"),
    tieEnd: () => editor.commands.runById("tie-end"),
    show(layer) {
      editor.select([layer.id]);
    },
    async row() {
      try {
        const gap_s = await editor.meaning(api.parseTime(this.gap, editor.rate, 0));
        editor.edit({
          kind: "tie-in-row",
          scene: editor.sceneId,
          layers: [...editor.selected],
          after: this.after,
          gap_s,
        });
      } catch (error) {
        complain(error);
      }
    },
    toggleDistance() {
      this.keepsDistance = !this.keepsDistance;
      editor.keepsDistance = this.keepsDistance;
    },
    setGivesWay(event) {
      editor.edit({ kind: "change-scene", scene: editor.sceneId, gives_way: event.target.checked });
    },
    async setStanding(index, event) {
      try {
        const standing_s = [...editor.scene.standing_s];
        standing_s[index] = await editor.meaning(
          api.parseTime(event.target.value, editor.rate, standing_s[index]),
        );
        editor.edit({ kind: "change-scene", scene: editor.sceneId, standing_s });
      } catch (error) {
        complain(error);
        this.update();
      }
    },
    setEnd(event) {
      editor.edit({ kind: "change-scene", scene: editor.sceneId, ends_with_last: event.target.checked });
    },
  }));
}
