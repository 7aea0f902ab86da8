// Tags of scenes and projects: a sheet that asks for them, and lists that are filtered by them.
import { Alpine } from "./common.js";
import { sentence } from "./notes.js";

const split = (text) => text.split(",").map((tag) => tag.trim()).filter(Boolean); // prettier-ignore

/** What a page of cards adds: `items` gives all that it lists. */
export const tagFilter = (items) => ({
  tag: "",
  /** All tags there are, with how many carry each. */
  countTags() {
    const counts = new Map();
    for (const item of items(this)) {
      for (const tag of item.tags) counts.set(tag, (counts.get(tag) || 0) + 1);
    }
    return [...counts]
      .sort(([one], [other]) => one.localeCompare(other))
      .map(([name, count]) => ({ name, count, on: name === this.tag }));
  },
  filterBy(name) {
    this.tag = this.tag === name ? "" : name;
  },
  /** What has the words in its name or tags, and the tag that is chosen. */
  matching(words) {
    const chosen = this.countTags().some((each) => each.on) ? this.tag : "";
    const said = (item) => [item.name, ...item.tags].join(" ").toLowerCase();
    return items(this).filter(
      (item) => said(item).includes(words) && (!chosen || item.tags.includes(chosen)),
    );
  },
});

Alpine.data("tagsSheet", () => ({
  title: "",
  text: "",
  known: [],
  problem: "",
  /** Detail: `name` of what is tagged, its `tags`, all that are `known`, `save` of the new ones. */
  open(event) {
    const { name, tags, known, save } = event.detail;
    this.title = `Tags of ${name}`;
    this.text = tags.join(", ");
    this.known = known;
    this.save = save;
    this.problem = "";
    this.$root.showModal();
  },
  has(tag) {
    return split(this.text).includes(tag);
  },
  turn(tag) {
    const tags = split(this.text);
    this.text = (tags.includes(tag) ? tags.filter((each) => each !== tag) : [...tags, tag]).join(", ");
  },
  close() {
    this.$root.close();
  },
  async keep() {
    try {
      await this.save(split(this.text));
      this.close();
    } catch (error) {
      this.problem = sentence(error.message);
    }
  },
}));
