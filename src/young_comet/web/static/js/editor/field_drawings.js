// What fields that are drawn do: gradients with their stops, tone curves, colour points.
import { openPicker } from "./picker.js";

/** Methods of panels; `targets(field, valueOf)` and `commit(edit, done)` as the other fields use them. */
export function drawnMethods(editor, typing, targets, commit) {
  return {
    // Gradient stops
    stopsOf(field) {
      return field.values[0].map((stop) => [...stop]);
    },
    setStops(field, stops, done = true) {
      commit(editor.set(targets(field, () => stops)), done);
    },
    addStop(field, event) {
      const box = event.currentTarget.getBoundingClientRect();
      const offset = Math.min(1, Math.max(0, (event.clientX - box.left) / box.width));
      const stops = this.stopsOf(field);
      const near = [...stops].sort((a, b) => Math.abs(a[0] - offset) - Math.abs(b[0] - offset))[0];
      const at = stops.findIndex((stop) => stop[0] > offset);
      const index = at < 0 ? stops.length : at;
      stops.splice(index, 0, [Math.round(offset * 1e3) / 1e3, near[1]]);
      editor.chosenStop = index;
      this.setStops(field, stops);
    },
    dragStop(field, stop, event) {
      editor.chosenStop = stop.index;
      const button = event.currentTarget;
      const bar = button.parentElement.getBoundingClientRect();
      let stops = null;
      const move = (now) => {
        const offset = Math.min(1, Math.max(0, (now.clientX - bar.left) / bar.width));
        stops = this.stopsOf(field);
        stops[stop.index][0] = Math.round(offset * 1e3) / 1e3;
        this.setStops(field, stops, false);
      };
      const up = () => {
        window.removeEventListener("pointermove", move);
        if (stops) this.setStops(field, stops);
        else this.update();
      };
      window.addEventListener("pointermove", move);
      window.addEventListener("pointerup", up, { once: true });
    },
    typeStopOffset(field, event) {
      typing.touched = false;
      const offset = Number(event.target.value.replace(",", ".")) / 100;
      const stops = this.stopsOf(field);
      stops[field.chosenStop][0] = offset;
      this.setStops(field, stops);
    },
    openStopColour(field, event) {
      const index = field.chosenStop;
      const then = (colour, done) => {
        const stops = this.stopsOf(field);
        stops[index][1] = colour;
        this.setStops(field, stops, done);
      };
      openPicker(event.currentTarget, field.values[0][index][1], then);
    },
    removeStop(field) {
      const stops = this.stopsOf(field);
      stops.splice(field.chosenStop, 1);
      this.setStops(field, stops);
    },
    reverseStops(field) {
      const stops = this.stopsOf(field)
        .reverse()
        .map(([offset, colour]) => [Math.round((1 - offset) * 1e4) / 1e4, colour]);
      this.setStops(field, stops);
    },

    // Curves: pressing adds a point or takes hold of one, Alt takes it away
    pressCurve(field, event) {
      const svg = event.currentTarget;
      const box = svg.getBoundingClientRect();
      const at = (now) => [
        Math.min(1, Math.max(0, ((now.clientX - box.left) / box.width) * 1.08 - 0.04)),
        Math.min(1, Math.max(0, 1.04 - ((now.clientY - box.top) / box.height) * 1.08)),
      ];
      const points = field.values[0].map((point) => [...point]);
      const [x, y] = at(event);
      let index = points.findIndex((point) => Math.hypot(point[0] - x, point[1] - y) < 0.06);
      if (event.altKey) {
        if (index >= 0 && points.length > 2) points.splice(index, 1);
        editor.edit(editor.set(targets(field, () => points)));
        return;
      }
      if (index < 0) {
        index = points.filter((point) => point[0] < x).length;
        points.splice(index, 0, [x, y]);
      }
      const rounded = () => points.map((point) => point.map((part) => Math.round(part * 1e4) / 1e4));
      const move = (now) => {
        const [px, py] = at(now);
        const low = index ? points[index - 1][0] + 0.01 : 0;
        const high = index < points.length - 1 ? points[index + 1][0] - 0.01 : 1;
        points[index] = [Math.min(high, Math.max(low, px)), py];
        editor.preview([editor.set(targets(field, rounded))]);
      };
      const up = () => {
        window.removeEventListener("pointermove", move);
        commit(editor.set(targets(field, rounded)), true);
      };
      move(event);
      window.addEventListener("pointermove", move);
      window.addEventListener("pointerup", up, { once: true });
    },
    straighten(field) {
      editor.edit(
        editor.set(
          targets(field, () => [
            [0, 0],
            [1, 1],
          ]),
        ),
      );
    },

    // Colour points
    setSpots(field, change, done = true) {
      const value = field.values[0].map((spot) => [...spot]);
      change(value);
      commit(editor.set(targets(field, () => value)), done);
    },
    addSpot(field) {
      this.setSpots(field, (value) => value.push([50, 50, 30, "#f8f1e4"]));
    },
    removeSpot(field, spot) {
      this.setSpots(field, (value) => value.splice(spot.index, 1));
    },
    softenSpot(field, spot, event, done) {
      const softness = Number(event.target.value);
      this.setSpots(field, (value) => (value[spot.index][2] = softness), done);
    },
    openSpotColour(field, spot, event) {
      openPicker(event.currentTarget, spot.colour, (colour, done) =>
        this.setSpots(field, (value) => (value[spot.index][3] = colour), done),
      );
    },
  };
}
