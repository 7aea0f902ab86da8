// The tour: five short tasks on a project of their own, each checked by what the document then holds.
import { api } from "./api.js";

const KEY = "tour";

/** Makes the project and opens it. */
export async function startTour() {
  const { project, scene } = await api.tour();
  localStorage.setItem(KEY, JSON.stringify({ project, at: 0 }));
  location.href = `/projects/${project}/scenes/${scene}`;
}

/** Where the tour of a project is: { at, before }; null where there is none. */
export function tourOf(project) {
  try {
    const found = JSON.parse(localStorage.getItem(KEY) || "null");
    return found && found.project === project ? found : null;
  } catch {
    return null;
  }
}

export function keepTour(tour) {
  if (tour) localStorage.setItem(KEY, JSON.stringify(tour));
  else localStorage.removeItem(KEY);
}
