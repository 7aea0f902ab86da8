// The projects page: cards, new, rename, duplicate, delete with undo, import.
import { Alpine, nameInPlace } from "../common.js";
import { ago } from "../formats.js";
import { complain, note, sentence } from "../notes.js";
import { api } from "../api.js";
import { recent } from "../recent.js";
import { startTour } from "../tour.js";
import { tagFilter } from "../tags.js";
import { StripPlay } from "../strip_play.js";

const STRIP = 12;

function card(project) {
  const scenes = project.scene_count === 1 ? "1 scene" : `${project.scene_count} scenes`;
  return {
    ...project,
    menu: false,
    menuLabel: `More about ${project.name}`,
    url: `/projects/${project.id}`,
    exportUrl: api.exportUrl(project.id),
    facts: `${scenes} · ${ago(project.changed_at)}`,
    thumbnail: project.first_scene
      ? api.frameUrl(project.id, project.first_scene, null, 240, project.revision)
      : "",
  };
}

Alpine.data("projectsPage", () => ({
  projects: [],
  loaded: false,
  name: "",
  problem: "",
  strips: {},
  query: "",
  recent: [],

  async init() {
    await this.load();
    window.addEventListener("pageshow", (event) => event.persisted && this.load());
  },
  async load() {
    try {
      this.projects = (await api.projects()).map(card);
      this.recent = recent(this.projects);
      this.loaded = true;
    } catch (error) {
      complain(error);
    }
  },
  toggleMenu(project) {
    const open = !project.menu;
    this.projects.forEach((each) => (each.menu = false));
    project.menu = open;
  },
  /** The menu of a card by the second button of the mouse. */
  cardMenu(project) {
    if (!project.menu) this.toggleMenu(project);
  },
  closeMenu(project) {
    project.menu = false;
  },
  tour() {
    startTour().catch(complain);
  },
  rename(project, event) {
    project.menu = false;
    const shown = event.target.closest(".card-tile").querySelector(".who .name");
    nameInPlace(shown, "Name of the project", project.name, (name) =>
      this.run(project, { kind: "rename-project", name }),
    );
  },
  tagIt(project) {
    project.menu = false;
    this.$dispatch("open-tags", {
      name: project.name,
      tags: project.tags,
      known: this.tags.map((each) => each.name),
      save: (tags) => this.change(project, { kind: "set-tags", tags }),
    });
  },
  async change(project, edit) {
    await api.edit(project.id, edit);
    await this.load();
  },
  run(project, edit) {
    return this.change(project, edit).catch(complain);
  },
  openNew() {
    this.name = "";
    this.problem = "";
    this.$refs.nameSheet.showModal();
  },
  closeSheet() {
    this.$refs.nameSheet.close();
  },
  async saveName() {
    try {
      const made = await api.createProject(this.name.trim());
      location.href = `/projects/${made.project.id}`;
    } catch (error) {
      this.problem = sentence(error.message);
    }
  },
  async duplicate(project) {
    project.menu = false;
    await api.duplicateProject(project.id).catch(complain);
    await this.load();
  },
  async remove(project) {
    project.menu = false;
    try {
      await api.deleteProject(project.id);
      await this.load();
      note(`${project.name} is deleted.`, { action: "Undo", seconds: 12, run: () => this.restore(project) });
    } catch (error) {
      complain(error);
    }
  },
  async restore(project) {
    await api.restoreProject(project.id).catch(complain);
    await this.load();
  },
  chooseArchive() {
    this.$refs.archive.click();
  },
  async importArchive() {
    const file = this.$refs.archive.files[0];
    this.$refs.archive.value = "";
    if (!file) return;
    try {
      this.imported(await api.importProject(file));
    } catch (error) {
      if (error.status !== 422) complain(error);
      else {
        note(sentence(error.message), {
          bad: true,
          seconds: 20,
          action: "Import and mend",
          run: () => this.importMended(file),
        });
      }
    }
  },
  async importMended(file) {
    try {
      this.imported(await api.importProject(file, true));
    } catch (error) {
      complain(error);
    }
  },
  /** What came is opened; there it is told what was mended, and that there is another of its name. */
  imported(made) {
    const first = made.notes.slice(0, 3).map(sentence).join(". ");
    const more = made.notes.length > 3 ? `, and ${made.notes.length - 3} more` : "";
    const told = first && ` ${first}${more}.`;
    const { id, name } = made.project;
    const same = this.projects.find((each) => each.name === name && each.id !== id);
    const twin = same ? ` There is another project of that name, changed ${ago(same.changed_at)}.` : "";
    sessionStorage.setItem("arrived", `${name} is imported.${told}${twin}`);
    location.href = `/projects/${id}`;
  },

  // The thumbnail plays under the pointer and with the focus.
  hover(project, link) {
    if (!project.first_scene) return;
    const source = api.stripUrl(project.id, project.first_scene, STRIP, 180, project.revision);
    this.strips[project.id] ||= new StripPlay(source, STRIP);
    this.strips[project.id].start(link);
  },
  leave(project, link) {
    this.strips[project.id]?.stop(link);
  },
  /** F2 on a card renames it. */
  cardKey(project, event) {
    if (event.key === "F2") this.rename(project, event);
  },
  get listed() {
    return this.matching(this.query.trim().toLowerCase());
  },
  get tags() {
    return this.countTags();
  },
  ...tagFilter((page) => page.projects),
}));

Alpine.start();
