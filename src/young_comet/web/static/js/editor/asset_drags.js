// Assets dragged out of their tab: onto the stage, onto the timeline at a moment and between rows, and onto
// a field that takes an asset.
import { placeAsset } from "./actions/files.js";

const TYPE = "application/x-young-comet-asset";

export function beginAssetDrag(event, asset) {
  event.dataTransfer.setData(TYPE, asset.id);
  event.dataTransfer.setData("text/plain", asset.name);
  event.dataTransfer.effectAllowed = "copy";
}

/** Whether an asset is what is dragged. */
export const carriesAsset = (event) => [...event.dataTransfer.types].includes(TYPE);

/** The asset that is let go. */
const assetOf = (editor, event) =>
  editor.project.assets.find((asset) => asset.id === event.dataTransfer.getData(TYPE)) || null;

/** What lies on the stage is placed where it is let go. */
export function dropOnStage(editor, event, point) {
  const asset = assetOf(editor, event);
  if (asset) placeAsset(editor, asset, { point });
}

/** The timeline: from the moment under the pointer on, above the row that it is let go on. */
export function takeAssetDrops(editor, timeline) {
  const { rows } = timeline;
  const clear = () =>
    rows.querySelectorAll(".drop-before").forEach((each) => each.classList.remove("drop-before"));
  const rowOf = (event) => event.target.closest?.(".row-line[data-layer]");
  rows.addEventListener("dragover", (event) => {
    if (!carriesAsset(event)) return;
    event.preventDefault();
    event.dataTransfer.dropEffect = "copy";
    clear();
    rowOf(event)?.classList.add("drop-before");
  });
  rows.addEventListener("dragleave", clear);
  rows.addEventListener("drop", (event) => {
    clear();
    const asset = assetOf(editor, event);
    if (!asset) return;
    event.preventDefault();
    const row = rowOf(event);
    const at = row ? editor.layers.findIndex((layer) => layer.id === row.dataset.layer) + 1 : null;
    const head = event.target.closest?.(".row-head");
    const time = head
      ? editor.time
      : timeline.timeAt(event.clientX - timeline.ruler.getBoundingClientRect().left);
    const frame = Math.min(editor.frameCount - 1, Math.max(0, editor.frameAt(time)));
    placeAsset(editor, asset, { start_s: editor.timeOf(frame), index: at });
  });
  takeFieldDrops(editor);
}

/** Fields: a list that offers the asset takes it. */
function takeFieldDrops(editor) {
  const listOf = (event) => event.target.closest?.(".prop")?.querySelector("select");
  document.addEventListener("dragover", (event) => {
    if (carriesAsset(event) && listOf(event)) event.preventDefault();
  });
  document.addEventListener("drop", (event) => {
    const list = listOf(event);
    const asset = list && assetOf(editor, event);
    if (!asset) return;
    event.preventDefault();
    if (![...list.options].some((option) => option.value === asset.id)) return;
    list.value = asset.id;
    list.dispatchEvent(new Event("change", { bubbles: true }));
  });
}
