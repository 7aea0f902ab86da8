"""What the pointer and the keys do on the stage: one mode at a time, visits that go back, commands
that say why not."""

from __future__ import annotations

import pytest
from playwright.sync_api import expect
from tests.e2e.steps import (
    OneStep,
    at,
    choose,
    click_stage,
    drag_on_stage,
    history,
    layer,
    layers,
    open_desk,
    settle,
    tab,
)

pytestmark = pytest.mark.xdist_group("browser-2")

LAYERS = [
    {"id": "sky", "name": "Sky", "kind": "backdrop", "start_s": 0, "end_s": 3,
     "properties": {"fill.kind": {"value": "linear"}}},
    {"id": "kite", "name": "Kite", "kind": "shape", "start_s": 0, "end_s": 3,
     "properties": {"shape.size": {"value": [400, 300]}, "position": {"value": [500, 360]}}},
    {"id": "name", "name": "Name", "kind": "text", "start_s": 0, "end_s": 3,
     "properties": {"text": {"value": "Bay"}, "position": {"value": [1000, 200]}}},
]  # fmt: skip


@pytest.fixture
def desk(page, server):
    """A backdrop with a gradient, a kite, a name."""
    page.project = open_desk(page, server, "Modes", LAYERS, 3.0)
    return page


def mode(page) -> list[str]:
    """The mode that lasts, and the visits on top of it."""
    return page.evaluate("youngComet.editor.modes.all.map((each) => each.id)")


def hint(page) -> str:
    return (
        page.locator("#mode-hint").inner_text() if page.locator("#mode-hint").is_visible() else ""
    )


def test_what_takes_long_is_coarse_while_the_hand_moves_and_whole_when_it_rests(desk):
    blurs = [{"member": {"id": f"b{n}", "kind": "zoom-blur"}} for n in range(4)]
    desk.evaluate(
        """(members) => youngComet.editor.edit({kind: "add-members", family: "effect",
            scene: youngComet.editor.sceneId, layers: ["name"], members})""",
        blurs,
    )
    choose(desk, "name")
    seen = """() => {
        window.widths = new Set();
        youngComet.editor.on("presented", () => widths.add(youngComet.stage.canvas.width));
    }"""
    desk.evaluate(seen)
    before = history(desk)
    x, y = at(desk, 1000, 200)
    desk.mouse.move(x, y)
    desk.mouse.down()
    for step in range(300):
        desk.mouse.move(x - 4 * (step % 60), y + 2 * (step % 60))
        desk.wait_for_timeout(16)
        if step >= 30 and desk.evaluate("window.widths.has(480)"):
            break
    assert desk.evaluate("[...window.widths].filter((width) => width !== 960)") == [480]
    desk.wait_for_function("() => youngComet.stage.canvas.width === 960")
    assert desk.evaluate("() => youngComet.editor.isPreviewing && !youngComet.editor.coarse")
    desk.mouse.up()
    settle(desk)
    assert desk.evaluate("() => youngComet.stage.canvas.width") == 960
    assert history(desk) == before + 1


@pytest.mark.parametrize(
    ("key", "name", "words"),
    [("2", "rectangle", "Drag the shape"), ("6", "line", "Drag the line"), ("7", "pen", "Click points"),
     ("8", "text", "Click where"), ("9", "pencil", "Draw the path")],
)  # fmt: skip
def test_a_tool_says_what_to_do_and_escape_puts_it_away(desk, key, name, words):
    desk.keyboard.press(key)
    assert mode(desk) == [name] and words in hint(desk)
    assert desk.locator(f'[data-tool="{name}"]').get_attribute("aria-pressed") == "true"
    desk.keyboard.press("Escape")
    assert mode(desk) == ["select"] and hint(desk) == ""


@pytest.mark.parametrize("name", ["Rectangle", "Ellipse", "Polygon", "Star"])
def test_forms_are_drawn_where_the_hand_went(desk, name):
    desk.get_by_role("button", name=name, exact=True).click()
    with OneStep(desk):
        drag_on_stage(desk, (200, 100), (420, 260), "Shift")
    made = layers(desk)[-1]
    assert made["name"] == name and mode(desk) == ["select"]
    x, y = made["properties"]["position"]["value"]
    assert (x, y) == (pytest.approx(310, abs=2), pytest.approx(210, abs=2))  # made even: 220 by 220


def test_a_mask_is_dragged_by_its_body_and_corners_and_gone_with_undo(desk):
    choose(desk, "kite")
    tab(desk, "Looks")
    desk.get_by_role("button", name="A rectangular mask").click()
    assert mode(desk) == ["rectangle"] and "mask" in hint(desk)
    drag_on_stage(desk, (420, 300), (580, 420))
    settle(desk)
    assert mode(desk) == ["mask"]
    (mask,) = layer(desk, "kite")["masks"]
    name = f"mask.{mask['id']}"
    with OneStep(desk):
        drag_on_stage(desk, (500, 360), (540, 380))
    assert layer(desk, "kite")["properties"][f"{name}.position"]["value"] == pytest.approx(
        [40, 20], abs=1
    )
    with OneStep(desk):
        drag_on_stage(desk, (620, 440), (660, 470))
    assert layer(desk, "kite")["properties"][f"{name}.scale"]["value"][0] > 130
    for _ in range(3):
        desk.keyboard.press("Control+z")
        settle(desk)
    assert layer(desk, "kite")["masks"] == []
    # Without its mask the layer itself is taken hold of.
    with OneStep(desk):
        drag_on_stage(desk, (500, 360), (520, 360))
    assert layer(desk, "kite")["properties"]["position"]["value"][0] == pytest.approx(520, abs=1)


def test_visits_go_back_to_what_was_under_way(desk):
    desk.keyboard.press("7")
    for place in ((300, 200), (500, 150)):
        click_stage(desk, *place)
    desk.keyboard.down("Space")
    assert mode(desk) == ["pen", "move-view"]
    before = at(desk, 300, 200)
    drag_on_stage(desk, (300, 400), (360, 430))
    desk.keyboard.up("Space")
    assert mode(desk) == ["pen"] and at(desk, 300, 200) != before
    assert desk.evaluate("youngComet.player.playing") is False
    click_stage(desk, 480, 320)
    with OneStep(desk):
        desk.keyboard.press("Enter")
        settle(desk)
    path = layers(desk)[-1]
    assert path["name"] == "Path" and path["properties"]["shape.path"]["value"].count("L") == 2
    x, y = path["properties"]["position"]["value"]
    assert (x, y) == (pytest.approx(400, abs=2), pytest.approx(235, abs=2))


def test_what_is_asked_for_is_clicked_or_given_up(desk):
    choose(desk, "name")
    desk.keyboard.press("Alt+r")
    assert mode(desk) == ["select", "ask-layer"] and "ride" in hint(desk)
    desk.keyboard.press("Escape")
    assert mode(desk) == ["select"] and layer(desk, "name")["rides"] is None
    desk.keyboard.press("Alt+r")
    with OneStep(desk):
        desk.locator('.row-line[data-layer="kite"] .row-name').click()
        settle(desk)
    assert layer(desk, "name")["rides"] == "kite" and mode(desk) == ["select"]
    desk.keyboard.press("Alt+t")
    assert mode(desk) == ["select", "tie"] and "moment" in hint(desk)
    # A press on the stage is no moment: it does what it always does.
    click_stage(desk, 500, 360)
    desk.wait_for_timeout(300)
    settle(desk)
    assert mode(desk) == ["select"]
    assert desk.evaluate("[...youngComet.editor.selected]") == ["kite"]


def test_a_gradient_is_dragged_by_its_end_and_its_stops(desk):
    choose(desk, "sky")
    end = desk.locator('[data-gradient="end"]').bounding_box()
    with OneStep(desk):
        desk.mouse.move(end["x"] + 5, end["y"] + 5)
        desk.mouse.down()
        desk.mouse.move(end["x"] + 45, end["y"] - 55, steps=4)
        desk.mouse.up()
        settle(desk)
    scale = desk.evaluate("youngComet.stage.scale")
    x, y = layer(desk, "sky")["properties"]["fill.end"]["value"]
    assert x == pytest.approx(50 + 40 / scale / 12.8, abs=0.2)
    assert y == pytest.approx(100 - 60 / scale / 7.2, abs=0.2)


def test_points_stay_in_hand_through_undo_and_go_with_the_layer(desk):
    choose(desk, "kite")
    desk.keyboard.press("Control+p")
    expect(desk.locator(".toast-note").last).to_contain_text("no path of its own")
    desk.keyboard.press("Control+k")
    desk.get_by_label("Find anything").locator("input").fill("make editable")
    desk.keyboard.press("Enter")
    settle(desk)
    desk.keyboard.press("Control+p")
    assert mode(desk) == ["points"] and "Drag points" in hint(desk)
    with OneStep(desk):
        drag_on_stage(desk, (300, 210), (260, 190))
    assert mode(desk) == ["points"]
    steps = history(desk)
    desk.keyboard.press("Escape")
    desk.keyboard.press("Control+p")
    desk.keyboard.press("Delete")
    settle(desk)
    assert history(desk) == steps  # nothing chosen: neither a point nor the layer goes
    choose(desk, "name")
    assert mode(desk) == ["select"]


def test_commands_say_why_they_cannot_be_done(desk):
    choose(desk)
    desk.keyboard.press("Control+g")
    expect(desk.locator(".toast-note").last).to_contain_text("Select a layer first")
    desk.keyboard.press("Control+k")
    desk.get_by_label("Find anything").locator("input").fill("ungroup")
    entry = desk.locator(".finder-list button", has_text="Ungroup")
    expect(entry).to_be_disabled()
    expect(entry).to_contain_text("Nothing selected is in a group")
    desk.keyboard.press("Enter")
    assert desk.locator("dialog[open]").count() == 1
    desk.keyboard.press("Escape")
    choose(desk, "kite")
    desk.locator('.row-line[data-layer="kite"] .row-name').click(button="right")
    menu = desk.locator("#layer-menu")
    menu.get_by_text("Paste what").wait_for()
    expect(menu.locator("button", has_text="Paste what")).to_be_disabled()
    assert (
        menu.locator("button", has_text="Paste what").get_attribute("title")
        == "Copy a layer first."
    )
    expect(menu.locator("button", has_text="Group")).to_be_enabled()
    with OneStep(desk):
        menu.locator("button", has_text="Hide or show").click()
        settle(desk)
    assert layer(desk, "kite")["hidden"]


def test_the_sheet_of_keys_is_searched(desk):
    desk.keyboard.press("?")
    sheet = desk.locator("dialog[open]")
    search = sheet.get_by_label("Search the keys")
    expect(search).to_be_focused()
    search.fill("one frame")
    expect(sheet.locator("h3")).to_have_text(["Time", "Keys"])
    keys = sheet.locator(".keys-sections kbd")
    expect(keys).to_have_text(["Left", "Right", "Alt+Left", "Alt+Right"])
    search.fill("swim")
    expect(sheet.get_by_text("No key does that")).to_be_visible()


def test_escape_gives_up_a_drag_before_the_mode(desk):
    choose(desk, "kite")
    tab(desk, "Looks")
    desk.get_by_role("button", name="A half plane").click()
    settle(desk)
    assert mode(desk) == ["mask"]
    steps, start = history(desk), layer(desk, "kite")["start_s"]
    bar = desk.locator('.row-line[data-layer="kite"] [data-bar="slide"]').bounding_box()
    desk.mouse.move(bar["x"] + 80, bar["y"] + 8)
    desk.mouse.down()
    desk.mouse.move(bar["x"] + 180, bar["y"] + 8, steps=4)
    desk.keyboard.press("Escape")
    desk.mouse.up()
    settle(desk)
    assert mode(desk) == ["mask"]
    assert history(desk) == steps and layer(desk, "kite")["start_s"] == start
    desk.keyboard.press("Escape")
    assert mode(desk) == ["select"]


def test_a_hand_that_is_quicker_than_the_server_drags_all_the_same(desk):
    """What is under the pointer is answered only after it was let go: a layer is moved, and a frame
    about all of them chooses them."""
    held = []
    desk.route("**/pick*", lambda route: held.append(route))

    def flick(start, end):
        desk.mouse.move(*at(desk, *start))
        desk.mouse.down()
        desk.mouse.move(*at(desk, *end), steps=3)
        desk.mouse.up()
        desk.wait_for_timeout(100)
        held.pop().continue_()

    with OneStep(desk):
        flick((500, 360), (560, 300))
        settle(desk)
    moved = layer(desk, "kite")["properties"]["position"]["value"]
    assert moved == [pytest.approx(560, abs=6), pytest.approx(300, abs=6)]
    assert layer(desk, "kite")["start_s"] == 0 and desk.evaluate("!youngComet.editor.isPreviewing")
    flick((60, 60), (1250, 650))
    settle(desk)
    assert sorted(desk.evaluate("[...youngComet.editor.selected]")) == ["kite", "name"]


def test_a_flight_that_is_ended_by_a_tool_shows_nothing_of_it(desk):
    choose(desk, "kite")
    desk.evaluate(
        "youngComet.editor.enter('fly', {layer: 'kite', speed: 0.25, count: 0, by: 'seconds', tolerance: 8})"
    )
    assert mode(desk) == ["select", "fly"] and "Take hold" in hint(desk)
    steps = history(desk)
    x, y = at(desk, 500, 360)
    desk.mouse.move(x, y)
    desk.mouse.down()
    desk.mouse.move(x + 60, y + 30, steps=5)
    desk.wait_for_function("() => youngComet.editor.isPreviewing")
    desk.keyboard.press("2")
    assert mode(desk) == ["rectangle"]
    assert desk.evaluate("youngComet.editor.isPreviewing") is False
    desk.mouse.up()
    settle(desk)
    assert history(desk) == steps and mode(desk) == ["rectangle"]
