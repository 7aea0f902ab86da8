"""What an artist stumbles over in the first minutes: each of it, as a hand and a keyboard do it."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect
from tests.e2e.steps import (
    OneStep,
    at,
    choose,
    click_stage,
    document,
    drag_on_stage,
    field,
    go_to,
    layer,
    layers,
    open_desk,
    settle,
    tab,
)


def shape(id, x, **more):
    return {"id": id, "name": id.title(), "kind": "shape", "start_s": 0, "end_s": 3, "properties": {
        "shape.size": {"value": [200, 160]}, "position": {"value": [x, 360]}}, **more}  # fmt: skip


LAYERS = [
    {"id": "sky", "name": "Sky", "kind": "backdrop", "start_s": 0, "end_s": 3},
    shape("sail", 300),
    shape("tail", 900),
    {"id": "name", "name": "Name", "kind": "text", "start_s": 0, "end_s": 3, "properties": {
        "text": {"value": "Gullwing"}, "text.size": {"value": 90}, "position": {"value": [640, 150]}}},
]  # fmt: skip


@pytest.fixture
def desk(page, server):
    page.project = open_desk(page, server, "At home", LAYERS, 3.0)
    return page


def mode(page) -> str:
    return page.evaluate("youngComet.editor.modes.current.id")


def names(page) -> list[str]:
    return [each["name"] for each in layers(page)]


# The body of a layer is the layer's


def test_the_middle_of_a_layer_drags_the_layer_and_its_pivot_has_a_mode(desk):
    choose(desk, "sail")
    with OneStep(desk):
        drag_on_stage(desk, (300, 360), (420, 400))
        assert layer(desk, "sail")["properties"]["position"]["value"] == pytest.approx(
            [420, 400], abs=3
        )
        assert "pivot" not in layer(desk, "sail")["properties"]
    desk.keyboard.press("Alt+p")
    expect(desk.locator("#mode-hint")).to_contain_text("Drag the pivot")
    with OneStep(desk):
        drag_on_stage(desk, (420, 400), (460, 420), "Alt")
        assert layer(desk, "sail")["properties"]["pivot"]["value"] == pytest.approx([40, 20], abs=3)
    desk.keyboard.press("Escape")
    assert mode(desk) == "select"
    assert desk.evaluate("[...youngComet.editor.selected]") == ["sail"]


def test_a_double_click_on_the_middle_of_a_text_writes_it_whatever_is_selected(desk):
    for chosen in ([], ["name"], ["sail"]):
        choose(desk, *chosen)
        desk.mouse.dblclick(*at(desk, 640, 150))
        desk.locator(".editing-text").wait_for()
        desk.keyboard.press("Escape")
        desk.locator(".editing-text").wait_for(state="detached")


def test_escape_keeps_what_was_written_and_undo_takes_it_back(desk):
    with OneStep(desk):
        desk.mouse.dblclick(*at(desk, 640, 150))
        box = desk.locator(".editing-text")
        box.wait_for()
        box.fill("Kite Week")
        desk.keyboard.press("Escape")
        settle(desk)
        assert layer(desk, "name")["properties"]["text"]["value"] == "Kite Week"


def test_typing_after_a_double_click_that_missed_does_nothing_to_layers(desk):
    choose(desk, "sail", "tail")
    before = document(desk)
    desk.mouse.dblclick(*at(desk, 640, 600))
    desk.wait_for_timeout(400)
    settle(desk)
    choose(desk, "sail")
    for key in ("Control+a", "3", "Backspace", "Delete", "x", "Enter"):
        desk.keyboard.press(key)
    settle(desk)
    assert document(desk) == before and mode(desk) == "select"
    said = desk.locator(".toast-note", has_text="Nothing is being written")
    expect(said).to_be_visible()
    desk.mouse.click(*at(desk, 300, 360))
    settle(desk)
    with OneStep(desk):
        desk.keyboard.press("Delete")
        desk.wait_for_function("() => !youngComet.editor.layer('sail')")


def test_a_press_in_the_timeline_ends_that(desk):
    desk.mouse.dblclick(*at(desk, 640, 600))
    desk.wait_for_timeout(400)
    settle(desk)
    desk.locator('.row-line[data-layer="tail"] .row-name').click()
    with OneStep(desk):
        desk.keyboard.press("Delete")
        desk.wait_for_function("() => !youngComet.editor.layer('tail')")


def test_a_new_text_begins_at_the_click_and_stays_in_the_frame(desk):
    desk.keyboard.press("8")
    desk.mouse.click(*at(desk, 900, 500))
    box = desk.locator(".editing-text")
    box.wait_for()
    desk.wait_for_function("() => youngComet.editor.modes.current.letters")
    desk.wait_for_timeout(100)
    lies = box.bounding_box()
    (left, top), (right, bottom) = at(desk, 880, 440), at(desk, 1100, 560)
    # Where the caret stands, so that what an input method shows is there.
    assert left < lies["x"] < right and top < lies["y"] < bottom
    box.fill("Gullwing Bay Kite Week, from the fourth of June on")
    desk.keyboard.press("Escape")
    settle(desk)
    written = layers(desk)[-1]
    corners = desk.evaluate(f"youngComet.editor.view[{written['id']!r}].corners")
    xs = [corner[0] for corner in corners]
    assert min(xs) == pytest.approx(900, abs=4) and max(xs) <= 1280
    assert written["name"].startswith("Gullwing Bay")


def test_clicking_beside_the_frame_deselects_whatever_is_selected(desk):
    for chosen in (["sky"], ["sail"], ["sail", "sky"], ["name"]):
        choose(desk, *chosen)
        desk.mouse.click(*at(desk, -25, 300))
        desk.wait_for_function("() => !youngComet.editor.selected.size")


# Where new things begin


def test_new_layers_begin_at_the_playhead_above_what_is_selected(desk):
    go_to(desk, "1s")
    choose(desk, "sail")
    desk.keyboard.press("2")
    drag_on_stage(desk, (500, 500), (600, 600))
    assert names(desk) == ["Sky", "Sail", "Rectangle", "Tail", "Name"]
    assert layers(desk)[2]["start_s"] == 1.0
    desk.evaluate("youngComet.editor.commands.runById('add-backdrop')")
    settle(desk)
    assert layers(desk)[0]["start_s"] == 0.0 and layers(desk)[0]["kind"] == "backdrop"
    desk.evaluate("youngComet.editor.select([])")
    desk.get_by_label("Where new layers begin").select_option("start")
    settle(desk)
    desk.keyboard.press("3")
    drag_on_stage(desk, (700, 500), (760, 560))
    assert layers(desk)[-1]["start_s"] == 0.0 and layers(desk)[-1]["name"] == "Ellipse"


def test_a_tab_stays_when_layers_are_chosen(desk):
    for name in ("Timing", "Assets", "Inks", "Moves"):
        tab(desk, name)
        click_stage(desk, 300, 360)
        click_stage(desk, 900, 360)
        expect(desk.get_by_role("tab", name=name)).to_have_attribute("aria-selected", "true")


def test_coming_back_to_a_scene_finds_it_as_it_was_left(desk):
    go_to(desk, "1.2s")
    choose(desk, "tail")
    desk.evaluate("youngComet.editor.openLayers.add('tail')")
    address = desk.url
    desk.goto(address.split("/projects")[0])
    desk.goto(address)
    settle(desk)
    assert desk.evaluate("[youngComet.editor.frame, [...youngComet.editor.selected]]") == [
        30,
        ["tail"],
    ]
    assert desk.evaluate("youngComet.editor.openLayers.has('tail')")


# The whole of a move is seen


def test_a_move_is_shown_to_its_end_and_the_playhead_goes_back(desk):
    go_to(desk, "2s")
    choose(desk, "sail")
    tab(desk, "Moves")
    desk.evaluate("""() => { window.frames_ = []; const e = youngComet.editor;
        e.on('time', () => youngComet.player.playing && window.frames_.push(e.frame)); }""")
    desk.locator(".move-entry").first.click()
    desk.wait_for_function("() => youngComet.player.playing")
    desk.wait_for_function("() => !youngComet.player.playing")
    arrives = round(layer(desk, "sail")["arrive_s"] * 25)
    shown = desk.evaluate("window.frames_")
    assert min(shown) == 0 and max(shown) >= arrives
    assert desk.evaluate("youngComet.editor.frame") == 50


# Names


def test_names_are_changed_by_f2_by_two_clicks_and_by_the_menu(desk):
    choose(desk, "sail")
    desk.keyboard.press("F2")
    with OneStep(desk):
        desk.keyboard.type("Red sail")
        desk.keyboard.press("Enter")
        desk.wait_for_function("() => youngComet.editor.layer('sail').name === 'Red sail'")
    head = desk.locator('.row-line[data-layer="tail"] .row-head')
    box = head.bounding_box()
    desk.mouse.dblclick(box["x"] + box["width"] * 0.6, box["y"] + box["height"] / 2)
    desk.keyboard.type("Long tail")
    desk.keyboard.press("Enter")
    desk.wait_for_function("() => youngComet.editor.layer('tail').name === 'Long tail'")
    desk.locator('.row-line[data-layer="name"] .row-name').click(button="right")
    desk.get_by_role("button", name=re.compile("^Rename")).click()
    desk.keyboard.type("Title")
    desk.keyboard.press("Enter")
    desk.wait_for_function("() => youngComet.editor.layer('name').name === 'Title'")


# Menus by keys


def test_menus_take_arrows_letters_and_escape_and_give_the_focus_back(desk):
    more = desk.get_by_role("button", name="layer", exact=True)
    more.focus()
    desk.keyboard.press("Enter")
    expect(more).to_have_attribute("aria-expanded", "true")
    expect(more.locator("xpath=..").locator(".menu")).to_be_visible()
    desk.keyboard.press("ArrowDown")
    first = desk.evaluate("document.activeElement.textContent.trim()")
    desk.keyboard.press("End")
    last = desk.evaluate("document.activeElement.textContent.trim()")
    desk.keyboard.press("Home")
    assert desk.evaluate("document.activeElement.textContent.trim()") == first != last
    desk.keyboard.press("t")
    assert desk.evaluate("document.activeElement.textContent.trim()")[0] in "tT"
    choose(desk, "sail")
    desk.keyboard.press("Escape")
    expect(more).to_be_focused()
    assert more.get_attribute("aria-expanded") == "false"
    assert desk.evaluate("[...youngComet.editor.selected]") == ["sail"]  # only the menu was closed
    desk.locator('.row-line[data-layer="tail"] .row-name').click(button="right")
    menu = desk.locator("#layer-menu")
    expect(menu).to_be_visible()
    desk.wait_for_timeout(120)
    desk.keyboard.press("ArrowDown")
    desk.wait_for_function("document.activeElement.closest('#layer-menu') !== null")
    desk.keyboard.press("Escape")
    expect(menu).to_be_hidden()
    assert desk.evaluate("[...youngComet.editor.selected]") == ["tail"]


# Undo says where


def test_a_step_of_another_scene_is_told_before_it_is_taken(desk, server):
    scene = {"id": "other", "name": "Name tag", "width": 1280, "height": 720, "rate": {"num": 25},
             "length_s": 2.0}  # fmt: skip
    for edit in (
        {"kind": "add-scene", "scene": scene},
        {"kind": "add-layers", "scene": "other", "layers": [shape("box", 300)]},
    ):
        url = f"{server.url}/api/projects/{desk.project}/edits"
        assert desk.request.post(url, data={"edit": edit}).ok
    desk.wait_for_function("() => youngComet.editor.project.scenes.length === 2")
    desk.keyboard.press("Control+z")
    expect(desk.locator(".toast-note", has_text="Next: in Name tag")).to_be_visible()
    assert len(document(desk)["scenes"][1]["layers"]) == 1
    desk.keyboard.press("Control+z")
    desk.wait_for_url(re.compile("/scenes/other"))
    settle(desk)
    assert layers(desk) == []
    desk.keyboard.press("Control+Shift+z")
    desk.wait_for_function("() => youngComet.editor.layers.length === 1")
    desk.get_by_role("button", name="History").click()
    expect(desk.locator(".history-list li").first).to_contain_text("Name tag")
    desk.get_by_role("checkbox", name="only this scene").check()
    expect(desk.locator(".history-list li")).to_have_count(3)  # two steps and the beginning


# The finder


@pytest.mark.parametrize(("typed", "expected"), [
    ("opacity", "Opacity (Place)"), ("tail", "Tail"), ("gaussian", "Gaussian blur"), ("lift", "Lift"),
    ("render", "Render..."), ("opacty", "Opacity"),
])  # fmt: skip
def test_everything_is_found_by_its_name(desk, typed, expected):
    choose(desk, "sail")
    desk.keyboard.press("Control+k")
    sheet = desk.get_by_label("Find anything").locator("input")
    sheet.fill(typed)
    found = desk.locator(".finder-list button")
    expect(found.filter(has_text=expected.split(" (")[0]).first).to_be_visible()
    if typed == "opacty":
        expect(desk.locator("dialog[open]")).to_contain_text("Near to it")


def test_a_property_is_jumped_to_and_what_is_not_there_is_said(desk):
    choose(desk, "sail")
    tab(desk, "Inks")
    desk.keyboard.press("Control+k")
    desk.get_by_label("Find anything").locator("input").fill("opacity")
    desk.keyboard.press("Enter")
    expect(field(desk, "opacity").first).to_be_visible()
    desk.wait_for_function("() => document.activeElement.closest('[data-property=\"opacity\"]')")
    desk.keyboard.press("Escape")
    desk.keyboard.press("Control+k")
    desk.get_by_label("Find anything").locator("input").fill("zzqx")
    expect(desk.locator("dialog[open]")).to_contain_text("Nothing is called so.")


# Assets are dragged to where they go

PICTURE = (
    b'<svg xmlns="http://www.w3.org/2000/svg" width="120" height="80">'
    b'<rect width="120" height="80" fill="#ff7a45"/></svg>'
)


@pytest.fixture
def stocked(desk):
    file = {"name": "Kite.svg", "mimeType": "image/svg+xml", "buffer": PICTURE}
    desk.set_input_files("#file-input", file)
    desk.wait_for_function("() => youngComet.editor.project.assets.length === 1")
    settle(desk)
    for each in layers(desk):
        if each["kind"] == "picture":
            choose(desk, each["id"])
            desk.keyboard.press("Delete")
            settle(desk)
    tab(desk, "Assets")
    desk.tile = desk.locator(".asset [draggable]")
    return desk


def test_an_asset_is_dragged_onto_the_stage_and_the_timeline(stocked):
    desk = stocked
    box = desk.locator("#stage").bounding_box()
    x, y = at(desk, 400, 500)
    with OneStep(desk):
        desk.tile.drag_to(
            desk.locator("#stage"), target_position={"x": x - box["x"], "y": y - box["y"]}
        )
        desk.wait_for_function("() => youngComet.editor.layers.some((l) => l.kind === 'picture')")
        placed = next(each for each in layers(desk) if each["kind"] == "picture")
        assert placed["properties"]["position"]["value"] == pytest.approx([400, 500], abs=3)
    desk.evaluate("youngComet.editor.select([])")
    row = desk.locator('.row-line[data-layer="sail"] .row-track')
    wide = row.bounding_box()
    with OneStep(desk):
        desk.tile.drag_to(row, target_position={"x": wide["width"] / 2, "y": wide["height"] / 2})
        desk.wait_for_function("() => youngComet.editor.layers.length === 6")
        kinds = [each["kind"] for each in layers(desk)]
        assert kinds == ["backdrop", "shape", "picture", "shape", "text", "picture"]
        assert 1.0 < layers(desk)[2]["start_s"] < 2.0
    assert desk.locator(".drop-before").count() == 0


def test_a_click_chooses_an_asset_and_two_place_it(stocked):
    desk = stocked
    desk.tile.click()
    expect(desk.locator(".asset.chosen")).to_have_count(1)
    assert all(each["kind"] != "picture" for each in layers(desk))
    desk.tile.dblclick()
    desk.wait_for_function("() => youngComet.editor.layers.some((l) => l.kind === 'picture')")
    name = desk.locator(".asset input.name")
    name.fill("Emblem")
    name.press("Tab")
    desk.wait_for_function("() => youngComet.editor.project.assets[0].name === 'Emblem'")


# Room for the panels


def test_the_column_takes_the_full_height_and_another_width_and_both_are_kept(desk):
    column, lower = desk.locator(".column"), desk.locator(".lower")
    first = column.bounding_box()
    desk.keyboard.press("Alt+c")
    low = column.bounding_box()
    desk.keyboard.press("Alt+c")
    tall = column.bounding_box()
    assert first == tall, "in a low window the column is at full height"
    assert tall["height"] > low["height"] + 200
    assert lower.bounding_box()["width"] == pytest.approx(tall["x"], abs=2)
    grip = desk.locator("#column-grip").bounding_box()
    desk.mouse.move(grip["x"] + 4, grip["y"] + 100)
    desk.mouse.down()
    desk.mouse.move(grip["x"] - 96, grip["y"] + 100, steps=5)
    desk.mouse.up()
    assert column.bounding_box()["width"] == pytest.approx(low["width"] + 100, abs=6)
    desk.reload()
    settle(desk)
    again = column.bounding_box()
    assert again["height"] == tall["height"] and again["width"] > low["width"] + 90
    settle(desk)
    choose(desk, "sail")
    drag_on_stage(desk, (300, 360), (340, 360), "Alt")
    assert layer(desk, "sail")["properties"]["position"]["value"][0] == pytest.approx(340, abs=3)


def test_numbers_are_dragged_in_their_fields_and_turned_by_the_wheel(desk):
    choose(desk, "sail")
    box = field(desk, "opacity").locator("input")
    place = box.bounding_box()
    x, y = place["x"] + place["width"] / 2, place["y"] + place["height"] / 2
    with OneStep(desk):
        desk.mouse.move(x, y)
        desk.mouse.down()
        desk.mouse.move(x - 30, y, steps=6)
        desk.mouse.up()
        settle(desk)
        value = layer(desk, "sail")["properties"]["opacity"]["value"]
        assert 60 <= value <= 75
    desk.mouse.click(x, y)
    expect(box).to_be_focused()
    with OneStep(desk):
        desk.mouse.wheel(0, 100)
        desk.wait_for_function(
            f"() => youngComet.editor.layer('sail').properties.opacity.value === {value - 1}"
        )
        settle(desk)
    desk.keyboard.press("Escape")
    desk.mouse.click(x, y)
    desk.keyboard.type("40")  # what is there is chosen: typing takes its place
    desk.keyboard.press("Enter")
    desk.wait_for_function("() => youngComet.editor.layer('sail').properties.opacity.value === 40")


def test_a_text_that_moves_is_written_by_a_double_click_on_its_middle(desk):
    for at_s in (0.0, 2.0):
        edit = {"kind": "set-keys", "scene": "desk", "time_s": at_s, "targets": [
            {"layer": "name", "property": "position"}]}  # fmt: skip
        desk.evaluate("(edit) => youngComet.editor.edit(edit)", edit)
    choose(desk, "name")
    go_to(desk, "1s")
    desk.mouse.dblclick(*at(desk, 640, 150))
    desk.locator(".editing-text").wait_for()
    assert desk.evaluate("youngComet.editor.frame") == 25


def test_the_line_at_the_foot_tells_what_is_under_the_pointer_and_what_a_drag_does(desk):
    over, keys = desk.locator("[data-over]"), desk.locator("[data-keys]")
    desk.locator('.row-line[data-layer="sail"] .row-track').hover(position={"x": 120, "y": 8})
    expect(over).to_contain_text("Sail")
    expect(over).to_contain_text("to 00:")
    choose(desk, "sail")
    field(desk, "opacity").locator(".label").hover()
    expect(over).to_contain_text("From 0 to 100, in percent")
    corners = desk.evaluate("youngComet.editor.view.sail.corners")
    middle = [sum(c[0] for c in corners) / 4, sum(c[1] for c in corners) / 4]
    x, y = at(desk, *middle)
    desk.mouse.move(x, y)
    expect(over).to_contain_text("Sail")
    desk.mouse.down()
    desk.mouse.move(x + 20, y, steps=4)
    desk.keyboard.down("Alt")
    desk.mouse.move(x + 30, y, steps=4)
    desk.keyboard.up("Alt")
    expect(over).to_contain_text("px at 0°")
    expect(keys).to_contain_text("along one axis")
    desk.keyboard.press("Escape")
    desk.mouse.up()
    desk.mouse.move(x, y + 2)
    expect(over).not_to_contain_text("px at")


def test_every_part_is_reached_in_a_small_window_and_with_large_letters(desk):
    for width, height in ((1024, 700), (640, 400)):
        desk.set_viewport_size({"width": width, "height": height})
        settle(desk)
        wide = desk.evaluate("document.scrollingElement.scrollWidth")
        assert wide <= width
        for part in (".tools", ".transport", ".column", "#rows", "#status-line"):
            box = desk.locator(part).bounding_box()
            assert box["x"] >= -1 and box["x"] + box["width"] <= width + 1, part
        for button in desk.locator(".tools button, .transport button, .ruler-left button").all():
            if button.is_visible():
                button.click(trial=True)
