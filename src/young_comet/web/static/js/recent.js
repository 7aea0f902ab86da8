// The scenes that were worked on last, on this browser: to go on where one was.

const STORE = "recent-scenes";
const MOST = 4;

const read = () => {
  try {
    return JSON.parse(localStorage.getItem(STORE) || "[]");
  } catch {
    return [];
  }
};

/** A scene is worked on now. */
export function visited(project, scene, name, projectName) {
  const rest = read().filter((each) => each.scene !== scene || each.project !== project);
  localStorage.setItem(STORE, JSON.stringify([{ project, scene, name, projectName }, ...rest].slice(0, 12)));
}

/** Those of projects that there still are, the last one first. */
export function recent(projects) {
  const there = new Map(projects.map((project) => [project.id, project]));
  return read()
    .filter((each) => there.has(each.project))
    .slice(0, MOST)
    .map((each) => ({
      ...each,
      key: `${each.project}/${each.scene}`,
      url: `/projects/${each.project}/scenes/${each.scene}`,
      picture: `/api/projects/${each.project}/scenes/${each.scene}/kept.jpg`,
    }));
}
