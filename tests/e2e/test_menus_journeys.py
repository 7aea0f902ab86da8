"""Menus made for what is clicked, one side of a layer pasted, layers seen alone, rows searched."""

from __future__ import annotations

import pytest
from playwright.sync_api import expect
from tests.e2e.steps import OneStep, choose, field, go_to, layer, layers, open_desk, settle, tab


def shape(id, x, **more):
    return {"id": id, "name": id.title(), "kind": "shape", "start_s": 0, "end_s": 3, "properties": {
        "shape.size": {"value": [200, 160]}, "position": {"value": [x, 360]}}, **more}  # fmt: skip


KEYS = [{"id": f"k{i}", "time_s": t, "value": v} for i, (t, v) in enumerate(((0.41, 0), (1.2, 90)))]


@pytest.fixture
def desk(page, server):
    page.set_viewport_size({"width": 1400, "height": 860})
    sail = shape("sail", 320)
    sail["properties"] |= {"rotation": {"keys": KEYS}, "fill.colour": {"value": "#ff7a45"}}
    sail["effects"] = [{"id": "glow-1", "kind": "glow"}]
    words = {"id": "words", "name": "Words", "kind": "text", "start_s": 1, "end_s": 3,
             "properties": {"text": {"value": "Gullwing"}}}  # fmt: skip
    layers = [sail, shape("tail", 900), words]
    page.project = open_desk(page, server, "Menus", layers, 3.0)
    return page


def lines(desk, id="#property-menu"):
    menu = desk.locator(id)
    expect(menu).to_be_visible()
    return menu


def pick(desk, text, id="#property-menu"):
    lines(desk, id).locator("button", has_text=text).first.click()
    settle(desk)


def test_a_layer_has_the_menu_of_its_kind_and_commands_their_reasons(desk):
    desk.locator('.row-line[data-layer="words"] .row-name').click(button="right")
    menu = lines(desk, "#layer-menu")
    expect(menu.locator("button", has_text="Write in the text")).to_be_enabled()
    assert menu.locator("button").count() <= 15
    desk.keyboard.press("Escape")
    choose(desk, "sail", "tail")
    desk.locator('.row-line[data-layer="tail"] .row-name').click(button="right")
    with OneStep(desk):
        pick(desk, "Group", "#layer-menu")
    assert len({each["group"] for each in layers(desk)[:2]}) == 1
    desk.locator('.row-line[data-layer="tail"] .row-name').click(button="right")
    expect(lines(desk, "#layer-menu").locator("button", has_text="Ungroup")).to_be_enabled()


def test_looks_are_pasted_by_themselves(desk):
    choose(desk, "sail")
    desk.keyboard.press("Control+c")
    choose(desk, "tail", "words")
    desk.keyboard.press("Alt+v")
    sheet = desk.locator("dialog[open]")
    expect(sheet).to_contain_text("Paste what of Sail")
    expect(sheet).to_contain_text("Onto 2 layers")
    sheet.locator("label", has_text="Times").click()
    with OneStep(desk):
        desk.keyboard.press("Enter")
        settle(desk)
        for id in ("tail", "words"):
            found = layer(desk, id)
            assert found["properties"]["fill.colour"]["value"] == "#ff7a45"
            assert [each["kind"] for each in found["effects"]] == ["glow"]
            assert (found["start_s"], found["end_s"]) == (0, 3)
        assert layer(desk, "tail")["properties"]["position"]["value"] == [900, 360]


def test_keys_lanes_and_ends_of_bars_have_menus(desk):
    choose(desk, "sail")
    desk.locator('.row-line[data-layer="sail"] [data-fold]').click()
    key = desk.locator('.lane-line[data-lane="rotation"] [data-key="k0"]')
    expect(desk.locator(".key.off-frame")).to_have_count(1)
    key.click(button="right", force=True)
    with OneStep(desk):
        pick(desk, "Put on frames")
        assert layer(desk, "sail")["properties"]["rotation"]["keys"][0]["time_s"] == pytest.approx(
            0.4
        )
    key.click(button="right", force=True)
    with OneStep(desk):
        pick(desk, "Hold the value")
        assert layer(desk, "sail")["properties"]["rotation"]["keys"][0]["easing"] == "hold"
    desk.locator('.lane-line[data-lane="rotation"] .row-head').click(button="right")
    with OneStep(desk):
        pick(desk, "there and back")
        assert layer(desk, "sail")["properties"]["rotation"]["repeat"]["mode"] == "there-and-back"
    go_to(desk, "2s")
    desk.locator('.row-line[data-layer="tail"] [data-bar="end"]').click(button="right", force=True)
    with OneStep(desk):
        pick(desk, "End at the playhead")
        assert layer(desk, "tail")["end_s"] == pytest.approx(2.04)


def test_marks_effects_and_fields_have_menus(desk):
    desk.keyboard.press("Shift+Enter")
    settle(desk)
    desk.locator("#ruler [data-mark]").first.click(button="right", force=True)
    pick(desk, "Delete")
    assert desk.locator("#ruler [data-mark]").count() == 0
    choose(desk, "sail")
    tab(desk, "Looks")
    desk.locator('[data-effect="glow-1"] .card-head').click(
        button="right", position={"x": 60, "y": 4}
    )
    with OneStep(desk):
        pick(desk, "Put on all layers of this kind")
        assert [each["kind"] for each in layer(desk, "tail")["effects"]] == ["glow"]
    desk.locator('[data-effect="glow-1"] .card-head').click(
        button="right", position={"x": 60, "y": 4}
    )
    with OneStep(desk):
        pick(desk, "Rename")
        desk.keyboard.type("Halo")
        desk.keyboard.press("Enter")
        settle(desk)
        assert layer(desk, "sail")["effects"][0]["name"] == "Halo"
    expect(desk.locator('[data-effect="glow-1"] .name-button')).to_have_text("Halo")
    tab(desk, "Selection")
    field(desk, "opacity").locator(".label").click(button="right")
    expect(lines(desk).locator("button", has_text="Back to default")).to_be_disabled()


def test_layers_are_seen_alone_and_the_others_dimmed(desk):
    def colour(x, y):
        return desk.evaluate(
            """([x, y]) => { const c = document.getElementById('picture');
            const s = c.width / youngComet.editor.scene.width;
            return [...c.getContext('2d').getImageData(x * s, y * s, 1, 1).data].slice(0, 3); }""",
            [x, y],
        )

    whole = colour(900, 360)
    choose(desk, "sail")
    desk.keyboard.press("Alt+s")
    settle(desk)
    note = desk.locator(".seeing-note")
    expect(note).to_contain_text("Only Sail")
    alone = colour(900, 360)
    assert sum(alone) < sum(whole) - 100
    assert desk.locator('.row-line[data-layer="tail"].dimmed').count() == 1
    note.get_by_role("button", name="Dim the others").click()
    desk.wait_for_function("() => youngComet.editor.seeing.dims")
    settle(desk)
    assert sum(alone) < sum(colour(900, 360)) < sum(whole)
    note.get_by_role("button", name="Show all").click()
    settle(desk)
    expect(note).to_be_hidden()
    assert colour(900, 360) == whole
    desk.locator('.row-line[data-layer="tail"] [data-toggle="hidden"]').click(modifiers=["Alt"])
    settle(desk)
    expect(note).to_contain_text("Only Tail")
    assert not layer(desk, "tail")["hidden"]


def test_what_a_thing_is_called_finds_the_thing_before_its_help(desk):
    choose(desk, "sail")
    for words, first in (("render", "Render..."), ("glow", "Glow"), ("matte", "Matte")):
        desk.keyboard.press("Control+k")
        expect(desk.get_by_label("Find anything").locator("input")).to_be_focused()
        desk.keyboard.type(words)
        entries = desk.locator(".finder-list button")
        expect(entries.first).to_contain_text(first)
        expect(entries.first).not_to_contain_text("What is:")
        desk.keyboard.press("Escape")
        expect(desk.locator("dialog[open]")).to_have_count(0)
    desk.keyboard.press("Control+k")
    expect(desk.get_by_label("Find anything").locator("input")).to_be_focused()
    desk.keyboard.type("what is matte")
    expect(desk.locator(".finder-list button").first).to_contain_text("What is: Matte")
    desk.keyboard.press("Escape")


def test_keys_pressed_right_after_a_sheet_was_closed_are_heard(desk):
    """The closed sheet's field has the focus until the next picture of the page."""
    opened = desk.evaluate(
        """() => { const input = document.querySelector("dialog[aria-label='Find anything'] input");
        const sheet = input.closest("dialog");
        sheet.showModal(); input.focus(); sheet.close();
        input.dispatchEvent(new KeyboardEvent("keydown",
            { key: "k", code: "KeyK", ctrlKey: true, bubbles: true, cancelable: true }));
        return sheet.open; }"""
    )
    assert opened


def test_rows_are_searched_and_filtered(desk):
    desk.keyboard.press("Alt+f")
    desk.keyboard.type("ai")
    rows = desk.locator(".row-line[data-layer]")
    expect(rows).to_have_count(2)
    bar = desk.locator(".row-filter")
    expect(bar).to_contain_text("2 of 3")
    bar.get_by_role("button", name="Animated").click()
    expect(rows).to_have_count(1)
    bar.get_by_label("Search the rows by name").fill("nothing like it")
    expect(desk.locator("#rows")).to_contain_text("No layer is like that")
    desk.keyboard.press("Escape")
    expect(rows).to_have_count(3)
    desk.keyboard.press("Alt+f")
    go_to(desk, "0s")
    bar.get_by_role("button", name="At the playhead").click()
    expect(rows).to_have_count(2)


def test_playing_at_other_speeds_keeps_its_pace_and_goes_on_where_it_is(desk):
    desk.wait_for_function(
        "() => document.getElementById('filmstrip').dataset.ready === '1.000'", timeout=60_000
    )
    # When each frame was shown, so that a page that is held up by others is not measured.
    desk.evaluate(
        """() => { window.shown = []; youngComet.editor.on("time", () =>
            window.shown.push([performance.now(), youngComet.editor.time])); }"""
    )
    for speed, low, high in (("0.5", 0.25, 0.75), ("2", 1.2, 2.6)):
        desk.evaluate("youngComet.editor.goTo(0)")
        desk.get_by_label("Speed of playing").select_option(speed)
        desk.evaluate("youngComet.player.loop = false")
        desk.keyboard.press("Escape")
        desk.locator("#play").click()
        desk.wait_for_function("() => youngComet.editor.frame > 2")
        desk.evaluate("window.shown = []")
        desk.wait_for_timeout(700)
        first, *_, last = desk.evaluate("window.shown")
        desk.locator("#play").click()
        pace = (last[1] - first[1]) / ((last[0] - first[0]) / 1000)
        assert low < pace < high, (speed, pace)


def test_a_scene_says_by_a_switch_that_its_ground_is_transparent(desk):
    switch = desk.get_by_label("Transparent ground")
    expect(switch).not_to_be_checked()
    with OneStep(desk):
        switch.click()
        settle(desk)
        assert desk.evaluate("youngComet.editor.scene.ground") is None
    expect(desk.get_by_label("Ground colour")).to_be_hidden()


def test_a_layer_shows_what_it_hangs_on_and_offers_it(desk):
    choose(desk, "sail")
    desk.evaluate(
        """youngComet.editor.edit({kind: 'set-matte', scene: 'desk', layers: ['sail'], matte: 'words'})"""
    )
    settle(desk)
    assert desk.locator(".relation-threads path").count() == 1
    chip = desk.locator(".relation-chips .chip", has_text="matte: Words")
    chip.click()
    settle(desk)
    assert desk.evaluate("[...youngComet.editor.selected]") == ["words"]
    expect(desk.locator(".relation-chips .chip")).to_have_text(["matte of Sail"])
    row = desk.locator('.row-line[data-layer="words"]')
    hidden = layer(desk, "words")["hidden"]
    assert row.locator('[title="Hidden: others are shown through it"]').count() == (
        1 if hidden else 0
    )


def test_a_colour_is_typed_in_any_notation_and_read_on_what_lies_below(desk):
    choose(desk, "words")
    box = field(desk, "fill.colour").get_by_label("Fill colour as hex")
    with OneStep(desk):
        box.fill("hsl(120 100% 25%)")
        box.press("Enter")
        settle(desk)
        desk.wait_for_function(
            "() => youngComet.editor.layer('words').properties['fill.colour']?.value === '#008000'"
        )
        settle(desk)
    box.fill("no colour")
    box.press("Enter")
    expect(desk.locator(".toast-note.bad")).to_contain_text("expected a colour such as")
    field(desk, "fill.colour").locator("button.swatch").click()
    expect(desk.locator("#picker")).to_contain_text("oklch(")


def test_the_tour_is_taken_by_doing_and_the_help_is_searched(page, server):
    page.set_viewport_size({"width": 1280, "height": 800})
    page.goto(server.url + "/help")
    page.get_by_label("Search the help").fill("blurs what moves")
    assert page.locator("[data-entry]:visible").count() >= 1
    assert page.locator("[data-entry]:visible").count() < 6
    page.get_by_label("Search the help").fill("no such thing at all")
    expect(page.get_by_text("Nothing has that in it")).to_be_visible()
    page.get_by_role("button", name="Take the tour").click()
    page.wait_for_url("**/scenes/name-tag")
    settle(page)
    card = page.locator(".tour-card")
    expect(card).to_contain_text("Write another name")
    expect(card).to_contain_text("1 of 5")
    name = page.evaluate("youngComet.editor.layers.filter((l) => l.kind === 'text').at(-2).id")
    edit = """([layer, property, value]) => youngComet.editor.edit({kind: 'set-values',
        scene: youngComet.editor.sceneId, time_s: youngComet.editor.time,
        targets: [{layer, property, value}]})"""
    page.evaluate(edit, [name, "text", "Bo Sandpiper"])
    expect(card).to_contain_text("Done")
    expect(card).to_contain_text("Put it elsewhere")
    page.reload()
    settle(page)
    expect(card).to_contain_text("2 of 5")
    for step in range(3, 6):
        card.get_by_role("button", name="Skip").click()
        expect(card).to_contain_text(f"{step} of 5")
    card.get_by_role("button", name="Skip").click()
    expect(card).to_contain_text("That is the heart of it")
    card.get_by_role("button", name="Keep it").click()
    expect(card).to_be_hidden()
    page.reload()
    settle(page)
    expect(card).to_be_hidden()


def test_the_tours_project_goes_when_it_is_over(page, server):
    page.goto(f"{server.url}/help")
    page.get_by_role("button", name="Take the tour").click()
    page.wait_for_url("**/scenes/*")
    settle(page)
    made = page.evaluate("youngComet.editor.projectId")
    card = page.locator(".tour-card")
    for _ in range(5):
        card.get_by_role("button", name="Skip").click()
    card.get_by_role("button", name="Delete this project").click()
    page.wait_for_url(f"{server.url}/")
    projects = page.request.get(f"{server.url}/api/projects").json()
    assert made not in [each["id"] for each in projects]


def test_the_table_of_keys_adds_eases_and_deletes(desk):
    choose(desk, "sail")
    desk.keyboard.press("Alt+a")
    go_to(desk, "0.8s")
    desk.evaluate("window.dispatchEvent(new Event('open-key-table'))")
    table = desk.locator("dialog[open]")
    rows = table.locator("tbody tr")
    expect(rows).to_have_count(2)
    table.get_by_role("button", name="Keys at the playhead").click()
    expect(rows).to_have_count(3)
    rows.nth(0).get_by_label("Easing", exact=True).fill("hold")
    rows.nth(0).get_by_label("Easing", exact=True).press("Enter")
    settle(desk)
    rows.nth(0).get_by_label("Ease all of them so").click()
    settle(desk)
    keys = layer(desk, "sail")["properties"]["rotation"]["keys"]
    assert [each["easing"] for each in keys] == ["hold"] * 3
    rows.nth(1).get_by_label("Delete the key").click()
    expect(rows).to_have_count(2)
    assert len(layer(desk, "sail")["properties"]["rotation"]["keys"]) == 2
