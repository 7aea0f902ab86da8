"""Typefaces by their looks, their italics and axes, type styles, phrases that are tapped in."""

import itertools

import pytest
from playwright.sync_api import expect
from tests.e2e.steps import at, open_desk, settle
from tests.e2e.type_steps import letter, runs, title, write

WORDS = "Hold until the wind"
LAYERS = [
    {"id": "title", "name": "Title", "kind": "text", "start_s": 0, "end_s": 4,
     "properties": {"text": {"value": WORDS}, "position": {"value": [640, 300]},
                    "rotation": {"value": -8.0}, "text.size": {"value": 90.0},
                    "text.font": {"value": "unbounded"}}},
]  # fmt: skip


@pytest.fixture
def desk(page, server):
    project = open_desk(page, server, "Type", LAYERS, 4.0)
    page.project_id = project
    return page


def test_a_typeface_is_chosen_by_its_looks_and_its_features_turned_on(desk):
    desk.evaluate("youngComet.editor.select(['title'])")
    desk.get_by_role("button", name="All typefaces").first.click()
    sheet = desk.get_by_role("dialog", name="Typefaces")
    faces = sheet.locator("[data-typeface]")
    expect(faces.first).to_be_visible()
    # All of them, and the one that is worn once more among those used lately; each as words.
    assert faces.count() == 31 + 1
    assert sheet.locator("[aria-current=true]").first.get_attribute("data-typeface") == "unbounded"
    widths = faces.locator("path").evaluate_all("all => all.map((p) => p.getBBox().width)")
    assert min(widths) > 150 and len({round(width) for width in widths}) > 20
    sheet.get_by_label("That have").select_option("smcp")
    expect(faces).to_have_count(1)
    sheet.get_by_label("That have").select_option("")
    sheet.get_by_label("Script", exact=True).select_option("Greek")
    sheet.get_by_role("button", name="Serif", exact=True).click()
    expect(faces).to_have_count(2)
    sheet.get_by_role("button", name="All", exact=True).click()
    sheet.get_by_label("Search typefaces").fill("nothing like it")
    expect(sheet.get_by_text("No typeface has all of that.")).to_be_visible()
    sheet.get_by_label("Search typefaces").fill("source")
    desk.keyboard.press("Enter")
    expect(sheet).to_be_hidden()
    settle(desk)
    assert title(desk)["properties"]["text.font"]["value"] == "source-serif"
    corners = desk.evaluate("youngComet.editor.view.title.corners")
    letters = desk.locator("[data-section=Letters] > .section-head")
    if letters.get_attribute("aria-expanded") == "false":
        letters.click()
    desk.get_by_role("button", name="Small capitals", exact=True).click()
    settle(desk)
    desk.get_by_role("button", name="Ligatures", exact=True).click()
    settle(desk)
    assert title(desk)["properties"]["text.features"]["value"] == "smcp, liga off"
    assert desk.evaluate("youngComet.editor.view.title.corners") != corners
    capitals = desk.get_by_role("button", name="Small capitals", exact=True)
    expect(capitals).to_have_attribute("aria-pressed", "true")
    capitals.click()
    settle(desk)
    assert title(desk)["properties"]["text.features"]["value"] == "liga off"


def test_an_italic_is_set_where_the_typeface_has_one(desk):
    face = "[{layer: 'title', property: 'text.font', value: 'fraunces'}]"
    desk.evaluate(f"youngComet.editor.edit(youngComet.editor.set({face}))")
    settle(desk)
    write(desk)
    desk.mouse.dblclick(*letter(desk, 6))
    desk.keyboard.press("Control+i")
    desk.wait_for_function(
        "() => Object.values(youngComet.editor.layer('title').properties)"
        ".some((p) => p.value === 'fraunces-italic')"
    )
    assert runs(desk) == [(5, 10)]
    slanted = desk.get_by_role("button", name="Slanted (Ctrl+I)")
    expect(slanted).to_have_attribute("aria-pressed", "true")
    desk.keyboard.press("Control+i")
    expect(slanted).to_have_attribute("aria-pressed", "false")


def test_a_type_style_is_kept_worn_changed_and_taken_back(desk):
    second = {"id": "second", "name": "Second", "kind": "text", "start_s": 0, "end_s": 4,
              "properties": {"text": {"value": "Kite Week"}, "position": {"value": [640, 560]}}}  # fmt: skip
    add = {"kind": "add-layers", "scene": "desk", "layers": [second]}
    desk.evaluate("(edit) => youngComet.editor.edit(edit)", add)

    def own(name):
        script = "([id, name]) => youngComet.editor.layer(id).properties[name]?.value"
        return desk.evaluate(script, ["second", name])

    desk.evaluate("youngComet.editor.select(['title'])")
    desk.get_by_role("button", name="Keep how it looks as a type style").click()
    settle(desk)
    panel = desk.locator("#type-style")
    expect(panel.get_by_label("Type style", exact=True).locator("option:checked")).to_have_text(
        "Unbounded 90"
    )
    desk.evaluate("youngComet.editor.select(['second'])")
    panel.get_by_label("Type style", exact=True).select_option("Unbounded 90")
    settle(desk)
    assert (own("text.font"), own("text.size")) == ("unbounded", 90)
    expect(panel.get_by_role("button", name="Take back")).to_be_hidden()
    size = desk.get_by_label("Font size", exact=True)
    size.fill("40")
    size.press("Enter")
    settle(desk)
    expect(panel.get_by_text("Its own: Font size")).to_be_visible()
    panel.get_by_role("button", name="Take back").click()
    settle(desk)
    assert own("text.size") == 90
    size.fill("50")
    size.press("Enter")
    settle(desk)
    panel.get_by_role("button", name="Into the style").click()
    settle(desk)
    assert title(desk)["properties"]["text.size"]["value"] == 50
    expect(panel.get_by_role("button", name="Take back")).to_be_hidden()
    desk.get_by_role("tab", name="Inks").click()
    row = desk.locator("#type-styles [data-type-style]")
    expect(row).to_contain_text("2 texts")
    name = row.get_by_label("Name of the type style Unbounded 90")
    name.fill("Headline")
    name.press("Enter")
    settle(desk)
    expect(desk.locator("#type-styles")).to_contain_text("Unbounded 50 px")
    row.get_by_role("button", name="Remove the type style Headline").click()
    settle(desk)
    assert own("text.size") == 50 and title(desk)["type_style"] is None
    desk.keyboard.press("Control+z")
    settle(desk)
    assert title(desk)["type_style"]


def test_an_axis_of_a_typeface_s_own_is_added_keyed_and_taken_off(desk):
    face = "[{layer: 'title', property: 'text.font', value: 'fraunces'}]"
    desk.evaluate("youngComet.editor.select(['title'])")
    expect(desk.locator("#axes")).to_be_hidden()
    desk.evaluate(f"youngComet.editor.edit(youngComet.editor.set({face}))")
    desk.get_by_label("Add an axis").select_option("SOFT")
    row = desk.locator('#axes [data-axis="SOFT"]')
    expect(row).to_contain_text("Softness")
    settle(desk)
    (axis,) = title(desk)["axes"]
    row.locator(".keystate").click()
    settle(desk)
    desk.keyboard.press("End")
    value = row.locator("input").first
    value.fill("400")
    value.press("Enter")
    expect(desk.get_by_text("Softness: expected 0 to 100, got 400")).to_be_visible()
    value.fill("100")
    value.press("Enter")
    settle(desk)
    keys = title(desk)["properties"][f"axis.{axis['id']}.value"]["keys"]
    assert [key["value"] for key in keys] == [0, 100]
    row.get_by_role("button", name="Without the axis Softness").click()
    settle(desk)
    assert title(desk)["axes"] == []


def test_phrases_are_tapped_in_while_the_scene_plays(page, server):
    # Long enough that a slow machine does not come to its end between taps.
    length_s = 16.0
    open_desk(page, server, "Type", LAYERS, length_s)
    desk = page

    def tapped(taps):
        desk.evaluate("window.dispatchEvent(new CustomEvent('open-phrases'))")
        sheet = desk.get_by_role("dialog", name="Phrases")
        sheet.get_by_label("Phrases", exact=True).fill("Hold on\nto the wind\nand let go")
        sheet.get_by_label("How phrases are timed").select_option("tap")
        sheet.get_by_role("button", name="Add 3 phrases").click()
        expect(desk.locator("#mode-hint")).to_contain_text("“Hold on” begins (1 of 3)")
        desk.wait_for_function("() => youngComet.editor.player.moment > 0.3")
        for n in range(taps):
            desk.keyboard.press("Enter")
            moment = desk.evaluate("youngComet.editor.player.moment")
            if n + 1 < taps:
                desk.wait_for_function(f"() => youngComet.editor.player.moment > {moment + 0.4}")

    def phrases():
        settle(desk)
        layers = desk.evaluate("youngComet.editor.scene.layers.filter((l) => l.id !== 'title')")
        return [(each["name"], each["start_s"], each["end_s"]) for each in layers]

    tapped(4)
    desk.wait_for_function("() => youngComet.editor.layers.length === 4")
    made = phrases()
    assert [name for name, _, _ in made] == ["Hold on", "to the wind", "and let go"]
    starts = [start for _, start, _ in made]
    assert starts[0] >= 0.3 and all(b - a >= 0.36 for a, b in itertools.pairwise(starts))
    assert all(one[2] == pytest.approx(two[1], abs=0.05) for one, two in itertools.pairwise(made))
    assert made[-1][2] < length_s and not desk.evaluate("youngComet.editor.isPlaying()")
    desk.keyboard.press("Control+z")
    desk.wait_for_function("() => youngComet.editor.layers.length === 1")
    desk.keyboard.press("Home")
    # Those that were not tapped share what is left; Escape gives all of it up.
    tapped(1)
    desk.wait_for_function("() => youngComet.editor.layers.length === 4")
    made = phrases()
    lengths = [end - start for _, start, end in made]
    assert made[-1][2] == pytest.approx(length_s) and max(lengths) - min(lengths) < 0.09
    desk.keyboard.press("Control+z")
    desk.wait_for_function("() => youngComet.editor.layers.length === 1")
    desk.keyboard.press("Home")
    tapped(2)
    desk.keyboard.press("Escape")
    expect(desk.locator("#mode-hint")).to_be_hidden()
    settle(desk)
    assert desk.evaluate("youngComet.editor.layers.length") == 1


def test_the_path_of_a_front_is_drawn_and_its_points_are_on_the_stage(desk):
    desk.evaluate("youngComet.editor.select(['title'])")
    front = {"kind": "wear-front", "scene": "desk", "layers": ["title"], "id": "f", "ready": "rise"}
    desk.evaluate("(edit) => youngComet.editor.edit(edit)", front)
    order = "[{layer: 'title', property: 'front.f.order', value: 'path'}]"
    desk.evaluate(f"youngComet.editor.edit(youngComet.editor.set({order}))")
    desk.get_by_role("button", name="Open Rising").click()
    row = desk.locator('[data-property="front.f.path"]')
    row.locator("button").filter(has=desk.locator("use[href*='#pen']")).click()
    for point in ((900, 300), (640, 200), (380, 320)):
        desk.mouse.click(*at(desk, *point))
    desk.keyboard.press("Enter")
    settle(desk)
    drawn = title(desk)["properties"]["front.f.path"]["value"]
    assert drawn.count("L") + drawn.count("C") == 2
    expect(desk.locator(".overlay .shape-point")).to_have_count(3)
    # A point that is dragged changes it.
    start = at(desk, 640, 200)
    desk.mouse.move(*start)
    desk.mouse.down()
    desk.mouse.move(start[0], start[1] + 30, steps=4)
    desk.mouse.up()
    settle(desk)
    assert title(desk)["properties"]["front.f.path"]["value"] != drawn
