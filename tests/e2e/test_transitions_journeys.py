"""Layers joined by hand: chosen among moving pictures of one's own, dragged longer on the joint,
corrected, taken off."""

import re

import pytest
from playwright.sync_api import expect
from tests.e2e.steps import OneStep, document, drag_element, layer, open_desk, settle

pytestmark = pytest.mark.xdist_group("browser-2")


def backdrop(id, start, end, colour):
    return {"id": id, "name": id.title(), "kind": "backdrop", "start_s": start, "end_s": end,
            "properties": {"fill.colour": {"value": colour}}}  # fmt: skip


@pytest.fixture
def desk(page, server):
    page.set_viewport_size({"width": 1280, "height": 800})
    layers = [backdrop("dawn", 0, 1.6, "#c04020"), backdrop("day", 1.6, 3.2, "#2060c0"),
              backdrop("dusk", 3.6, 4, "#204020")]  # fmt: skip
    page.project = open_desk(page, server, "Joints", layers, 4.0)
    return page


def choose(page, *ids):
    page.evaluate("ids => youngComet.editor.select(ids)", list(ids))
    page.get_by_role("tab", name="Moves").click()
    settle(page)


def at_rest(page):
    """What is played after a choice has been seen."""
    page.wait_for_timeout(200)
    page.wait_for_function("() => !youngComet.editor.isPlaying()", timeout=30_000)
    settle(page)


def panel(page):
    return page.locator("[data-transitions]")


def colour(page, x, y, time_s):
    url = f"{page.url.split('/projects')[0]}/api/projects/{page.project}/scenes/desk/colour"
    return page.request.get(url, params={"time_s": time_s, "x": x, "y": y}).json()["colour"]


def test_a_transition_is_chosen_dragged_set_and_taken_off(desk):
    choose(desk, "day")
    expect(panel(desk)).to_contain_text("Dawn → Day")
    push = panel(desk).locator("[data-transition-kind=push]")
    strip = push.locator(".move-strip")
    expect(strip).to_have_attribute(
        "data-strip", re.compile("day/transitions/push.jpg.*before=dawn")
    )
    shown = desk.request.get(f"{desk.url.split('/projects')[0]}{strip.get_attribute('data-strip')}")
    assert shown.ok and shown.headers["content-type"] == "image/jpeg"
    with OneStep(desk):
        push.click()
        settle(desk)
    at_rest(desk)
    (held,) = layer(desk, "day")["transitions"]
    assert (held["kind"], held["before"], held["length_s"]) == ("push", "dawn", 1)
    assert colour(desk, 100, 360, 1.6) == "#c04020" and colour(desk, 1200, 360, 1.6) == "#2060c0"
    # Its end is dragged on the joint: longer on both sides.
    arc = desk.locator("[data-joint=day]")
    expect(arc).to_be_visible()
    grip = desk.locator('[data-bar="joint-end"]')
    with OneStep(desk):
        drag_element(desk, grip, 60)
        settle(desk)
    longer = layer(desk, "day")["transitions"][0]["length_s"]
    assert longer > 1.3
    seen = desk.evaluate("youngComet.editor.view.day.transition")
    assert seen["end_s"] - 1.6 == pytest.approx(1.6 - seen["begin_s"]) == pytest.approx(longer / 2)
    desk.get_by_label("Length of the transition").fill("0.4s")
    desk.get_by_label("Length of the transition").press("Enter")
    settle(desk)
    assert layer(desk, "day")["transitions"][0]["length_s"] == 0.4
    # Its fields, another kind, off, away and back.
    panel(desk).get_by_role("button", name="Its fields").click()
    desk.locator('[data-property$=".lies"] select').select_option("after")
    settle(desk)
    assert desk.evaluate("youngComet.editor.view.day.transition.begin_s") == pytest.approx(1.6)
    panel(desk).get_by_role("button", name="Another").click()
    panel(desk).locator("[data-transition-kind=iris]").click()
    settle(desk)
    at_rest(desk)
    assert layer(desk, "day")["transitions"][0]["kind"] == "iris"
    panel(desk).get_by_label("Transition on").uncheck()
    settle(desk)
    expect(panel(desk)).to_contain_text("It is off.")
    with OneStep(desk):
        panel(desk).get_by_role("button", name="Take the transition off").click()
        settle(desk)
    assert layer(desk, "day")["transitions"] == []
    expect(arc).to_have_count(0)


def test_layers_that_do_not_meet_are_told_apart(desk):
    choose(desk, "day", "dusk")
    panel(desk).locator("[data-transition-kind=wipe]").click()
    expect(desk.locator(".toast-note").last).to_contain_text("they do not meet")
    choose(desk, "dusk")
    expect(panel(desk)).to_have_count(0)
    choose(desk, "dawn", "day")
    panel(desk).locator("[data-transition-kind=cross-fade]").click()
    settle(desk)
    at_rest(desk)
    desk.evaluate("""async () => { const e = youngComet.editor; await e.edit({ kind: "set-spans",
        scene: "desk", spans: [{ layer: "day", start_s: 2, end_s: 3.2 }] }); }""")
    settle(desk)
    choose(desk, "day")
    expect(panel(desk)).to_contain_text("Dawn ends at 1.6 s, Day begins at 2 s.")
    expect(desk.locator("path.joint.idle")).to_have_count(1)


def test_two_scenes_are_matched_and_a_pair_is_corrected(page, server):
    """The kite of the title becomes that of the logo; told otherwise it goes by itself."""
    page.set_viewport_size({"width": 1280, "height": 800})
    page.project = "kite-week"
    page.goto(f"{server.url}/projects/kite-week/scenes/week-in-short")
    settle(page)
    choose(page, "reveal")
    expect(panel(page)).to_contain_text("Title → Reveal")
    kite = panel(page).locator(".thread-end").filter(has_text=re.compile("^Kite$"))
    expect(kite).to_have_attribute("aria-label", "Kite becomes Kite emblem")
    threads = panel(page).locator(".thread-lines .thread")
    count = threads.count()
    scene = next(s for s in document(page)["scenes"] if s["id"] == "week-in-short")
    reveal = next(each for each in scene["layers"] if each["id"] == "reveal")
    assert reveal["transitions"][0]["pairs"] == []
    with OneStep(page):
        kite.click()
        panel(page).get_by_role("button", name="nothing", exact=True).click()
        settle(page)
    assert layer(page, "reveal")["transitions"][0]["pairs"] == [["kite", ""]]
    expect(kite).to_have_attribute("aria-label", "Kite becomes nothing, as corrected")
    expect(threads).to_have_count(count - 1)
    kite.click()
    panel(page).get_by_role("button", name="Amber bow", exact=True).click()
    settle(page)
    assert layer(page, "reveal")["transitions"][0]["pairs"] == [["kite", "bow-1"]]
    kite.click()
    panel(page).get_by_role("button", name="as found").click()
    settle(page)
    assert layer(page, "reveal")["transitions"][0]["pairs"] == []
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    settle(page)


def test_a_transition_is_let_go_on_a_joint(desk):
    choose(desk, "day")
    tile = panel(desk).locator("[data-transition-kind=iris]")
    row = desk.locator('.row-line[data-layer="dawn"]')
    box = row.bounding_box()
    ruler = desk.locator("#ruler").bounding_box()
    x = ruler["x"] + desk.evaluate("youngComet.timeline.x(1.6)") - box["x"]
    with OneStep(desk):
        tile.drag_to(row, target_position={"x": x - 8, "y": 12})
        settle(desk)
    at_rest(desk)
    (held,) = layer(desk, "day")["transitions"]
    assert (held["kind"], held["before"]) == ("iris", "dawn")
    # Beside a joint, or where layers do not meet, it is not taken.
    away = desk.evaluate("youngComet.timeline.x(0.5)") + ruler["x"] - box["x"]
    panel(desk).get_by_role("button", name="Another").click()
    panel(desk).locator("[data-transition-kind=push]").drag_to(
        row, target_position={"x": away, "y": 12}
    )
    settle(desk)
    assert layer(desk, "day")["transitions"][0]["kind"] == "iris"
