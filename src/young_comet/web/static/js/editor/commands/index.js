// Every command by name and key: the keyboard, the finder, the key sheet, the menus and the README's
// table come from this list. A command is data: { id, label, menu, keys, also, needs, run }; `menu` is what
// the menu of a thing calls it, what it needs (see needs.js) tells why it cannot be done now.
import { note } from "../../notes.js";
import { ARRANGEMENTS } from "./arrangements.js";
import { comboOfKeys } from "./combos.js";
import { KEYS } from "./keys.js";
import { ADD, LAYERS, LINKS, NUDGES } from "./layers.js";
import { LOOKS } from "./looks.js";
import { NEEDS } from "./needs.js";
import { SPANS, TIME } from "./time.js";
import { TOOLS, VIEW } from "./view.js";

export const GROUPS = [
  { id: "view", label: "Everywhere", commands: VIEW },
  { id: "tools", label: "Tools", commands: TOOLS },
  { id: "time", label: "Time", commands: TIME },
  { id: "layers", label: "Layers", commands: LAYERS },
  { id: "spans", label: "Layers in time", commands: SPANS },
  { id: "arrangements", label: "Arrangements", commands: ARRANGEMENTS },
  { id: "nudges", label: "Nudging", commands: NUDGES },
  { id: "links", label: "Riding, ties, scenes in scenes", commands: LINKS },
  { id: "keys", label: "Keys", commands: KEYS },
  { id: "looks", label: "Looks and paths", commands: LOOKS },
  { id: "add", label: "Adding", commands: ADD },
];

/** What the pointer does with keys held: on the key sheet and in the README. */
export const POINTER = [
  { id: "p1", label: "Move the view", keys: "Space + drag" },
  { id: "p2", label: "Zoom about the pointer", keys: "Wheel" },
  { id: "p3", label: "Copy while moving", keys: "Ctrl + drag" },
  { id: "p4", label: "Keep direction or proportion", keys: "Shift + drag" },
  { id: "p5", label: "From the pivot, without snapping", keys: "Alt + drag" },
  { id: "p6", label: "Zoom the timeline", keys: "Ctrl + wheel" },
  { id: "p7", label: "Copy keys while moving them", keys: "Ctrl + drag a key" },
  { id: "p8", label: "Off the frames, without snapping", keys: "Alt + drag a key" },
  { id: "p9", label: "Take a point out of a path", keys: "Alt + click it" },
  { id: "p10", label: "Put a point on a path, round a corner", keys: "Double-click" },
  { id: "p11", label: "Move a whole path", keys: "Ctrl + drag the path" },
  { id: "p12", label: "Write in a text; choose a word of it", keys: "Double-click it" },
  { id: "p13", label: "Choose a line of a text", keys: "Press it three times" },
  { id: "p14", label: "In a text: letters bold, slanted", keys: "Ctrl+B, Ctrl+I" },
  { id: "p15", label: "In a text: to the bar of its letters", keys: "Tab" },
];

/** Why a command cannot be done now, "" where it can. */
function whyNot(command, editor) {
  for (const need of command.needs || []) {
    const why = NEEDS[need](editor);
    if (why) return why;
  }
  return "";
}

export class Commands {
  /** `desk`: the editor and what lies before the artist. */
  constructor(desk) {
    this.desk = desk;
    this.all = GROUPS.flatMap(({ id: group, commands }) =>
      commands.map((command) => ({ keys: "", group, ...command, run: () => this.run(command) })),
    );
    this.byId = new Map(this.all.map((command) => [command.id, command]));
    this.byCombo = new Map();
    for (const command of this.all) {
      for (const keys of [command.keys, ...(command.also || [])]) {
        if (keys && !command.held) this.byCombo.set(comboOfKeys(keys), command);
      }
    }
  }

  /** Does a command, or says why it cannot be done. */
  run(command) {
    const why = whyNot(command, this.desk.editor);
    return why ? note(why) : command.run(this.desk);
  }

  /** All of them, as a menu shows them. */
  offered() {
    return this.items([...this.byId.keys()]);
  }

  runById(id) {
    return this.byId.get(id).run();
  }

  /** Items of a menu: off, with the reason, where they cannot be done now. */
  items(ids) {
    return ids.map((id) => {
      const command = this.byId.get(id);
      const why = whyNot(command, this.desk.editor);
      return { ...command, off: Boolean(why), why };
    });
  }
}

/** The commands as plain data: for the README's table and the tests. */
export function described() {
  const plain = ({ id, label, keys = "", also = [], needs = [], held = false }) => ({
    id,
    label,
    keys,
    also,
    needs,
    held,
  });
  const all = [...GROUPS, { id: "pointer", label: "With the pointer", commands: POINTER }];
  return all.map((group) => ({ id: group.id, label: group.label, commands: group.commands.map(plain) }));
}

/** Why a command cannot be done in an editor, "" where it can. */
export const whyNotNow = (id, editor) =>
  whyNot(
    GROUPS.flatMap((group) => group.commands).find((each) => each.id === id),
    editor,
  );
