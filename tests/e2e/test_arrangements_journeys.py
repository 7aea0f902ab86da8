"""Three arrangements made of one set of layers by moving things on the stage; retimed, removed,
undone; who is there; keys of all of them and back."""

import pytest
from playwright.sync_api import expect
from tests.e2e.steps import (
    OneStep,
    document,
    drag_element,
    drag_on_stage,
    go_to,
    layer,
    open_desk,
    settle,
)

pytestmark = pytest.mark.xdist_group("browser-1")


def shape(id, x, colour, **more):
    return {"id": id, "name": id.title(), "kind": "shape", "start_s": 0, "end_s": 6, "properties": {
        "shape.size": {"value": [200, 160]}, "position": {"value": [x, 360]},
        "fill.colour": {"value": colour}, **more}}  # fmt: skip


@pytest.fixture
def desk(page, server):
    page.set_viewport_size({"width": 1280, "height": 800})
    name = {"id": "name", "name": "Name", "kind": "text", "start_s": 0, "end_s": 6, "properties": {
        "text": {"value": "Gust"}, "text.size": {"value": 80}, "position": {"value": [640, 600]}}}  # fmt: skip
    layers = [shape("left", 300, "#c04020"), shape("right", 900, "#2060c0"), name]
    page.project = open_desk(page, server, "Arranged", layers, 6.0)
    return page


def row(page):
    """The arrangements with when they hold."""
    told = page.evaluate("youngComet.editor.arranging.told.row.map((r) => [r.begin_s, r.end_s])")
    names = [each["name"] for each in document(page)["scenes"][0]["arrangements"]]
    return [
        (name, round(begin, 2), round(end, 2))
        for name, (begin, end) in zip(names, told, strict=True)
    ]


def card(page, name):
    return page.locator("[data-arrangement]").filter(has_text=name)


def said(page, index, layer_id):
    stands = document(page)["scenes"][0]["arrangements"][index]["stands"]
    return next((each["values"] for each in stands if each["layer"] == layer_id), {})


def colour(page, x, y, time_s):
    url = f"{page.url.split('/projects')[0]}/api/projects/{page.project}/scenes/desk/colour"
    return page.request.get(url, params={"time_s": time_s, "x": x, "y": y}).json()["colour"]


def three(page):
    """The first as it stands; a second and a third in which things are moved about by hand."""
    page.get_by_role("button", name="Keep what stands as an arrangement").click()
    settle(page)
    expect(card(page, "Arrangement 1")).to_be_visible()
    go_to(page, "2s")
    page.get_by_role("button", name="Add an arrangement").click()
    settle(page)
    page.keyboard.press("Escape")
    drag_on_stage(page, (300, 360), (500, 240))
    go_to(page, "4s")
    page.get_by_role("button", name="Add an arrangement").click()
    settle(page)
    page.keyboard.press("Escape")
    drag_on_stage(page, (900, 360), (1000, 500))


def test_three_arrangements_are_made_by_moving_things_on_the_stage(desk):
    three(desk)
    assert row(desk) == [
        ("Arrangement 1", 0, 1.4), ("Arrangement 2", 2, 3.4), ("Arrangement 3", 4, 6),
    ]  # fmt: skip
    assert layer(desk, "left")["properties"]["position"]["value"] == [300, 360]
    assert said(desk, 1, "left")["position"] == pytest.approx([500, 240], abs=3)
    assert said(desk, 2, "left")["position"] == pytest.approx([500, 240], abs=3)
    assert "right" not in {
        each["layer"] for each in document(desk)["scenes"][0]["arrangements"][1]["stands"]
    }
    assert said(desk, 2, "right")["position"] == pytest.approx([1000, 500], abs=3)
    # The stage shows each where it holds, and the way between them.
    assert colour(desk, 300, 360, 0.5) == "#c04020" and colour(desk, 500, 240, 0.5) == "#000000"
    assert colour(desk, 500, 240, 2.5) == "#c04020" and colour(desk, 900, 360, 2.5) == "#2060c0"
    assert colour(desk, 1000, 500, 5) == "#2060c0"
    assert colour(desk, 400, 300, 1.7) == "#c04020"
    # The field shows what stands there, and says that it differs.
    field = desk.locator('.prop[data-property="position"]')
    expect(field.locator("input").first).to_have_value("1000")
    expect(field.locator(".label")).to_have_class(r"label drag set arranged")
    card(desk, "Arrangement 1").click()
    settle(desk)
    assert desk.evaluate("youngComet.editor.frame") == 0
    expect(field.locator("input").first).to_have_value("900")


def test_one_is_retimed_one_removed_and_undone(desk):
    three(desk)
    before = row(desk)
    with OneStep(desk):
        drag_element(desk, card(desk, "Arrangement 1").locator("[data-edge=end]"), -60)
    retimed = row(desk)
    shorter = before[0][2] - retimed[0][2]
    assert 0.3 < shorter < 0.8
    for (_, begin, _), (_, now, _) in zip(before[1:], retimed[1:], strict=True):
        assert begin - now == pytest.approx(shorter, abs=0.011)
    with OneStep(desk):
        drag_element(desk, card(desk, "Arrangement 2").locator("[data-edge=begin]"), 40)
    assert row(desk)[1][1] > retimed[1][1] + 0.2
    desk.keyboard.press("Control+z")
    settle(desk)
    assert row(desk) == retimed
    card(desk, "Arrangement 2").focus()
    with OneStep(desk):
        desk.keyboard.press("Delete")
        settle(desk)
    assert [each[0] for each in row(desk)] == ["Arrangement 1", "Arrangement 3"]
    desk.keyboard.press("Control+z")
    settle(desk)
    assert row(desk) == retimed
    desk.keyboard.press("Control+z")
    settle(desk)
    assert row(desk) == before


def test_cards_are_named_walked_and_moved(desk):
    three(desk)
    card(desk, "Arrangement 2").dblclick(position={"x": 40, "y": 12})
    field = desk.locator(".arrangement-name")
    field.fill("Hold")
    field.press("Enter")
    settle(desk)
    expect(card(desk, "Hold")).to_be_visible()
    card(desk, "Hold").click()
    settle(desk)
    desk.keyboard.press("ArrowLeft")
    settle(desk)
    assert desk.evaluate("youngComet.editor.frame") == 0
    desk.keyboard.press("Alt+Shift+ArrowDown")
    settle(desk)
    assert desk.evaluate("youngComet.editor.arranging.here.name") == "Hold"
    desk.keyboard.press("Shift+ArrowRight")  # its hold a frame longer, by the keys
    settle(desk)
    assert row(desk)[1][2] == pytest.approx(3.44)
    start, goal = card(desk, "Hold").bounding_box(), card(desk, "Arrangement 3").bounding_box()
    with OneStep(desk):
        desk.mouse.move(start["x"] + 50, start["y"] + 12)
        desk.mouse.down()
        desk.mouse.move(goal["x"] + goal["width"] - 8, goal["y"] + 12, steps=6)
        desk.mouse.up()
        settle(desk)
    assert [each[0] for each in row(desk)] == ["Arrangement 1", "Arrangement 3", "Hold"]


def test_who_is_there_what_differs_and_what_is_the_same_in_all(desk):
    three(desk)
    desk.evaluate("youngComet.editor.select(['name'])")
    settle(desk)
    stands = desk.locator("#stands")
    with OneStep(desk):
        stands.get_by_role("button", name="Arrangement 2").click()
        settle(desk)
    expect(stands.get_by_role("button", name="Arrangement 2")).to_have_attribute(
        "aria-pressed", "false"
    )
    expect(desk.locator('[data-layer="name"] .away-span')).to_have_count(1)
    assert colour(desk, 640, 600, 2.5) == "#000000"
    # Its words are others in the third.
    words = desk.locator('.prop[data-property="text"] textarea')
    words.fill("Let go")
    words.press("Tab")
    settle(desk)
    assert said(desk, 2, "name")["text"] == "Let go"
    assert layer(desk, "name")["properties"]["text"]["value"] == "Gust"
    expect(stands).to_contain_text("Differs: Text")
    with OneStep(desk):
        stands.get_by_role("button", name="Same in all").click()
        settle(desk)
    assert layer(desk, "name")["properties"]["text"]["value"] == "Let go"
    # Keys of its own take over, visibly, or add.
    desk.evaluate("youngComet.editor.select(['left'])")
    settle(desk)
    desk.locator(
        '.prop[data-property="position"] .key-dot, .prop[data-property="position"] [aria-label^="Animate"]'
    ).first.click()
    settle(desk)
    assert layer(desk, "left")["properties"]["position"]["keys"]
    expect(stands).to_contain_text("keys take over")
    stands.get_by_role("button", name="Add").click()
    settle(desk)
    expect(stands).to_contain_text("keys add to it")


def test_the_settings_of_a_step_and_all_into_keys(desk):
    three(desk)
    desk.locator("[data-step]").first.locator(".hit").click()
    settle(desk)
    panel = desk.locator("#arrangement-panel")
    expect(panel).to_contain_text("to Arrangement 2")
    panel.get_by_label("Length of the step").fill("1s")
    panel.get_by_label("Length of the step").press("Enter")
    settle(desk)
    panel.get_by_role("button", name="Arc").click()
    settle(desk)
    panel.get_by_label("Bend of the arc").fill("100")
    panel.get_by_label("Bend of the arc").press("Enter")
    settle(desk)
    panel.get_by_label("Easing of the step").select_option("linear")
    settle(desk)
    step = document(desk)["scenes"][0]["arrangements"][0]["step"]
    assert (step["length_s"], step["path"], step["bend"], step["easing"]) == (1, "arc", 1, "linear")
    # Half a circle over the way from 300, 360 to 500, 240: its top.
    assert colour(desk, 340, 200, 1.9) == "#c04020"
    panel.get_by_role("button", name="Drawn").click()
    expect(desk.locator(".toast-note").last).to_contain_text("Draw a path first")
    with OneStep(desk):
        panel.get_by_role("button", name="Turn all arrangements into keys").click()
        settle(desk)
    assert document(desk)["scenes"][0]["arrangements"] == []
    assert len(layer(desk, "left")["properties"]["position"]["keys"]) == 2
    assert colour(desk, 340, 200, 1.9) == "#c04020"
    expect(desk.locator("#arrangement-row")).to_be_hidden()
    desk.keyboard.press("Control+z")
    settle(desk)
    expect(card(desk, "Arrangement 3")).to_be_visible()


def test_in_all_at_once(desk):
    three(desk)
    desk.get_by_role("button", name="Work in all arrangements").click()
    card(desk, "Arrangement 1").click()
    settle(desk)
    desk.keyboard.press("Escape")
    with OneStep(desk):
        drag_on_stage(desk, (300, 360), (300, 260))
    moved = layer(desk, "left")["properties"]["position"]["value"][1] - 360
    assert moved == pytest.approx(-100, abs=4)
    assert said(desk, 1, "left")["position"][1] == pytest.approx(240 + moved, abs=3)
