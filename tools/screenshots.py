"""Takes the pictures in docs/screenshots anew, from a fresh data folder with the demo project."""

from __future__ import annotations

import shutil
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

TARGET = Path(__file__).parent.parent / "docs" / "screenshots"
FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-sync",
         "--disable-background-networking", "--disable-component-update"]  # fmt: skip
SCENE = "/projects/kite-week/scenes/logo-reveal"


def editor(page: Page, base: str) -> None:
    page.goto(base + SCENE)
    page.wait_for_function("() => window.youngComet?.editor.shownId > 0")
    page.wait_for_function(
        "() => document.getElementById('filmstrip').dataset.ready === '1.000'", timeout=90_000
    )
    page.fill("#time-field", "1s")
    page.press("#time-field", "Enter")
    page.click('.row-line[data-layer="emblem"] .row-name')
    page.click('.row-line[data-layer="emblem"] [data-fold]')
    page.click('.lane-line[data-lane="rotation"] [data-key="k2"]')
    page.wait_for_timeout(600)


def timing(page: Page) -> None:
    """Two tall lanes with a key of the kite's path chosen."""
    page.evaluate("document.getElementById('lower').style.height = '420px'")
    page.click('.row-line[data-layer="emblem"] .row-name')
    for lane in ("position", "rotation"):
        page.click(f'.lane-line[data-lane="{lane}"] [data-tall]')
        page.wait_for_timeout(500)
    page.evaluate("document.getElementById('rows').scrollTop = 78")
    page.wait_for_timeout(300)
    keys = [{"layer": "emblem", "property": name, "key": "k1"} for name in ("position", "rotation")]
    page.evaluate("keys => youngComet.editor.selectKeys(keys)", keys)
    page.wait_for_timeout(900)


def looks(page: Page, base: str, save: Callable[[str], None]) -> None:
    """Masks and effects of the kinetic title, the sheet of effects, typefaces; arrangements."""
    page.goto(base + "/projects/kite-week/scenes/kinetic-title")
    page.wait_for_function("() => window.youngComet?.editor.shownId > 0")
    page.evaluate("youngComet.editor.goTo(62)")
    page.evaluate("youngComet.editor.select(['wind'])")
    page.get_by_role("tab", name="Looks").click()
    page.wait_for_timeout(600)
    page.evaluate("youngComet.editor.tell('mask-added', 'above')")
    page.evaluate("youngComet.editor.tell('effect-added', 'wave-1')")
    page.wait_for_function(
        "() => document.getElementById('filmstrip').dataset.ready === '1.000'", timeout=90_000
    )
    page.evaluate("document.querySelector('[data-section=Masks]').scrollIntoView()")
    page.wait_for_timeout(600)
    save("looks")
    page.keyboard.press("Control+e")
    page.locator(".effect-entry img").nth(30).scroll_into_view_if_needed()
    page.wait_for_timeout(3500)
    page.locator(".effect-body").evaluate("each => { each.scrollTop = 420; }")
    page.wait_for_timeout(1500)
    save("effects")
    page.keyboard.press("Escape")
    words = "youngComet.editor.layers.find((each) => each.name === 'Kite Week').id"
    page.evaluate(f"youngComet.editor.select([{words}])")
    page.get_by_role("tab", name="Selection").click()
    page.get_by_role("button", name="All typefaces").first.click()
    page.wait_for_function("() => document.querySelectorAll('[data-typeface]').length > 30")
    page.locator("[x-data=typefacesSheet] .faces-body").evaluate("each => { each.scrollTop = 420; }")
    page.wait_for_timeout(700)
    save("typefaces")
    page.keyboard.press("Escape")
    page.evaluate("youngComet.editor.select([])")
    page.evaluate("youngComet.editor.goTo(181)")
    page.wait_for_timeout(900)
    save("kinetic-title")
    page.goto(base + "/projects/kite-week/scenes/badge-halves")
    page.wait_for_function("() => window.youngComet?.editor.shownId > 0")
    page.evaluate("youngComet.editor.goTo(30)")
    page.evaluate("youngComet.editor.select(['left'])")
    page.locator("[data-step=apart] .hit").click()
    page.wait_for_function(
        "() => document.getElementById('filmstrip').dataset.ready === '1.000'", timeout=90_000
    )
    page.wait_for_timeout(900)
    save("arrangements")


def sound(page: Page, base: str, save: Callable[[str], None]) -> None:
    """The opener's reveal with its sounds; the kit."""
    page.goto(base + SCENE)
    page.wait_for_function("() => window.youngComet?.editor.shownId > 0")
    page.evaluate("youngComet.editor.goTo(56)")
    page.evaluate("youngComet.editor.select(['bed'])")
    page.evaluate("document.getElementById('lower').style.height = '330px'")
    page.evaluate("document.getElementById('rows').scrollTop = 1e6")
    page.wait_for_function("() => document.querySelectorAll('.row-line .wave').length >= 4")
    page.wait_for_timeout(900)
    save("sound")
    page.get_by_role("tab", name="Assets").click()
    page.locator("details.kit summary").click()
    page.locator("details.kit").get_by_role("button", name="Hits").click()
    page.wait_for_timeout(600)
    save("kit")


def links(page: Page, base: str, save: Callable[[str], None]) -> None:
    """Moves with their tiles, ties between placed scenes, an expression being written."""
    page.goto(base + SCENE)
    page.wait_for_function("() => window.youngComet?.editor.shownId > 0")
    page.evaluate("youngComet.editor.goTo(60)")
    page.evaluate("youngComet.editor.select(['name'])")
    page.get_by_role("tab", name="Moves").click()
    page.wait_for_timeout(2500)
    save("moves")
    page.get_by_role("tab", name="Selection").click()
    row = page.locator('.prop[data-property="rotation"]')
    row.hover()
    row.locator("[data-more]").click()
    page.locator("#property-menu button", has_text="xpression").first.click()
    page.get_by_role("textbox", name="Expression").fill(
        'keyed + sway(4) + 0.2 * of("Kite emblem", "rotation")'
    )
    page.wait_for_timeout(900)
    save("expression")
    page.keyboard.press("Escape")
    page.goto(base + "/projects/kite-week/scenes/opener")
    page.wait_for_function("() => window.youngComet?.editor.shownId > 0")
    page.evaluate("youngComet.editor.goTo(150)")
    page.evaluate("youngComet.editor.select([youngComet.editor.layers.at(-3).id])")
    page.get_by_role("tab", name="Timing").click()
    page.wait_for_timeout(1500)
    save("opener")


def shoot(page: Page, base: str) -> None:
    def save(name: str) -> None:
        page.screenshot(path=TARGET / f"{name}.png")

    editor(page, base)
    page.get_by_role("tab", name="Selection").click()
    page.wait_for_timeout(300)
    save("editor")
    timing(page)
    save("timing")
    page.get_by_role("button", name="Gallery…").click()
    page.wait_for_timeout(700)
    save("easings")
    page.keyboard.press("Escape")
    page.evaluate("youngComet.editor.select(['sky'])")
    page.wait_for_timeout(500)
    page.click(".stops-row .swatch")
    page.wait_for_timeout(400)
    save("gradient")
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Render", exact=True).click()
    page.wait_for_timeout(500)
    save("render")
    page.locator("#render-scale").select_option("0.5")
    page.locator("dialog[open] button.main-action").click()
    page.wait_for_function("() => !document.querySelector('dialog[open]')")
    page.wait_for_timeout(500)
    page.goto(base + "/renders")
    page.locator('.render-row[data-status="done"] video').wait_for(timeout=90_000)
    page.evaluate("document.querySelector('video').currentTime = 3")
    page.wait_for_timeout(800)
    save("renders")
    looks(page, base, save)
    sound(page, base, save)
    links(page, base, save)
    page.goto(base)
    page.wait_for_timeout(1500)
    save("projects")
    page.goto(base + "/projects/kite-week")
    page.wait_for_timeout(2500)
    save("project")
    # The scene as at a first visit, in the other theme.
    page.evaluate("sessionStorage.clear(); localStorage.setItem('theme', 'light')")
    editor(page, base)
    save("editor-paper")


def main() -> None:
    TARGET.mkdir(parents=True, exist_ok=True)
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = probe.getsockname()[1]
    base = f"http://127.0.0.1:{port}"
    with tempfile.TemporaryDirectory() as data:
        command = [sys.executable, "-m", "young_comet.cli", "serve", "--demo", "--data", data]
        server = subprocess.Popen([*command, "--port", str(port)], stdout=subprocess.DEVNULL)
        try:
            for _ in range(200):
                try:
                    urllib.request.urlopen(base)
                    break
                except OSError:
                    time.sleep(0.1)
            with sync_playwright() as playwright:
                path = shutil.which("chromium")
                browser = playwright.chromium.launch(executable_path=path, args=FLAGS)
                shoot(browser.new_page(viewport={"width": 1280, "height": 800}), base)
                browser.close()
        finally:
            server.terminate()
            server.wait()


if __name__ == "__main__":
    main()
