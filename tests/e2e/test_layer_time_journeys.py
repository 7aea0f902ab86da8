"""Layer time, marks and comparing on the timing desk."""

from __future__ import annotations

import pytest
from playwright.sync_api import expect
from tests.e2e.steps import (
    OneStep,
    click_stage,
    drag,
    drag_element,
    field,
    go_to,
    settle,
)
from tests.e2e.timing_desk import command, open_timing_desk, per_second, prop, shape
from tests.footage import video

pytestmark = pytest.mark.xdist_group("browser-1")


@pytest.fixture
def desk(page, server):
    return open_timing_desk(page, server)


def test_a_clip_is_uploaded_trimmed_slipped_split_and_retimed(desk):
    desk.locator("#file-input").set_input_files(
        {"name": "clouds.mp4", "mimeType": "video/mp4", "buffer": video(50)}
    )
    desk.get_by_role("tab", name="Assets").click()
    place = desk.locator(".asset").get_by_role("button", name="Place clouds.mp4")
    place.wait_for()
    go_to(desk, "1s")
    with OneStep(desk):
        place.click()
    layer = desk.evaluate("youngComet.editor.layers.find((each) => each.kind === 'clip')")
    assert (layer["kind"], layer["start_s"], layer["end_s"]) == ("clip", 1, 3)
    id_ = layer["id"]
    desk.evaluate(f"youngComet.editor.select(['{id_}'])")
    desk.get_by_role("tab", name="Selection").click()
    row = desk.locator(f'[data-layer="{id_}"]')
    value = lambda name: (prop(desk, id_, name) or {}).get("value")  # noqa: E731

    def span():
        layer = desk.evaluate(f"youngComet.editor.layer('{id_}')")
        return [layer["start_s"], layer["end_s"]]

    with OneStep(desk):
        drag_element(desk, row.locator('[data-bar="start"]'), 0.4 * per_second(desk), keys="Alt")
    assert span()[0] == pytest.approx(1.4, abs=0.05) and value("time.offset") == pytest.approx(
        0.4, abs=0.05
    )
    desk.get_by_label("Slip", exact=True).click()
    with OneStep(desk):
        drag_element(desk, row.locator('[data-bar="slide"]'), 0.2 * per_second(desk))
    assert value("time.offset") == pytest.approx(0.2, abs=0.06)
    desk.get_by_label("Slip", exact=True).click()
    with OneStep(desk):
        drag_element(desk, row.locator('[data-bar="slide"]'), -0.4 * per_second(desk), keys="Alt")
    go_to(desk, "1.6s")
    desk.evaluate(f"youngComet.editor.select(['{id_}'])")
    with OneStep(desk):
        desk.keyboard.press("Control+Enter")
    second = desk.evaluate(
        f"youngComet.editor.layers.find((each) => each.kind === 'clip' && each.id !== '{id_}').id"
    )
    assert span()[1] == pytest.approx(1.6)
    desk.evaluate(f"youngComet.editor.select(['{second}'])")
    with OneStep(desk):
        desk.keyboard.press("Alt+End")
    assert desk.evaluate(f"youngComet.editor.layer('{second}').end_s") == 4
    # With ripple on, what follows moves along when an end is trimmed
    desk.get_by_label("Ripple", exact=True).click()
    with OneStep(desk):
        drag_element(desk, row.locator('[data-bar="end"]'), -0.2 * per_second(desk), keys="Alt")
    assert desk.evaluate(f"youngComet.editor.layer('{second}').start_s") == pytest.approx(
        span()[1], abs=0.001
    )
    desk.get_by_label("Ripple", exact=True).click()
    desk.evaluate(f"youngComet.editor.select(['{id_}'])")
    with OneStep(desk):
        field(desk, "time.speed").locator("input").fill("50")
        field(desk, "time.speed").locator("input").press("Enter")
    with OneStep(desk):
        desk.get_by_role("button", name="Fill span").click()
    with OneStep(desk):
        desk.get_by_label("Played in").fill("1s")
        desk.get_by_label("Played in").press("Enter")
    assert value("time.speed") == pytest.approx(200)
    with OneStep(desk):
        field(desk, "time.reversed").locator("input").check()
    with OneStep(desk):
        field(desk, "time.after").locator("select").select_option("there-and-back")
    with OneStep(desk):
        desk.get_by_role("button", name="Freeze here").click()
    assert value("time.frozen") is True
    with OneStep(desk):
        desk.get_by_role("button", name="Freeze here").click()
    with OneStep(desk):
        field(desk, "time.curve").locator("input").check()
    assert len(prop(desk, id_, "time.source")["keys"]) == 2
    desk.locator(f'[data-lane-layer="{id_}"][data-lane="time.source"]').wait_for()


def test_marks_are_tapped_moved_named_and_listed(desk):
    desk.wait_for_function("() => document.getElementById('filmstrip').dataset.ready === '1.000'")
    desk.keyboard.press("Space")
    # What is on the screen when a tap arrives, whenever a busy machine gets round to it.
    desk.evaluate(
        """() => { window.taps = []; addEventListener("keydown", (event) => {
            if (event.key === "Enter") window.taps.push(youngComet.editor.time); }, true); }"""
    )
    desk.wait_for_timeout(900)
    desk.keyboard.press("Shift+Enter")
    desk.wait_for_timeout(500)
    desk.keyboard.press("Shift+Enter")
    desk.wait_for_timeout(300)
    desk.keyboard.press("Space")
    settle(desk)
    # Tapping costs the player nothing: everything is still there to be played.
    assert desk.evaluate("document.getElementById('filmstrip').dataset.ready") == "1.000"
    marks = lambda: desk.evaluate("youngComet.editor.scene.marks")  # noqa: E731
    assert [mark["name"] for mark in marks()] == ["Mark 1", "Mark 2"]
    taps = desk.evaluate("window.taps")
    assert taps[1] > taps[0] and [mark["time_s"] for mark in marks()] == pytest.approx(taps)
    with OneStep(desk):
        drag_element(desk, desk.locator(".pennant path").first, 0.2 * per_second(desk))
    pennant = desk.locator(".pennant path").first.bounding_box()
    desk.mouse.dblclick(pennant["x"] + 4, pennant["y"] + 4)
    with OneStep(desk):
        desk.get_by_label("Name of the mark").fill("Gust")
        desk.keyboard.press("Enter")
    assert "Gust" in [mark["name"] for mark in marks()]
    desk.get_by_role("tab", name="Timing").click()
    desk.get_by_label("Go to Gust").click()
    assert desk.evaluate("youngComet.editor.time") == pytest.approx(
        next(m["time_s"] for m in marks() if m["name"] == "Gust")
    )
    with OneStep(desk):
        desk.get_by_label("Delete the mark").first.click()
    assert len(marks()) == 1


def test_playing_and_rendering_keep_to_the_working_range(desk):
    with OneStep(desk):
        drag_element(desk, desk.locator('rect[data-range="start"]'), 1.0 * per_second(desk))
    go_to(desk, "1.96s")
    with OneStep(desk):
        desk.keyboard.press("Shift+End")
    start, end = desk.evaluate("youngComet.editor.scene.range_s")
    assert start == pytest.approx(1.0, abs=0.05) and end == pytest.approx(2.0)
    desk.wait_for_function("() => document.getElementById('filmstrip').dataset.ready === '1.000'")
    desk.evaluate(
        "window.seen = new Set(); void youngComet.editor.on('time', () => window.seen.add(youngComet.editor.frame))"
    )
    go_to(desk, "3s")
    desk.evaluate("window.seen.clear()")
    desk.keyboard.press("Space")
    desk.wait_for_timeout(1800)
    desk.wait_for_function("window.seen.size > 10")
    desk.keyboard.press("Space")
    seen = desk.evaluate("[...window.seen]")
    assert min(seen) >= round(start * 25) and max(seen) < 50
    desk.get_by_role("button", name="Render", exact=True).click()
    expect(desk.locator("#render-from")).to_have_value(f"{start:g}s")
    expect(desk.get_by_label("To", exact=True)).to_have_value("2s")
    desk.keyboard.press("Escape")
    command(desk, "the whole scene")
    assert (
        desk.evaluate("youngComet.editor.scene.range_s") is None
        or desk.evaluate("youngComet.timeline.span") is None
    )


def test_onion_and_compare_show_other_moments(desk):
    desk.evaluate("youngComet.editor.select(['kite'])")
    go_to(desk, "0.8s")
    pixels = "youngComet.stage.context.getImageData(0, 0, 960, 540).data.reduce((a, b) => (a * 31 + b) % 1000000007, 7)"
    plain = desk.evaluate(pixels)
    desk.get_by_label("Onion view").click()
    settle(desk)
    assert desk.evaluate(pixels) != plain
    desk.get_by_label("Onion view").click()
    settle(desk)
    assert desk.evaluate(pixels) == plain
    desk.get_by_label("Compare", exact=True).click()
    desk.get_by_role("button", name="With this moment").click()
    desk.wait_for_function("() => youngComet.compare.canvas.width === 960")
    go_to(desk, "1.6s")
    other = pixels.replace("stage.context", "compare.context")
    assert desk.evaluate(other) == plain != desk.evaluate(pixels)
    divider = desk.locator("#compare-divider").bounding_box()
    drag(desk, (divider["x"] + 7, divider["y"] + 60), (divider["x"] - 100, divider["y"] + 60))
    assert desk.evaluate("youngComet.compare.part") < 0.45
    desk.get_by_label("Compare", exact=True).click()
    desk.get_by_role("button", name="Side by side").click()
    assert desk.evaluate("youngComet.stage.half") is True
    desk.get_by_label("Compare", exact=True).click()
    desk.get_by_role("button", name="Before and after the last edit").click()
    click_stage(desk, 1200, 40)
    desk.evaluate("youngComet.editor.select(['kite'])")
    box = field(desk, "opacity").locator("input")
    box.fill("20")
    box.press("Enter")
    settle(desk)
    desk.wait_for_function(f"() => ({other}) !== ({pixels})")
    desk.get_by_label("Compare", exact=True).click()
    desk.get_by_role("button", name="Stop comparing").click()
    assert desk.evaluate("youngComet.stage.half") is False


def test_the_match_finder_finds_the_moment_to_cut(desk):
    # A still copy of the kite where it is at 1.2 s: there the moving one can hand over to it.
    desk.evaluate("youngComet.editor.select(['kite'])")
    settle(desk)
    place = desk.evaluate("youngComet.editor.paths.kite.points[30]")
    still = shape(
        "still", "Still kite", 0.0, 4.0, position={"value": place}, rotation={"value": 80}
    )
    url = f"{desk.url.split('/projects')[0]}/api/projects/{desk.project}/edits"
    desk.request.post(
        url, data={"edit": {"kind": "add-layers", "scene": "desk", "layers": [still]}}
    )
    settle(desk)
    desk.get_by_role("tab", name="Timing").click()
    desk.get_by_label("What is compared").select_option("layers")
    desk.get_by_label("From layer").select_option("kite")
    desk.get_by_label("To layer").select_option("still")
    desk.get_by_role("button", name="Compare", exact=True).last.click()
    desk.locator(".match").first.wait_for()
    assert desk.locator(".match .mono").first.inner_text() == "00:01:05"
    with OneStep(desk):
        desk.get_by_label("Cut at 00:01:05").click()
    assert desk.evaluate(
        "[youngComet.editor.layer('kite').end_s, youngComet.editor.layer('still').start_s]"
    ) == [1.2, 1.2]
    desk.get_by_label("What is compared").select_option("loop")
    desk.get_by_role("button", name="Compare", exact=True).last.click()
    desk.get_by_text("It jumps when it loops").wait_for()
