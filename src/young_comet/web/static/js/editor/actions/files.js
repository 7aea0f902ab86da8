// Files uploaded and placed.
import { api } from "../../api.js";
import { newId } from "../../formats.js";
import { complain, note } from "../../notes.js";
import { addMembers } from "../member_edits.js";

/** An asset as a layer: whole where it fits into the frame, fitted where it is larger. `point` is where its
 *  middle goes, `start_s` when it begins (the playhead, else), `index` its place in the stack. */
export function placeAsset(editor, asset, { point = null, start_s = null, index = editor.newIndex } = {}) {
  const { scene } = editor;
  if (["font", "table"].includes(asset.kind)) {
    note(asset.kind === "font" ? "Choose it as the typeface of a text." : "Choose it in an effect.");
    return null;
  }
  if (asset.kind === "sound") return placeSound(editor, asset, start_s, index);
  const kind = asset.kind === "clip" ? "clip" : "picture";
  const fits = asset.width <= scene.width && asset.height <= scene.height;
  const name = asset.name.replace(/\.[a-z0-9]+$/i, "") || (kind === "clip" ? "Clip" : "Picture");
  const properties = { [`${kind}.asset`]: asset.id, [`${kind}.fit`]: fits ? "natural" : "fit" };
  if (point) properties.position = point;
  const times = kind === "clip" ? clipSpan(editor, asset, start_s) : start_s === null ? {} : { start_s };
  return editor.addLayer(editor.newLayer(kind, name, properties, times), index);
}

/** A sound begins at the playhead and lasts as long as it is, or as the scene goes on. */
function placeSound(editor, asset, start, index) {
  const name = asset.name.replace(/\.[a-z0-9]+$/i, "") || "Sound";
  return editor.addLayer(
    editor.newLayer("sound", name, { "sound.asset": asset.id }, clipSpan(editor, asset, start)),
    index,
  );
}

function clipSpan(editor, asset, start) {
  const start_s = start ?? editor.newStart;
  const end_s = Math.min(editor.scene.length_s, start_s + asset.duration_s);
  return { start_s, end_s: Math.max(end_s, start_s + editor.timeOf(1)) };
}

/** Uploads files; pictures and clips can be placed at once. */
export async function upload(editor, files, { place = false, point = null } = {}) {
  for (const file of files) {
    if (/\.(vtt|srt)$/i.test(file.name)) {
      window.dispatchEvent(new CustomEvent("open-phrases", { detail: file }));
      continue;
    }
    editor.tell("uploading", true);
    try {
      const { asset, notes = [] } = await api.upload(editor.projectId, file);
      if (notes.length) note(`${asset.name}: ${notes.join("; ")}.`, { seconds: 12 });
      await editor.refresh();
      if (asset.kind === "font") note(`${asset.family} is ready to use in texts.`);
      else if (place) await placeAsset(editor, asset, { point });
    } catch (error) {
      complain(error);
    } finally {
      editor.tell("uploading", false);
    }
  }
}

/** A colour table as an effect on the selected layers. */
export function gradeWith(editor, asset) {
  if (!editor.selected.size) {
    note("Select the layers that the table shall change, or add a treatment.");
    return;
  }
  const name = asset.name.replace(/\.cube$/i, "").slice(0, 100);
  const member = { id: newId(), kind: "look-up-table", name };
  const properties = { table: { value: asset.id } };
  editor.edit(addMembers(editor, "effect", [...editor.selected], [{ member, properties }]));
}
