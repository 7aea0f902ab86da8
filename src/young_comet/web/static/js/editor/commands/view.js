// Commands on what is seen and done next: the tools, the view, the sheets.
import { inkFromStage } from "../actions/inks.js";
import { stepHistory } from "../actions/undoing.js";
import { filterRows, soloSelected } from "../actions/views.js";

const open = (event) => () => window.dispatchEvent(new Event(event));
const tool = (id, label, keys) => ({
  id: `tool-${id}`,
  label: `Tool: ${label}`,
  keys,
  run: ({ editor }) => editor.enter(id),
});

export const TOOLS = [
  tool("select", "Select", "1"),
  tool("rectangle", "Rectangle", "2"),
  tool("ellipse", "Ellipse", "3"),
  tool("polygon", "Polygon", "4"),
  tool("star", "Star", "5"),
  tool("line", "Line", "6"),
  tool("pen", "Pen", "7"),
  tool("text", "Text", "8"),
  tool("pencil", "Motion path", "9"),
  tool("hand", "Move the view", ""),
];

export const VIEW = [
  { id: "finder", label: "Find anything", keys: "Ctrl+K", run: open("open-finder") },
  { id: "keys", label: "Keyboard sheet", keys: "?", run: open("open-keys") },
  {
    id: "undo",
    label: "Undo",
    keys: "Ctrl+Z",
    needs: ["undo"],
    run: ({ editor }) => stepHistory(editor, "undo"),
  },
  {
    id: "redo",
    label: "Redo",
    keys: "Ctrl+Shift+Z",
    also: ["Ctrl+Y"],
    needs: ["redo"],
    run: ({ editor }) => stepHistory(editor, "redo"),
  },
  { id: "history", label: "History...", run: open("open-history") },
  { id: "fit", label: "Fit the frame into the stage", keys: "Ctrl+0", run: ({ stage }) => stage.fit() },
  {
    id: "dropper",
    label: "Make an ink from a colour on the stage",
    run: ({ editor }) => inkFromStage(editor),
  },
  {
    id: "tall-column",
    label: "Column over the full height, or beside the stage",
    keys: "Alt+C",
    run: ({ layout }) => layout.toggleTall(),
  },
  {
    id: "solo",
    label: "See only the selected layers, or all again",
    menu: "See only this, or all again",
    keys: "Alt+S",
    needs: ["seen"],
    run: ({ editor }) => soloSelected(editor, false),
  },
  {
    id: "dim-others",
    label: "Dim the other layers, or show all again",
    keys: "Alt+Shift+S",
    needs: ["seen"],
    run: ({ editor }) => soloSelected(editor, true),
  },
  {
    id: "filter-rows",
    label: "Search and filter the timeline's rows",
    keys: "Alt+F",
    run: ({ timeline }) => filterRows(timeline),
  },
  { id: "render", label: "Render...", run: open("open-render") },
  { id: "frame", label: "Scene name and frame...", run: open("change-frame") },
];
