"""A layer dragged in headless Chromium: from a pointer event to the stage's new frame."""

from __future__ import annotations

import shutil
import socket
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager

from playwright.sync_api import Page, Playwright, sync_playwright

FLAGS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
    "--disable-background-networking", "--disable-component-update", "--disable-sync",
]  # fmt: skip

# Notes when each pointer event came and when a frame that answers a later request was drawn.
WATCH = """() => {
  const { editor } = youngComet;
  window.spans = [];
  let waiting = null;
  const preview = editor.preview.bind(editor);
  window.addEventListener("pointermove", () => { window.moved = performance.now(); }, true);
  editor.preview = (edits) => {
    preview(edits);
    const wanted = editor.dirty ? editor.stageId + 1 : editor.stageId;
    if (edits.length && !waiting) waiting = { id: wanted, at: window.moved };
  };
  editor.on("presented", () => {
    if (waiting && editor.shownId >= waiting.id) {
      window.spans.push(performance.now() - waiting.at);
      waiting = null;
    }
  });
}"""


@contextmanager
def serving(data: str) -> Iterator[str]:
    """The application on a data folder; gives its address."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    command = [sys.executable, "-m", "young_comet.cli", "serve", "--demo", "--data", data]
    server = subprocess.Popen([*command, "--port", str(port)], stdout=subprocess.DEVNULL)
    try:
        while True:
            try:
                urllib.request.urlopen(f"http://127.0.0.1:{port}/")
                break
            except OSError:
                time.sleep(0.05)
        yield f"http://127.0.0.1:{port}"
    finally:
        server.terminate()
        server.wait()


def chromium(playwright: Playwright) -> Page:
    """A page of headless Chromium at the usual size."""
    browser = playwright.chromium.launch(executable_path=shutil.which("chromium"), args=FLAGS)
    return browser.new_page(viewport={"width": 1280, "height": 800})


def main() -> None:
    with tempfile.TemporaryDirectory() as data:
        started = time.perf_counter()
        with serving(data) as base:
            print(f"first start with the demo built: {time.perf_counter() - started:.1f} s")
            measure(base)


def measure(base: str) -> None:
    with sync_playwright() as playwright:
        page = chromium(playwright)
        for scene, layer, at in (("logo-reveal", "emblem", 3.0), ("name-tag", "bar", 3.0)):
            page.goto(f"{base}/projects/kite-week/scenes/{scene}")
            page.wait_for_function("() => window.youngComet?.editor.shownId > 0")
            page.wait_for_function(
                "() => document.getElementById('filmstrip').dataset.ready === '1.000'",
                timeout=90_000,
            )
            page.evaluate(f"youngComet.editor.goTo({round(at * 25)})")
            page.evaluate(f"youngComet.editor.select(['{layer}'])")
            page.wait_for_timeout(500)
            page.evaluate(WATCH)
            x, y = page.evaluate(
                f"youngComet.stage.toScreen(youngComet.editor.view['{layer}'].pivot)"
            )
            box = page.locator("#stage").bounding_box()
            page.mouse.move(box["x"] + x + 8, box["y"] + y + 16)
            page.mouse.down()
            for step in range(120):
                page.mouse.move(box["x"] + x + 8 + step, box["y"] + y + 16 + step / 3)
                page.wait_for_timeout(16)
            spans = page.evaluate("window.spans")
            page.keyboard.press("Escape")
            page.mouse.up()
            tenth = sorted(spans)[int(len(spans) * 0.9)]
            print(
                f"{scene}: {len(spans)} frames, pointer to picture at 960x540: "
                f"median {statistics.median(spans):.0f} ms, 9 of 10 within {tenth:.0f} ms"
            )
            page.keyboard.press("Space")
            page.wait_for_timeout(4500)
            rate = page.evaluate("youngComet.player.rate")
            print(f"{scene}: played at {rate:.1f} frames a second (of 25)")
            page.keyboard.press("Space")


if __name__ == "__main__":
    main()
