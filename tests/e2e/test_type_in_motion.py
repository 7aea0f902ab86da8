"""Type in motion: written on the stage where it stands, styled in the middle, with fronts."""

import pytest
from playwright.sync_api import expect
from tests.e2e.steps import at, open_desk, settle
from tests.e2e.type_steps import letter, runs, text, title, write

from young_comet.core.catalog import READY_FRONTS

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


def place(desk):
    """Where the caret is, as a number of characters."""
    return desk.evaluate("youngComet.editor.modes.visit('write').stretch")


def test_a_text_is_written_where_it_stands_turned_as_it_is(desk):
    write(desk)
    assert desk.evaluate("youngComet.editor.modes.current.id") == "write"
    # A click puts the caret where it was made: before the w of wind.
    desk.mouse.click(*letter(desk, 15, "left"))
    assert place(desk) == [15, 15]
    caret = desk.locator(".overlay .text-caret")
    expect(caret).to_be_attached()
    # The caret leans with the text: as far to the right at its top as 8 degrees make.
    x1, y1, x2, y2 = (float(caret.get_attribute(n)) for n in ("x1", "y1", "x2", "y2"))
    assert (x1 - x2) / (y2 - y1) == pytest.approx(-0.1405, abs=0.01)
    desk.keyboard.type("sea ")
    desk.keyboard.press("End")
    desk.keyboard.type("!")
    desk.keyboard.press("Escape")
    settle(desk)
    assert text(desk) == "Hold until the sea wind!"
    assert title(desk)["name"] == "Title", "it was not called after its text"
    assert desk.evaluate("youngComet.editor.modes.current.id") == "select"


def test_what_is_written_is_undone_in_steps_of_words(desk):
    write(desk)
    desk.keyboard.press("End")
    desk.keyboard.type(" off the bay")
    settle(desk)
    desk.keyboard.press("Control+z")  # what is not saved yet
    settle(desk)
    assert desk.evaluate("youngComet.editor.modes.visit('write').text") == WORDS + " off the "
    desk.keyboard.press("Control+z")
    desk.wait_for_function("() => youngComet.editor.modes.visit('write').text.endsWith(' off ')")
    desk.keyboard.press("Control+Shift+z")
    desk.wait_for_function("() => youngComet.editor.modes.visit('write').text.endsWith(' the ')")
    desk.keyboard.press("Escape")
    settle(desk)
    assert text(desk) == WORDS + " off the "


def test_letters_typed_while_a_step_is_on_its_way_stay(desk):
    """The answer to one step comes when the next has been sent: it takes nothing back."""
    write(desk)
    desk.keyboard.press("End")
    # Each step takes a while.
    desk.evaluate("""(() => { const editor = youngComet.editor, edit = editor.edit.bind(editor);
        editor.edit = async (data) => { const done = await edit(data);
            await new Promise((next) => setTimeout(next, 120)); return done; }; })()""")
    for word in ("over ", "the ", "bay ", "and ", "far ", "away"):
        desk.keyboard.type(word, delay=9)
        desk.wait_for_timeout(35)
    desk.wait_for_timeout(900)
    assert desk.evaluate("youngComet.editor.modes.visit('write').text").endswith("far away")
    desk.keyboard.press("Escape")
    settle(desk)
    assert text(desk) == WORDS + "over the bay and far away"


def test_one_word_in_the_middle_is_styled_and_keeps_it_while_others_are_written(desk):
    write(desk)
    desk.mouse.dblclick(*letter(desk, 6))
    assert place(desk) == [5, 10]
    expect(desk.locator(".overlay .chosen-letters polygon")).to_have_count(5)
    desk.keyboard.press("Control+b")
    desk.wait_for_function("() => youngComet.editor.layer('title').runs.length === 1")
    desk.keyboard.press("Control+i")
    desk.wait_for_function(
        "() => Object.keys(youngComet.editor.layer('title').properties).some((n) => n.endsWith('.slant'))"
    )
    assert runs(desk) == [(5, 10)]
    # The bar shows what these letters have, and sets their size.
    bar = desk.locator(".letters-bar")
    expect(bar.get_by_label("Bold (Ctrl+B)")).to_have_attribute("aria-pressed", "true")
    size = bar.get_by_label("Size of these letters, in px")
    size.fill("130")
    size.press("Enter")
    settle(desk)
    run = title(desk)["runs"][0]["id"]
    assert title(desk)["properties"][f"run.{run}.size"]["value"] == 130
    # Before it something is written: it goes along.
    desk.mouse.click(*letter(desk, 0, "left"))
    desk.keyboard.type("We ")
    desk.keyboard.press("Escape")
    settle(desk)
    assert text(desk) == "We " + WORDS and runs(desk) == [(8, 13)]
    card = desk.locator("#runs [data-run]")
    expect(card).to_contain_text("until")
    card.get_by_label("As the whole text again").click()
    settle(desk)
    assert runs(desk) == []


def test_three_presses_choose_a_line_and_keys_go_by_lines(desk):
    write(desk)
    desk.keyboard.press("Control+a")
    desk.keyboard.type("Hold on\nto the wind")
    settle(desk)
    point = letter(desk, 10)
    desk.mouse.click(*point, click_count=3)
    assert place(desk) == [8, 19]
    desk.keyboard.press("Home")
    assert place(desk) == [8, 8]
    desk.keyboard.press("ArrowUp")
    assert place(desk)[0] < 8
    desk.keyboard.press("Shift+End")
    assert place(desk)[1] == 7
    desk.keyboard.press("Escape")
    settle(desk)


def test_letters_are_copied_with_their_style_within_the_product(desk):
    write(desk)
    desk.mouse.dblclick(*letter(desk, 6))
    desk.keyboard.press("Control+b")
    desk.wait_for_function("() => youngComet.editor.layer('title').runs.length === 1")
    desk.keyboard.press("Control+c")
    desk.keyboard.press("End")
    desk.keyboard.press("Control+v")
    desk.wait_for_function("() => youngComet.editor.layer('title').runs.length === 2")
    assert text(desk) == WORDS + "until" and runs(desk) == [(5, 10), (19, 24)]
    desk.keyboard.press("Escape")


def test_the_weight_of_a_run_has_keys_of_its_own(desk):
    write(desk)
    desk.mouse.dblclick(*letter(desk, 6))
    desk.keyboard.press("Control+b")
    desk.wait_for_function("() => youngComet.editor.layer('title').runs.length === 1")
    desk.keyboard.press("Escape")
    settle(desk)
    run = title(desk)["runs"][0]["id"]
    card = desk.locator(f'#runs [data-run="{run}"]')
    if card.locator(".name-button").get_attribute("aria-expanded") != "true":
        card.locator(".name-button").click()
    row = card.locator(f'.prop[data-property="run.{run}.weight"]')
    row.locator(".keystate").click()
    settle(desk)
    desk.keyboard.press("End")
    number = row.locator("input").first
    number.fill("200")
    number.press("Enter")
    settle(desk)
    keys = title(desk)["properties"][f"run.{run}.weight"]["keys"]
    assert [key["value"] for key in keys] == [800, 200]


def test_a_front_is_built_by_hand_and_seen(desk):
    desk.locator('.row-line[data-layer="title"] .row-name').click()
    desk.get_by_label("Add a front").click()
    sheet = desk.get_by_role("dialog", name="Fronts")
    expect(sheet.locator("[data-ready-front]")).to_have_count(len(READY_FRONTS))
    sheet.get_by_label("Search fronts").fill("thin lifted")
    expect(sheet.locator("[data-ready-front]")).to_have_count(1)
    sheet.locator("[data-ready-front=lifted]").click()
    desk.wait_for_function("() => youngComet.editor.layer('title').fronts.length === 1")
    desk.evaluate("youngComet.editor.modes.hands.player.pause()")
    settle(desk)
    card = desk.locator('#fronts [data-front="Settling"]')
    expect(card).to_contain_text("Not yet reached")
    front = title(desk)["fronts"][0]["id"]
    # Another property of what it has not reached.
    card.get_by_label("Another property").select_option(f"front.{front}.tint")
    tint = card.locator(f'.prop[data-property="front.{front}.tint"] input').first
    tint.fill("100")
    tint.press("Enter")
    settle(desk)
    assert title(desk)["properties"][f"front.{front}.tint"]["value"] == 100
    # Its name, its switch, and that it goes.
    name = card.get_by_label("Name of the front")
    name.fill("Gust")
    name.press("Enter")
    settle(desk)
    assert title(desk)["fronts"][0]["name"] == "Gust"
    gust = desk.locator('#fronts [data-front="Gust"]')
    gust.get_by_label("Front is on").click()
    settle(desk)
    assert title(desk)["fronts"][0]["on"] is False
    gust.get_by_label("Take the front off").click()
    settle(desk)
    assert title(desk)["fronts"] == []
    assert not any(name.startswith("front.") for name in title(desk)["properties"])


def test_a_front_takes_opposite_sides_about_an_edge_with_a_cursor(desk):
    """What a move of letters does by hinges, by turns and typed is there by hand as well."""
    desk.locator('.row-line[data-layer="title"] .row-name').click()
    desk.get_by_label("Add a front").click()
    desk.get_by_role("dialog", name="Fronts").locator("[data-ready-front=zip]").click()
    desk.wait_for_function("() => youngComet.editor.layer('title').fronts.length === 1")
    desk.evaluate("youngComet.editor.modes.hands.player.pause()")
    settle(desk)
    front = title(desk)["fronts"][0]["id"]
    card = desk.locator('#fronts [data-front="Zip"]')
    sides = card.locator(f'.prop[data-property="front.{front}.opposite"]')
    expect(sides).to_contain_text("Opposite sides")
    expect(sides.locator("input")).to_be_checked()
    card.locator(f'.prop[data-property="front.{front}.pivot"] select').select_option("left")
    settle(desk)
    card.get_by_label("Another property").select_option(f"front.{front}.cursor")
    card.locator(f'.prop[data-property="front.{front}.cursor"] input').first.check(force=True)
    settle(desk)
    said = title(desk)["properties"]
    assert said[f"front.{front}.pivot"]["value"] == "left"
    assert said[f"front.{front}.cursor"]["value"] is True
    desk.keyboard.press("Control+z")
    settle(desk)
    assert f"front.{front}.cursor" not in title(desk)["properties"]


def test_a_text_that_an_expression_makes_is_written_beside_it(desk):
    desk.request.post(
        f"{desk.url.split('/projects')[0]}/api/projects/{desk.project_id}/edits",
        data={"edit": {"kind": "set-expression", "scene": "desk", "text": "'Gust ' + keyed",
                       "targets": [{"layer": "title", "property": "text"}]}},
    )  # fmt: skip
    desk.wait_for_function("() => youngComet.editor.layer('title').properties.text.expression")
    settle(desk)
    corners = desk.evaluate("youngComet.editor.view.title.corners")
    middle = [sum(p[i] for p in corners) / 4 for i in (0, 1)]
    desk.mouse.dblclick(*at(desk, *middle))
    area = desk.locator(".editing-text:not(.unseen)")
    area.wait_for()
    area.fill("Bay")
    desk.keyboard.press("Escape")
    settle(desk)
    assert text(desk) == "Bay"


def test_a_countdown_runs_by_the_keys_of_its_number(desk):
    desk.locator('.row-line[data-layer="title"] .row-name').click()
    area = desk.locator('.prop[data-property="text"] textarea')
    area.fill("# to go")
    area.blur()
    settle(desk)
    section = desk.locator('.section[data-section="Number"]')
    section.locator(".section-head").click()
    section.locator('.prop[data-property="number.shows"] select').select_option("number")
    settle(desk)
    row = section.locator('.prop[data-property="number.value"]')
    for frame, value in ((0, "10"), (75, "0")):
        desk.evaluate("(frame) => youngComet.editor.goTo(frame)", frame)
        settle(desk)
        if not frame:
            row.locator(".keystate").click()
            settle(desk)
        row.locator("input").first.fill(value)
        row.locator("input").first.press("Enter")
        settle(desk)
    keys = title(desk)["properties"]["number.value"]["keys"]
    assert [key["value"] for key in keys] == [10, 0]
    # While it is written the mark is seen, not the number.
    write(desk)
    assert desk.evaluate("youngComet.editor.letters.text") == "# to go"
    desk.keyboard.press("Escape")


def test_a_subtitle_file_becomes_texts_at_its_times(desk):
    desk.locator('.row-line[data-layer="title"] .row-name').click()
    desk.evaluate("window.dispatchEvent(new CustomEvent('open-phrases'))")
    sheet = desk.locator("dialog[open]")
    said = "1\n00:00:00,400 --> 00:00:01,600\nHold on\n\n2\n00:00:02,000 --> 00:00:03,000\nto the wind\n"
    sheet.get_by_label("A subtitle file").set_input_files(
        {"name": "kites.srt", "mimeType": "text/plain", "buffer": said.encode()}
    )
    expect(sheet.get_by_label("How phrases are timed")).to_have_value("file")
    expect(sheet.get_by_role("textbox", name="Phrases")).to_have_value("Hold on\nto the wind")
    sheet.get_by_label("Front of the phrases").select_option("rise")
    sheet.get_by_role("button", name="Add 2 phrases").click()
    settle(desk)
    made = desk.evaluate("youngComet.editor.layers.slice(-2)")
    assert [(la["name"], la["start_s"], la["end_s"]) for la in made] == [
        ("Hold on", 0.4, 1.6), ("to the wind", 2, 3),
    ]  # fmt: skip
    assert all(la["properties"]["text.font"]["value"] == "unbounded" for la in made)
    assert made[1]["start_tie"]["id"] == made[0]["id"]
    desk.keyboard.press("Control+z")
    desk.wait_for_function("() => youngComet.editor.layers.length === 1")
    # Plain lines, timed as long as they are read; what is no subtitle file is refused with words.
    desk.evaluate("window.dispatchEvent(new CustomEvent('open-phrases'))")
    sheet = desk.locator("dialog[open]")
    sheet.get_by_role("textbox", name="Phrases").fill("Let go\nof it")
    sheet.get_by_role("button", name="Add 2 phrases").click()
    settle(desk)
    assert desk.evaluate("youngComet.editor.layers.slice(-2).map((la) => la.name)") == [
        "Let go",
        "of it",
    ]
