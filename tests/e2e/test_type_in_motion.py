"""Type in motion: written on the stage where it stands, styled in the middle, with fronts."""

import itertools

import pytest
from playwright.sync_api import expect
from tests.e2e.steps import at, open_desk, settle

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


def title(desk):
    return desk.evaluate("youngComet.editor.layer('title')")


def text(desk):
    return title(desk)["properties"]["text"]["value"]


def runs(desk):
    return [(run["first"], run["last"]) for run in title(desk)["runs"]]


def letter(desk, index, side="middle"):
    """Where a letter is on the page, as the server told: its middle, or its left or right edge."""
    cell = desk.evaluate(
        "(index) => youngComet.editor.letters.lines.flatMap((l) => l.cells).find((c) => c[0] === index)",
        index,
    )
    corners = cell[3:]
    share = {"left": 0.04, "middle": 0.5, "right": 0.96}[side]
    x = (
        corners[0] * (1 - share)
        + corners[2] * share
        + corners[6] * (1 - share)
        + corners[4] * share
    ) / 2
    y = (
        corners[1] * (1 - share)
        + corners[3] * share
        + corners[7] * (1 - share)
        + corners[5] * share
    ) / 2
    return at(desk, x, y)


def write(desk):
    """Opens the text by a double click on it and waits for its letters."""
    corners = desk.evaluate("youngComet.editor.view.title.corners")
    x = sum(p[0] for p in corners) / 4
    y = sum(p[1] for p in corners) / 4
    desk.mouse.dblclick(*at(desk, x, y))
    desk.wait_for_function("() => youngComet.editor.letters?.lines.length > 0")
    desk.wait_for_function("() => !youngComet.editor.inFlight")


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
    for _ in range(3):
        desk.mouse.click(*point, delay=20)
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
    expect(sheet.locator("[data-ready-front]")).to_have_count(18)
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


def test_phrases_are_tapped_in_while_the_scene_plays(desk):
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
    assert made[-1][2] < 4.0 and not desk.evaluate("youngComet.editor.isPlaying()")
    desk.keyboard.press("Control+z")
    desk.wait_for_function("() => youngComet.editor.layers.length === 1")
    desk.keyboard.press("Home")
    # Those that were not tapped share what is left; Escape gives all of it up.
    tapped(1)
    desk.wait_for_function("() => youngComet.editor.layers.length === 4", timeout=20_000)
    made = phrases()
    lengths = [end - start for _, start, end in made]
    assert made[-1][2] == pytest.approx(4.0) and max(lengths) - min(lengths) < 0.09
    desk.keyboard.press("Control+z")
    desk.wait_for_function("() => youngComet.editor.layers.length === 1")
    desk.keyboard.press("Home")
    tapped(2)
    desk.keyboard.press("Escape")
    expect(desk.locator("#mode-hint")).to_be_hidden()
    settle(desk)
    assert desk.evaluate("youngComet.editor.layers.length") == 1
