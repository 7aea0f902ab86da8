// The projects page: cards, new, rename, duplicate, delete with undo, import.
import { Alpine } from "../common.js";
import { ago } from "../formats.js";
import { complain, note, sentence } from "../notes.js";
import { api } from "../api.js";

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
      ? api.frameUrl(project.id, project.first_scene, 3, 240, project.revision)
      : "",
  };
}

Alpine.data("projectsPage", () => ({
  projects: [],
  loaded: false,
  name: "",
  problem: "",
  renaming: null,
  sheetTitle: "",
  sheetAction: "",
  strips: {},

  async init() {
    await this.load();
    window.addEventListener("pageshow", (event) => event.persisted && this.load());
  },
  async load() {
    try {
      this.projects = (await api.projects()).map(card);
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
  closeMenu(project) {
    project.menu = false;
  },
  openNew() {
    this.renaming = null;
    this.openSheet("New project", "Create", "");
  },
  rename(project) {
    project.menu = false;
    this.renaming = project;
    this.openSheet("Rename project", "Rename", project.name);
  },
  openSheet(title, action, name) {
    this.sheetTitle = title;
    this.sheetAction = action;
    this.name = name;
    this.problem = "";
    this.$refs.nameSheet.showModal();
  },
  closeSheet() {
    this.$refs.nameSheet.close();
  },
  async saveName() {
    try {
      if (this.renaming) {
        await api.edit(this.renaming.id, { kind: "rename-project", name: this.name.trim() });
      } else {
        const made = await api.createProject(this.name.trim());
        location.href = `/projects/${made.project.id}`;
        return;
      }
      this.closeSheet();
      await this.load();
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
      await this.imported(await api.importProject(file));
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
      await this.imported(await api.importProject(file, true));
    } catch (error) {
      complain(error);
    }
  },
  async imported(made) {
    await this.load();
    const first = made.notes.slice(0, 3).map(sentence).join(". ");
    const more = made.notes.length > 3 ? `, and ${made.notes.length - 3} more` : "";
    const told = first && ` ${first}${more}.`;
    note(`${made.project.name} is imported.${told}`, { seconds: told ? 15 : 5 });
  },

  // The thumbnail moves under the pointer: the scene from left to right.
  hover(project) {
    if (
      !project.first_scene ||
      this.strips[project.id] ||
      matchMedia("(prefers-reduced-motion: reduce)").matches
    ) {
      return;
    }
    const strip = new Image();
    strip.src = api.stripUrl(project.id, project.first_scene, STRIP, 180, project.revision);
    this.strips[project.id] = strip;
  },
  scrub(project, link, event) {
    const strip = this.strips[project.id];
    if (!strip || !strip.complete || !strip.naturalWidth) return;
    const box = link.getBoundingClientRect();
    const index = Math.min(
      STRIP - 1,
      Math.max(0, Math.floor(((event.clientX - box.left) / box.width) * STRIP)),
    );
    let canvas = link.querySelector("canvas");
    const width = strip.naturalWidth / STRIP;
    if (!canvas) {
      canvas = document.createElement("canvas");
      canvas.className = "position-absolute top-0 start-0";
      canvas.width = width;
      canvas.height = strip.naturalHeight;
      link.append(canvas);
    }
    canvas
      .getContext("2d")
      .drawImage(strip, index * width, 0, width, strip.naturalHeight, 0, 0, canvas.width, canvas.height);
  },
  leave(project, link) {
    link.querySelector("canvas")?.remove();
  },
}));

Alpine.start();
