// Where letters stand on the stage, as the server tells it: for carets, selections and clicks.

// Corners of a letter, from its top left clockwise.
const corner = (corners, number) => [corners[2 * number], corners[2 * number + 1]];

/** The letters of a text as they came with the view. Places count characters, as the server does. */
export class Letters {
  constructor({ text, lines }) {
    this.text = text;
    this.length = [...text].length;
    this.lines = lines.map((line) => ({
      ...line,
      cells: line.cells.map(([first, last, left, ...corners]) => ({ first, last, left, corners })),
    }));
    this.cells = this.lines.flatMap((line) => line.cells);
  }

  /** The line that a place belongs to: where one is broken, the line after it. */
  lineAt(place) {
    return this.lines.findLast((line) => line.first <= place) || this.lines[0];
  }

  /** The caret at a place: its top and its foot in the scene; null where there is no line. */
  caret(place) {
    const line = this.lineAt(place);
    if (!line) return null;
    const after = line.cells.find((cell) => cell.first >= place);
    if (after && after.first === place) return edge(after, after.left);
    const before = line.cells.findLast((cell) => cell.last <= place || cell.first < place);
    if (before) return edge(before, !before.left);
    return [corner(line.edge, 0), corner(line.edge, 3)];
  }

  /** The corners of all letters of a stretch. */
  quads(first, last) {
    return this.cells
      .filter((cell) => cell.first < last && cell.last > first)
      .map(({ corners }) => [0, 1, 2, 3].map((number) => corner(corners, number)));
  }

  /** The place nearest to a point of the scene, and how far that is from the letters, in heights of them. */
  nearest(point) {
    let best = { far: Infinity, place: 0 };
    for (const line of this.lines) {
      for (const cell of line.cells.length ? line.cells : [{ first: line.first, corners: line.edge }]) {
        const [along, down, far] = within(cell.corners, point);
        // The line counts more than the letter: beside its end a line is still meant.
        const measured = far + 4 * Math.max(0, Math.abs(down - 0.5) - 0.5);
        if (measured >= best.far) continue;
        const past = cell.last !== undefined && along > 0.5 !== Boolean(cell.left);
        best = { far: measured, place: past ? cell.last : cell.first };
      }
    }
    return best;
  }

  /** The place in the next line, or the one before (by -1), under or over a place. */
  beside(place, by) {
    const index = this.lines.indexOf(this.lineAt(place)) + by;
    if (index < 0) return 0;
    if (index >= this.lines.length) return this.length;
    const [top, foot] = this.caret(place);
    const middle = [(top[0] + foot[0]) / 2, (top[1] + foot[1]) / 2];
    const line = this.lines[index];
    let best = { far: Infinity, place: line.first };
    for (const at of [line.first, ...line.cells.flatMap((cell) => [cell.first, cell.last])]) {
      if (this.lineAt(at) !== line) continue;
      const [a, b] = this.caret(at);
      const far = Math.hypot((a[0] + b[0]) / 2 - middle[0], (a[1] + b[1]) / 2 - middle[1]);
      if (far < best.far) best = { far, place: at };
    }
    return best.place;
  }

  /** Where a line begins and ends; blanks at a break belong to the line before it. */
  ends(place) {
    const line = this.lineAt(place);
    const next = this.lines[this.lines.indexOf(line) + 1];
    return [line.first, next && next.first === line.last ? Math.max(line.first, line.last - 1) : line.last];
  }
}

/** One side of a letter, as top and foot. */
function edge({ corners }, right) {
  return right ? [corner(corners, 1), corner(corners, 2)] : [corner(corners, 0), corner(corners, 3)];
}

/** A point by a letter's own sides: along and down it (0..1 within), and how far beside it in heights. */
function within(corners, [x, y]) {
  const [x0, y0] = corner(corners, 0);
  const [x1, y1] = corner(corners, 1);
  const [x3, y3] = corner(corners, 3);
  const wide = Math.hypot(x1 - x0, y1 - y0);
  const high = Math.hypot(x3 - x0, y3 - y0) || 1;
  const down = ((x - x0) * (x3 - x0) + (y - y0) * (y3 - y0)) / (high * high);
  if (!wide) return [0, down, Math.hypot(x - x0, y - (y0 + y3) / 2) / high];
  const along = ((x - x0) * (x1 - x0) + (y - y0) * (y1 - y0)) / (wide * wide);
  return [along, down, (Math.max(0, Math.abs(along - 0.5) - 0.5) * wide) / high];
}

// A page's fields count in UTF-16, the server in characters.

/** A place in a field's text as a number of characters. */
export const toCharacters = (text, at) => [...text.slice(0, at)].length;

/** A number of characters as a place in a field's text. */
export const toField = (text, at) => [...text].slice(0, at).join("").length;
