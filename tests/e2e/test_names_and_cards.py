"""Names written where they stand, cards with menus and tags, moves on one's own layer, hands that are
held while others work."""

import re

import pytest
from playwright.sync_api import expect
from tests.e2e.steps import at, choose, document, layer, open_desk, settle, tab
from tests.e2e.test_menus_journeys import shape


@pytest.fixture
def desk(page, server):
    page.set_viewport_size({"width": 1280, "height": 800})
    sail, tail = shape("sail", 320), shape("tail", 900)
    words = {"id": "words", "name": "Words", "kind": "text", "start_s": 0, "end_s": 3,
             "properties": {"text": {"value": "Gullwing"}, "position": {"value": [640, 560]}}}  # fmt: skip
    page.project = open_desk(page, server, "Cards", [sail, tail, words], 3.0)
    return page


def edited(page, server, edit, project=None):
    url = f"{server.url}/api/projects/{project or page.project}/edits"
    answer = page.request.post(url, data={"edit": edit})
    assert answer.ok, answer.text()


def test_cards_are_renamed_tagged_filtered_and_have_menus(desk, server):
    edited(desk, server, {"kind": "duplicate-scene", "scene": "desk", "id": "second"})
    desk.goto(f"{server.url}/projects/{desk.project}")
    card, other = (desk.locator(f'[data-scene="{id}"]') for id in ("desk", "second"))
    card.locator(".card-picture").focus()
    desk.keyboard.press("F2")
    expect(card.get_by_label("Name of the scene")).to_be_focused()
    desk.keyboard.type("Morning race")
    desk.keyboard.press("Enter")
    expect(card.locator(".who .name")).to_have_text("Morning race")
    card.click(button="right")
    expect(card.get_by_role("button", name="Move earlier")).to_be_disabled()
    card.get_by_role("button", name="Tags").click()
    sheet = desk.locator("dialog[open]")
    sheet.get_by_label("Words, with commas").fill("race day, Titles")
    desk.keyboard.press("Enter")
    expect(card.locator(".tag")).to_have_text(["race day", "Titles"])
    other.click(button="right")
    other.get_by_role("button", name="Tags").click()
    sheet.get_by_role("button", name="race day").click()
    sheet.get_by_role("button", name="Keep").click()
    chips = desk.locator(".tag-row .chip")
    expect(chips).to_have_count(2)
    chips.filter(has_text="Titles").click()
    expect(other).to_have_count(0)
    expect(card).to_be_visible()
    chips.filter(has_text="Titles").click()
    expect(other).to_be_visible()
    # A tag with a comma cannot be made, and one that is too long is refused in words.
    card.click(button="right")
    card.get_by_role("button", name="Tags").click()
    sheet.get_by_label("Words, with commas").fill("x" * 31)
    desk.keyboard.press("Enter")
    expect(sheet.locator(".problem")).to_contain_text("30")
    desk.keyboard.press("Escape")
    desk.goto(server.url)
    mine = desk.locator(f'[data-project="{desk.project}"]')
    mine.click(button="right")
    mine.get_by_role("button", name="Tags").click()
    sheet.get_by_label("Words, with commas").fill("bay")
    desk.keyboard.press("Enter")
    expect(mine.locator(".tag")).to_have_text(["bay"])
    desk.locator(".tag-row .chip", has_text="bay").click()
    expect(desk.locator("[data-project]")).to_have_count(1)
    expect(mine).to_be_visible()


def test_a_render_is_named_where_it_stands(desk, server):
    body = {"project": desk.project, "scene": "desk", "settings": {"scale": 0.25}}
    made = desk.request.post(f"{server.url}/api/renders", data=body).json()
    desk.goto(f"{server.url}/renders")
    row = desk.locator(f'[data-render="{made["id"]}"]')
    expect(row).to_have_attribute("data-status", "done", timeout=60_000)
    row.get_by_role("button", name="Rename").click()
    expect(row.get_by_label("Name of the render")).to_be_focused()
    desk.keyboard.type("For the harbour screen")
    desk.keyboard.press("Enter")
    expect(row.locator(".render-name a")).to_have_text("For the harbour screen")
    with desk.expect_download() as download:
        row.get_by_role("link", name="Download").click()
    assert download.value.suggested_filename == "for-the-harbour-screen.mp4"


def test_wrapping_asks_for_a_name_where_it_stands(desk):
    choose(desk, "sail", "words")
    desk.keyboard.press("Alt+w")
    name = desk.locator(".row-line input")
    expect(name).to_be_focused()
    desk.keyboard.type("Lockup")
    desk.keyboard.press("Enter")
    settle(desk)
    whole = document(desk)
    assert [scene["name"] for scene in whole["scenes"]] == ["Desk", "Lockup"]
    assert [each["name"] for each in whole["scenes"][0]["layers"] if each["kind"] == "scene"] == [
        "Lockup"
    ]


def test_a_layer_that_others_delete_ends_the_drag(desk, server):
    desk.mouse.move(*at(desk, 320, 360))
    desk.mouse.down()
    desk.mouse.move(*at(desk, 380, 380), steps=6)
    desk.wait_for_timeout(200)
    edited(desk, server, {"kind": "remove-layers", "scene": "desk", "layers": ["sail"]})
    said = desk.locator(".toast-note", has_text="the drag has ended")
    expect(said).to_contain_text("Sail")
    desk.mouse.move(*at(desk, 500, 400), steps=4)
    desk.mouse.up()
    settle(desk)
    assert layer(desk, "sail") is None
    assert layer(desk, "tail")["properties"]["position"]["value"] == [900, 360]


def test_a_move_is_shown_on_the_layer_itself(desk):
    choose(desk, "words")
    tab(desk, "Moves")
    strip = desk.locator('[data-move-kind="lift"] .move-strip')
    expect(strip).to_have_attribute("data-shown", re.compile("moves/lift/sample"))
    desk.locator('[data-move-kind="lift"]').hover()
    expect(strip).to_have_attribute("data-shown", re.compile("layers/words/worn"))
    desk.locator('[data-move-kind="sink"]').hover()
    expect(strip).to_have_attribute("data-shown", re.compile("moves/lift/sample"))
    assert not layer(desk, "words")["moves"]


def test_a_flight_counts_in_by_seconds_or_beats(desk):
    choose(desk, "sail")
    count = desk.get_by_label("Count-in")
    assert count.locator("option").all_inner_texts() == ["at once", "after a second",
        "after 2 seconds", "after 3 seconds"]  # fmt: skip
    count.select_option("after a second")
    desk.get_by_role("button", name="Fly it").click()
    desk.mouse.move(*at(desk, 320, 360))
    desk.mouse.down()
    expect(desk.locator("#mode-hint")).to_have_text("1")
    expect(desk.locator("#mode-hint")).not_to_have_text("1")
    for step in range(20):
        desk.mouse.move(*at(desk, 320 + 15 * step, 360 + 4 * step))
        desk.wait_for_timeout(20)
    desk.mouse.up()
    settle(desk)
    flown = layer(desk, "sail")["properties"]["position"]
    assert len(flown["keys"]) >= 2


def test_scenes_are_made_only_from_what_has_a_size(page, server):
    page.goto(f"{server.url}/projects/kite-week")
    chips = page.locator(".chips button[title^='New scene of']")
    expect(chips.first).to_be_visible()
    names = [text.strip() for text in chips.all_inner_texts()]
    assert names and not [name for name in names if name.endswith((".flac", ".ttf", ".cube"))]


def test_a_scene_is_made_before_the_project_has_come(page, server):
    """The page's own request is held until after the press: the name is asked for once the project is
    there, as the edit is made on its revision."""
    made = page.request.post(f"{server.url}/api/projects", data={"name": "Slow tide"}).json()
    project = made["project"]["id"]
    held = []
    page.route(f"**/api/projects/{project}", lambda route: held.append(route), times=1)
    page.goto(f"{server.url}/projects/{project}", wait_until="commit")
    page.get_by_role("button", name="New scene").first.focus()
    page.keyboard.press("Enter")
    page.wait_for_timeout(200)
    (request,) = held
    expect(page.locator("#frame-name")).to_be_hidden()
    request.continue_()
    expect(page.locator("#frame-name")).to_be_focused()
    page.keyboard.type("Title")
    page.keyboard.press("Enter")
    page.wait_for_url("**/scenes/*")
    settle(page)
    (scene,) = document(page)["scenes"]
    assert scene["name"] == "Title"


def test_a_step_of_the_history_is_seen_before_it_is_gone_to(desk):
    for name in ("Kite one", "Kite two"):
        edit = {"kind": "change-layers", "scene": "desk", "layers": ["sail"], "name": name}
        assert desk.evaluate("(edit) => youngComet.editor.edit(edit)", edit)
    kept = document(desk)
    desk.get_by_role("button", name="History").click()
    rows = desk.locator(".history-list li")
    expect(rows.nth(0)).to_have_class(re.compile("now"))
    with desk.expect_response(re.compile(r"frame\.jpg.*step=\d")) as answer:
        rows.nth(1).locator("button").click()
    assert answer.value.ok
    expect(desk.locator(".history-look img")).to_be_visible()
    assert document(desk) == kept  # looking changes nothing
    go = desk.locator(".history-look").get_by_role("button")
    expect(go).to_have_text("Go back to here, a step")
    go.click()
    desk.wait_for_function("() => youngComet.editor.layer('sail').name === 'Kite one'")
    expect(go).to_have_text("This is how it is now")
    rows.nth(0).locator("button").dblclick()
    desk.wait_for_function("() => youngComet.editor.layer('sail').name === 'Kite two'")


def test_a_scene_opens_where_it_shows_itself_best_and_where_one_left_it(desk, server, browser):
    """A name that arrives late is there when its scene opens; an empty scene opens at its start."""
    edited(desk, server, {"kind": "set-spans", "scene": "desk", "spans": [{"layer": "words",
                          "start_s": 1.6, "end_s": 3.0}]})  # fmt: skip
    scene = f"{server.url}/projects/{desk.project}/scenes/desk"
    other = browser.new_page()
    try:
        other.goto(scene)
        settle(other)
        frame = other.evaluate("youngComet.editor.frame")
        assert 40 < frame < 75
        expect(other.locator("#time-field")).not_to_have_value("00:00:00")
        other.evaluate("youngComet.editor.goTo(7)")
        other.reload()
        settle(other)
        assert other.evaluate("youngComet.editor.frame") == 7
        edited(desk, server, {"kind": "remove-layers", "scene": "desk",
                              "layers": ["sail", "tail", "words"]})  # fmt: skip
        fresh = browser.new_page()
        fresh.goto(scene)
        settle(fresh)
        assert fresh.evaluate("youngComet.editor.frame") == 0
        fresh.close()
    finally:
        other.close()
