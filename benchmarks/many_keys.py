"""2,000 keys over 60 layers: main-thread time of dragging and zooming in headless Chromium, and
the time of an edit in the server."""

from __future__ import annotations

import json
import statistics
import sys
import tempfile
import time
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

sys.path.insert(0, str(Path(__file__).parent))
from dragging import chromium, serving

LAYERS, KEYS = 60, 34
PROPERTIES = ("position", "rotation")

# Every piece of work of the page's own code on the main thread, in ms: handlers of the pointer
# and the wheel, answers of the server, redraws of the timeline.
OPEN = """() => {
  const { editor } = youngComet;
  editor.openLayers = new Set(editor.layers.map((layer) => layer.id));
  editor.requestStage();
}"""
ALL_KEYS = """() => youngComet.editor.layers.flatMap((layer) =>
  Object.entries(layer.properties).flatMap(([property, { keys }]) =>
    keys.map((key) => ({ layer: layer.id, property, key: key.id }))))"""
# A key's head in the middle of the rows in view.
KEY_IN_VIEW = """() => {
  const rows = document.getElementById("rows").getBoundingClientRect();
  for (const head of document.querySelectorAll(".lane-line .key-head")) {
    const box = head.getBoundingClientRect();
    const inside = box.top > rows.top + 4 && box.bottom < rows.bottom - 4;
    if (inside && box.left > rows.left + 400) return [box.x + 4, box.y + 4];
  }
  return null;
}"""
WATCH = """() => {
  const { timeline, editor } = youngComet;
  window.steps = [];
  const { pointing } = timeline;
  const work = [["move", pointing], ["wheel", pointing], ["draw", timeline], ["hear", editor]];
  for (const [name, of] of work) {
    const run = of[name].bind(of);
    of[name] = (...all) => {
      const began = performance.now();
      const result = run(...all);
      window.steps.push(performance.now() - began);
      return result;
    };
  }
}"""


def document() -> dict:
    layers = []
    for index in range(LAYERS):
        properties = {}
        for name in PROPERTIES:
            keys = []
            for k in range(KEYS // len(PROPERTIES)):
                value = (
                    [200 + 37 * k % 900, 100 + 53 * (k + index) % 800]
                    if name == "position"
                    else 20.0 * (k % 7)
                )
                keys.append(
                    {"id": f"{name[0]}{k}", "time_s": round(0.04 + k * 0.56, 2), "value": value}
                )
            properties[name] = {"keys": keys}
        layers.append({"id": f"kite{index}", "name": f"Kite {index}", "kind": "shape", "start_s": 0,
                       "end_s": 10, "properties": properties})  # fmt: skip
    return {"id": "many", "name": "Many kites", "width": 1920, "height": 1080, "rate": {"num": 25},
            "length_s": 10, "layers": layers}  # fmt: skip


def main() -> None:
    with (
        tempfile.TemporaryDirectory() as data,
        serving(data) as base,
        sync_playwright() as playwright,
    ):
        page = chromium(playwright)
        project = page.request.post(f"{base}/api/projects", data={"name": "Many kites"}).json()
        project_id = project["project"]["id"]
        scene = document()
        edit(page, base, project_id, {"kind": "add-scene", "scene": scene})
        server_times(page, base, project_id)
        page.goto(f"{base}/projects/{project_id}/scenes/many")
        page.wait_for_function("() => window.youngComet?.editor.shownId > 0")
        for opened in (False, True):
            if opened:
                page.evaluate(OPEN)
                page.wait_for_function(
                    "() => youngComet.editor.lanes.length >= 100", timeout=60_000
                )
            page.wait_for_timeout(1500)
            measure(page, "all lanes open" if opened else "all lanes closed")


def edit(page: Page, base: str, project: str, data: dict) -> float:
    began = time.perf_counter()
    answer = page.request.post(f"{base}/api/projects/{project}/edits", data={"edit": data})
    assert answer.ok, answer.text()
    return (time.perf_counter() - began) * 1000


def server_times(page: Page, base: str, project: str) -> None:
    one = [{"layer": "kite7", "property": "rotation", "key": "r3", "time_s": 1.8}]
    every = [
        {"layer": f"kite{i}", "property": name, "key": f"{name[0]}{k}",
         "time_s": round(0.04 + k * 0.56, 2)}
        for i in range(LAYERS) for name in PROPERTIES for k in range(KEYS // len(PROPERTIES))
    ]  # fmt: skip
    for label, moves, shift in (("one key", one, 0.04), (f"all {len(every)} keys", every, 0.04)):
        times = []
        for turn in range(12):
            by = shift if turn % 2 == 0 else 0.0
            moved = [{**move, "time_s": round(move["time_s"] + by, 2)} for move in moves]
            times.append(
                edit(page, base, project, {"kind": "move-keys", "scene": "many", "moves": moved})
            )
        print(f"an edit of {label}: median {statistics.median(times):.0f} ms over HTTP")


def measure(page: Page, what: str) -> None:
    page.evaluate(WATCH)
    box = page.locator("#rows").bounding_box()
    page.mouse.move(box["x"] + 700, box["y"] + 60)
    page.keyboard.down("Control")
    for turn in range(20):
        page.mouse.wheel(0, -120 if turn < 10 else 120)
        page.wait_for_timeout(40)
    page.keyboard.up("Control")
    report(page, f"{what}: zooming")
    if not page.locator(".lane-line").count():
        return
    everything = page.evaluate(ALL_KEYS)
    page.evaluate("(list) => youngComet.editor.selectKeys(list)", everything)
    page.evaluate("youngComet.timeline.fit()")
    page.wait_for_timeout(1200)
    at = page.evaluate(KEY_IN_VIEW)
    assert at is not None, "no key is in view"
    page.mouse.move(*at)
    page.mouse.down()
    for turn in range(30):
        page.mouse.move(at[0] + turn * 2, at[1])
        page.wait_for_timeout(60)
    assert page.evaluate("youngComet.editor.drafts.length") == 1, "nothing was dragged"
    page.keyboard.press("Escape")
    page.mouse.up()
    report(page, f"{what}: dragging all {len(everything)} keys")


def report(page: Page, label: str) -> None:
    page.wait_for_timeout(300)
    steps = page.evaluate("window.steps")
    page.evaluate("window.steps = []")
    ninth = sorted(steps)[int(len(steps) * 0.9)]
    print(
        f"{label}: {len(steps)} pieces of work, median {statistics.median(steps):.1f} ms, "
        f"9 of 10 within {ninth:.1f} ms, longest {max(steps):.1f} ms"
    )


if __name__ == "__main__":
    print(
        json.dumps({"layers": LAYERS, "keys": LAYERS * (KEYS // len(PROPERTIES)) * len(PROPERTIES)})
    )
    main()
