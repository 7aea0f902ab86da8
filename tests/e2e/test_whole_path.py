"""From an empty project to a finished video through the real interface."""

import subprocess
import sys

import av
import cv2
import numpy as np
import pytest
from playwright.sync_api import expect
from tests.build import png
from tests.e2e.steps import (
    at,
    click_stage,
    document,
    drag,
    drag_on_stage,
    field,
    go_to,
    keys_of,
    layers,
    new_project,
    new_scene,
    settle,
)

pytestmark = pytest.mark.xdist_group("browser-1")


def test_from_an_empty_project_to_an_mp4(page, server, tmp_path):
    new_project(page, server, "Evening flight")
    new_scene(page, "Opening", "2s")
    assert layers(page) == []

    # A backdrop, a shape drawn on the stage, a text typed on the stage, an uploaded picture.
    page.get_by_role("button", name="Add a backdrop").click()
    settle(page)
    page.locator('[data-tool="rectangle"]').click()
    drag_on_stage(page, (140, 420), (340, 540))
    page.locator('[data-tool="text"]').click()
    page.mouse.click(*at(page, 640, 200))
    page.locator(".editing-text").fill("Gullwing Bay")
    page.keyboard.press("Control+Enter")
    settle(page)
    page.set_input_files("#file-input", [])
    with page.expect_file_chooser() as chooser:
        page.get_by_role("button", name="Add a picture").click()
    chooser.value.set_files({"name": "kite.png", "mimeType": "image/png", "buffer": png(120, 90)})
    page.wait_for_function("() => youngComet.editor.layers.length === 4")
    settle(page)
    assert [la["name"] for la in layers(page)] == ["Backdrop", "Rectangle", "Gullwing Bay", "kite"]
    assert layers(page)[1]["properties"]["shape.size"]["value"] == [200, 120]

    # Keys set by dragging on the stage at two times, and an easing changed in the lane.
    click_stage(page, 200, 440)
    expect(page.locator(".who-row input")).to_have_value("Rectangle")
    field(page, "position").locator(".keystate").click()
    settle(page)
    go_to(page, "1.6s")
    drag_on_stage(page, (200, 440), (900, 470), "Alt")
    keys = keys_of(page, "Rectangle", "position")
    assert [key["time_s"] for key in keys] == [0, 1.6]
    assert keys[0]["value"] == [240, 480]
    assert keys[1]["value"] == pytest.approx([940, 510], abs=3)
    lane = page.locator('.lane-line[data-lane="position"]')
    lane.locator(f'[data-key="{keys[0]["id"]}"]').click()
    settle(page)
    page.get_by_role("button", name="ease-out", exact=True).click()
    settle(page)
    assert keys_of(page, "Rectangle", "position")[0]["easing"] == "ease-out"
    finished = document(page)

    # Undo back to empty, a restart of the server, and everything again.
    address = page.url
    while page.get_by_role("button", name="Undo").is_enabled():
        if not document(page)["scenes"][0]["layers"]:
            break
        page.keyboard.press("Control+z")
        settle(page)
    assert layers(page) == []
    server.stop()
    server.start()
    page.goto(address)
    settle(page)
    assert layers(page) == []
    while page.get_by_role("button", name="Redo").is_enabled():
        page.keyboard.press("Control+Shift+z")
        settle(page)
    assert document(page) == finished

    # Rendered, played in the page, downloaded.
    page.get_by_role("button", name="Render", exact=True).click()
    page.locator("#render-quality").select_option("best")
    page.locator("dialog[open] button.main-action").click()
    page.get_by_role("button", name="Show renders").click()
    row = page.locator(".render-row").first  # the newest: other tests render, too
    expect(row).to_have_attribute("data-status", "done", timeout=90_000)
    video = row.locator("video")
    page.wait_for_function("() => document.querySelector('video').readyState >= 2")
    assert video.evaluate("v => [v.videoWidth, v.videoHeight, v.duration]") == pytest.approx(
        [1280, 720, 2.0], abs=0.05
    )
    video.evaluate("v => v.play()")
    page.wait_for_function("() => document.querySelector('video').currentTime > 0.2")
    with page.expect_download() as download:
        row.get_by_role("link", name="Download").click()
    target = tmp_path / "opening.mp4"
    download.value.save_as(target)
    assert download.value.suggested_filename == "opening.mp4"

    # The video is what `young-comet frame` shows.
    with av.open(str(target)) as opened:
        stream = opened.streams.video[0]
        assert (stream.width, stream.height, stream.average_rate) == (1280, 720, 25)
        planes = [frame.to_ndarray(format="yuv420p") for frame in opened.decode(stream)]
    assert len(planes) == 50
    for number in (0, 20, 49):
        still = tmp_path / "frame.png"
        command = [sys.executable, "-m", "young_comet.cli", "frame", "Evening flight", "Opening"]
        command += ["--at", f"{number}f", "--out", str(still), "--data", str(server.data)]
        subprocess.run(command, check=True, capture_output=True, timeout=120)
        luma = 16 + (cv2.imread(str(still)).astype(float) @ [0.0722, 0.7152, 0.2126]) * 219 / 255
        assert np.abs(planes[number][:720] - luma).mean() < 1.5


def test_two_tabs_stay_in_step_and_conflicts_are_told(page, server, context):
    new_project(page, server, "Two tabs")
    new_scene(page, "Shared")
    page.locator('[data-tool="ellipse"]').click()
    drag_on_stage(page, (300, 200), (500, 400))
    other = context.new_page()
    other.goto(page.url)
    settle(other)
    assert [la["name"] for la in layers(other)] == ["Ellipse"]
    drag(page, at(page, 400, 300), at(page, 700, 500), "Alt")
    other.wait_for_function("() => youngComet.editor.layers[0].properties.position.value[0] > 600")
    settle(other)
    assert document(other) == document(page)
    # An edit on a revision that the other tab has left behind is refused, and nothing is lost.
    page.evaluate(
        """async () => { const e = youngComet.editor; const old = e.revision;
        const set = (x) => ({ kind: "set-values", scene: e.sceneId, time_s: 0,
          targets: [{ layer: e.layers[0].id, property: "rotation", value: x }] });
        await e.edit(set(10)); e.revision = old; e.live.handlers.onMessage = () => {};
        window.refused = !(await e.edit(set(99))); }"""
    )
    assert page.evaluate("window.refused")
    assert "changed elsewhere" in page.locator(".toast-note.bad").first.inner_text()
    assert page.evaluate("youngComet.editor.layers[0].properties.rotation.value") == 10
    other.keyboard.press("Control+z")
    other.wait_for_function("() => !youngComet.editor.layers[0].properties.rotation")
    other.close()
