// Puts the scene editor together.
import { Alpine } from "../common.js";
import { complain, note } from "../notes.js";
import { api } from "../api.js";
import { Editor } from "../editor/editor.js";
import { Stage } from "../editor/stage.js";
import { Overlay } from "../editor/overlay.js";
import { Pointing } from "../editor/pointing.js";
import { Player } from "../editor/player.js";
import { Filmstrip } from "../editor/filmstrip.js";
import { Timeline } from "../editor/timeline.js";
import { upload } from "../editor/actions/files.js";
import { takeAssetDrops } from "../editor/asset_drags.js";
import { takeJointDrops } from "../editor/joints.js";
import { Commands } from "../editor/commands/index.js";
import { Compare } from "../editor/compare.js";
import { listenToKeys } from "../editor/keyboard.js";
import { Layout } from "../editor/layout.js";
import { Modes } from "../editor/modes/index.js";
import { registerEffectSheet, registerLooksPanel } from "../editor/looks_panel.js";
import { registerFaults } from "../editor/faults.js";
import { followBeats, registerBeatsPanel } from "../editor/beats_panel.js";
import { registerKitPanel } from "../editor/kit_panel.js";
import { registerListening } from "../editor/listening.js";
import { watchHeld } from "../editor/held.js";
import { registerHistory } from "../editor/history_sheet.js";
import { registerKeySheets } from "../editor/key_sheets.js";
import { registerMatchPanel } from "../editor/match_panel.js";
import { registerRenderSheet } from "../editor/render_sheet.js";
import { registerSelectionPanel } from "../editor/selection_panel.js";
import { ArrangementRow } from "../editor/arrangement_row.js";
import { registerArrangementsPanel } from "../editor/arrangements_panel.js";
import { registerMarksPanel } from "../editor/marks_panel.js";
import { registerSpreadPanels } from "../editor/spread_panels.js";
import { registerTimingPanel } from "../editor/timing_panel.js";
import { registerExpressionEditor } from "../editor/expression_editor.js";
import { registerFrontsPanel } from "../editor/fronts_panel.js";
import { registerFrontsSheet } from "../editor/fronts_sheet.js";
import { registerPhrasesSheet } from "../editor/phrases_sheet.js";
import { registerAxesPanel } from "../editor/axes_panel.js";
import { registerRunsPanel } from "../editor/runs_panel.js";
import { registerTypeStylePanels } from "../editor/type_style_panels.js";
import { Typefaces } from "../editor/typefaces.js";
import { registerTypefacesSheet } from "../editor/typefaces_sheet.js";
import { registerLinksPanel } from "../editor/links_panel.js";
import { registerTiesPanel } from "../editor/ties_panel.js";
import { registerMovesPanel } from "../editor/moves_panel.js";
import { registerTransitionsPanel } from "../editor/transitions_panel.js";
import { registerNestingPanel } from "../editor/nesting_panel.js";
import { registerColourPicker } from "../editor/colour_picker.js";
import { registerSidePanels } from "../editor/side_panels.js";
import { registerFinder } from "../editor/finder.js";
import { registerTour } from "../editor/tour_card.js";
import { watchDropped } from "../editor/dropped.js";
import { registerRelations } from "../editor/relation_threads.js";
import { rove } from "../editor/roving.js";
import { registerRowFilter } from "../editor/row_filter.js";
import { registerPasteSheet } from "../editor/paste_sheet.js";
import { registerSeeing } from "../editor/seeing.js";
import { ThingMenus } from "../editor/thing_menus.js";
import { registerSheets } from "../editor/sheets.js";
import { StatusLine } from "../editor/status_line.js";
import { visited } from "../recent.js";
import "../frame_sheet.js";

const root = document.getElementById("editor");
const editor = new Editor(root.dataset.project, root.dataset.scene, Number(root.dataset.opensAt));
const stage = new Stage(editor);
const overlay = new Overlay(editor, stage);
const player = new Player(editor, (bitmap) => stage.show(bitmap));
const hands = { editor, stage, overlay, player };
editor.modes = new Modes(hands);
const pointing = new Pointing(hands);
editor.player = player;
editor.typefaces = new Typefaces(editor);
editor.isPlaying = () => player.playing;
new Filmstrip(editor, player);
const timeline = new Timeline(editor);
takeAssetDrops(editor, timeline);
takeJointDrops(editor, timeline);
const compare = new Compare(editor, stage);
const layout = new Layout();
new StatusLine(editor, stage, timeline);

const input = document.getElementById("file-input");
let uploadOptions = {};
function chooseFiles(options) {
  uploadOptions = options;
  input.click();
}
input.addEventListener("change", () => {
  const files = [...input.files];
  input.value = "";
  upload(editor, files, uploadOptions);
});

const desk = { ...hands, timeline, compare, layout, chooseFiles };
const commands = new Commands(desk);
editor.commands = commands;
listenToKeys(editor, commands, player, [pointing, timeline.pointing]);
registerSelectionPanel(editor);
registerAxesPanel(editor);
registerRunsPanel(editor);
registerPhrasesSheet(editor);
registerTypefacesSheet(editor);
registerTypeStylePanels(editor);
registerFrontsPanel(editor);
registerFrontsSheet(editor);
registerLinksPanel(editor);
registerMovesPanel(editor);
registerTransitionsPanel(editor);
registerNestingPanel(editor);
registerTiesPanel(editor);
registerExpressionEditor(editor);
registerLooksPanel(editor);
registerEffectSheet(editor);
registerTimingPanel(editor);
registerSpreadPanels(editor);
registerMarksPanel(editor);
registerArrangementsPanel(editor);
registerMatchPanel(editor);
registerFaults(editor);
registerSeeing(editor);
registerTour(editor);
watchDropped(editor, player);
registerRelations(editor, timeline.relations);
registerRowFilter(editor, timeline);
registerKeySheets(editor);
registerColourPicker(editor);
registerSidePanels(editor, chooseFiles);
registerRenderSheet(editor);
followBeats(editor);
registerBeatsPanel(editor);
registerKitPanel(editor);
registerListening(editor, player.sounding);
registerFinder(editor, commands);
registerSheets(editor, commands, desk);
registerHistory(editor);
watchHeld(editor, [pointing, timeline.pointing]);
registerPasteSheet(editor);
new ThingMenus(editor, commands, timeline);
new ArrangementRow(editor);

const tools = document.getElementById("tools");
tools.addEventListener("click", (event) => {
  const { tool, add } = event.target.closest("button")?.dataset || {};
  if (tool) editor.enter(tool);
  if (add) commands.runById(`add-${add}`);
  // A tool that was clicked has done its part: Enter and Space are for what is on the stage.
  if (event.detail > 0) stage.element.focus({ preventScroll: true });
});
function markTool() {
  for (const button of tools.querySelectorAll("[data-tool]")) {
    const on = button.dataset.tool === editor.mode.tool;
    button.classList.toggle("on", on);
    button.setAttribute("aria-pressed", String(on));
  }
}
// Buttons of the page that do a command, named in the page itself.
for (const button of document.querySelectorAll("[data-run]")) {
  button.addEventListener("click", () => commands.runById(button.dataset.run));
}
editor.on("mode", markTool);
markTool();

editor.on("render", (render) => {
  if (render.status === "done") {
    note(`${render.scene_name} is rendered.`, {
      action: "Show it",
      seconds: 10,
      run: () => (location.href = "/renders"),
    });
  }
  if (render.status === "failed" || render.status === "interrupted") {
    note(`The render of ${render.scene_name} failed: ${render.message}`, {
      bad: true,
      action: "Renders",
      seconds: 15,
      run: () => (location.href = "/renders"),
    });
  }
});

rove(tools);
window.youngComet = { editor, player, stage, timeline, compare };
Alpine.start();
requestAnimationFrame(() => rove(document.getElementById("tabs"), { press: true }));
// Until the stage's own picture is there, the one that was kept when the scene was left stands in.
const kept = new Image();
const standIn = () => editor.project && kept.naturalWidth && stage.drawn === undefined && stage.show(kept);
kept.onload = standIn;
kept.src = api.keptUrl(editor.projectId, editor.sceneId);
editor.on("document", standIn);
editor.on("document", () => {
  const { projectId, sceneId, scene, project } = editor;
  if (scene) visited(projectId, sceneId, scene.name, project.name);
});
editor.start().catch(complain);
