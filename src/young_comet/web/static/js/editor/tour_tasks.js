// The tasks of the tour, and how a document shows that one is done.

const value = (layer, id) => JSON.stringify(layer.properties[id] ?? null);
const same = (scene, id) => scene.layers.find((layer) => layer.id === id);

/** Whether a layer that both scenes have differs in something. */
const someLayer = (before, now, differs) =>
  now.layers.some((layer) => {
    const old = same(before, layer.id);
    return old && differs(old, layer);
  });

const mostKeys = (layer) =>
  Math.max(0, ...Object.values(layer.properties).map((property) => property.keys.length));

const TASKS = [
  {
    id: "write",
    title: "Write another name",
    text: "Double-click the maker's name, type a new one, and press Escape: what you typed is kept.",
    done: (before, now) =>
      someLayer(before, now, (old, layer) => value(old, "text") !== value(layer, "text")),
  },
  {
    id: "move",
    title: "Put it elsewhere",
    text: "Drag the name, or anything else, to another place. It snaps to what is near; Alt lets it be free.",
    done: (before, now) =>
      someLayer(before, now, (old, layer) =>
        ["position", "position.x", "position.y"].some((id) => value(old, id) !== value(layer, id)),
      ),
  },
  {
    id: "arrive",
    title: "Let it come another way",
    text: "With the name selected open Moves and choose how it arrives. It plays at once, and comes back.",
    done: (before, now) =>
      someLayer(before, now, (old, layer) => JSON.stringify(old.moves) !== JSON.stringify(layer.moves)),
  },
  {
    id: "key",
    title: "Animate something by hand",
    text: "Click the dot beside Rotation: the first key. Go on in time and change the number: the second.",
    done: (before, now) =>
      someLayer(before, now, (old, layer) => mostKeys(layer) > Math.max(1, mostKeys(old))),
  },
  {
    id: "look",
    title: "Give it a look",
    text: "Press Ctrl+E, or + Effect in Looks, and choose one: a glow, a shadow, whatever you like.",
    done: (before, now) => someLayer(before, now, (old, layer) => layer.effects.length > old.effects.length),
  },
];

/** What is told of each task. */
export const tasks = () => TASKS.map(({ id, title, text }) => ({ id, title, text }));

/** Whether a task is done: between the scene as it was when it began and as it is now. */
export function isDone(index, before, now) {
  return Boolean(TASKS[index]?.done(before, now));
}
