// Assets whose files are missing: what is told of them, and how they are found again.
import { complain, note, sentence } from "./notes.js";
import { api } from "./api.js";

export async function missingFiles(project) {
  return (await api.missing(project)).map(({ asset, why }) => ({
    id: asset.id,
    name: asset.name,
    why: sentence(why),
  }));
}

/** What a panel with a file field `x-ref="found"` needs to find files again; `project(panel)`
 *  names the project, `then(panel)` hears when an asset is whole again. */
export function finder(project, then) {
  return {
    wanted: null,
    findAgain(asset) {
      this.wanted = asset;
      this.$refs.found.click();
    },
    async found() {
      const [file] = this.$refs.found.files;
      this.$refs.found.value = "";
      const whole = () => then(this);
      if (file && (await bringBack(project(this), this.wanted, file, whole))) await whole();
    },
  };
}

/** Gives a file to a missing asset; another one takes its place when that is wanted (`then` hears
 *  of that). Resolves to true when the asset is whole again. */
async function bringBack(project, asset, file, then, another = false) {
  try {
    await api.findAgain(project, asset.id, file, another);
    note(another ? `${file.name} takes the place of ${asset.name}.` : `${asset.name} is back.`);
    return true;
  } catch (error) {
    if (error.status === 409 && error.field === "file") {
      const run = async () => (await bringBack(project, asset, file, then, true)) && then();
      note(`${file.name} is another file than ${asset.name}.`, {
        bad: true,
        seconds: 15,
        action: "Take it all the same",
        run,
      });
    } else complain(error);
    return false;
  }
}
